"""What hangs on a plug, read off the board by itself: lamps on a tester, the supply pin of another
board."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.faults import Fault
from loose_rail.boards.kinds.kind import Effect
from loose_rail.boards.on_the_tester import on_the_tester
from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board

Floats = NDArray[np.float64]

PIN_OF = {"drags_main": ".main_supply", "drags_second": ".second_supply"}
"""How a board fails on a rail that is not its first, and the pin where that is read."""
HIGH_RAIL_VOLTS = 40.0
"""Rails above it feed output stages that are off by themselves, lower ones chips and lamps [P]."""
SUPPLY_OHMS, HIGH_SUPPLY_OHMS = 500.0, 50e3
"""What a sound board's supply pin reads to its ground by itself, through chips, dividers and
capacitors that have charged: a hundred ohms to some kilohms, and far more on a high rail [P]."""


def by_itself(board: Board, probe: Probe, rows: Sequence[Sequence[Fault]]) -> Floats:
    """What every row `(n_rows,)` reads at an `unplugged` probe, in SI units; +inf is OL.

    A board that drags its rail conducts to no end of what it is fed with; one that takes too much
    only once it works reads as a sound one.
    """
    if probe.mode.of_lamps:
        return on_the_tester(board, probe.part, rows)
    sound = sound_supply_ohms(board, probe.part)
    here = next((mode for mode, pin in PIN_OF.items() if probe.id.endswith(pin)), "")
    far = "far" in board.component(probe.part).params  # fed once another board works
    ohms = (
        [
            f.ohms
            for f in row
            if f.ref == probe.part
            and f.shorts_its_supply
            and (f.mode if f.mode in PIN_OF else "") == here
            and (far or f.effect is not Effect.OVERDRAW)
        ]
        for row in rows
    )
    return np.array([min([sound, *one]) for one in ohms])


def sound_supply_ohms(board: Board, part: str) -> float:
    """What the supply pin of a sound board reads to its ground by itself."""
    volts = next((load.volts for load in board.loads if load.part == part), 0.0)
    return HIGH_SUPPLY_OHMS if volts > HIGH_RAIL_VOLTS else SUPPLY_OHMS
