"""A make-up as a recipe: blocks with their volts, the printed connectors, loads and signals.

Net names inside are the composer's; every pin of every printed connector has its own label and
number. A pin whose label is not understood hangs on a net of its own and gives no instruction.
"""

from __future__ import annotations

from loose_rail.boards.compose import Recipe
from loose_rail.boards.mains import mains_of
from loose_rail.boards.own.lamp_blocks import lamps, plasma
from loose_rail.boards.own.make_up import MakeUp, OwnBoard
from loose_rail.boards.own.printed import connectors, demands, wake
from loose_rail.boards.own.sketch import Sketch
from loose_rail.boards.own.supply_blocks import power


def recipe_of(own: OwnBoard, make: MakeUp) -> Recipe:
    """The recipe of a board that is known by what is seen and printed."""
    sketch = Sketch(own, make)
    power(sketch)
    lamps(sketch)
    plasma(sketch)
    legends = connectors(sketch)
    demands(sketch, legends)
    mains = mains_of(own.mains_volts)
    adapter = make.source == "adapter"
    return Recipe(
        schema="loose-rail/recipe/1",
        id=own.number,
        title=f"Board {own.number}",
        maker="",
        aliases=[],
        topology=topology_of(make),
        mains={
            "volts": 0.0 if adapter else own.mains_volts,
            "hertz": mains.hertz if mains else 50.0,
        },
        blocks=sketch.blocks,
        connectors=legends,
        wake=wake(sketch, legends),
        signals=sketch.signals,
        loads=sketch.loads,
    )


def topology_of(make: MakeUp) -> str:
    """The make-up in one line of words."""
    words = []
    if make.source == "adapter":
        words.append("adapter")
    elif make.single:
        words.append("two-level-flyback" if make.two_level else "single-flyback")
    else:
        words.append("standby-flyback")
    words += ["boost"] if make.source == "boost" else []
    if make.main and not make.single:
        words.append("resonant" if make.resonant else "main-flyback")
    words += ["led"] if make.led else []
    words += ["ccfl"] if make.tubes else []
    words += ["sustain"] if make.sustain else []
    return "+".join(words)
