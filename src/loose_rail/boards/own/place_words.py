"""How to find a part that is known by its job: what it looks like, and where along the current."""

from __future__ import annotations

from loose_rail.boards.kinds.registry import kind_words
from loose_rail.boards.profile import Board, Component
from loose_rail.vocabulary.keys import job_of, stage_of

LOOKS = {
    "electrolytic": "a can with a striped side",
    "ceramic": "a flat chip or a disc",
    "film": "a box of plastic, printed with its value",
    "y_capacitor": "a blue or brown disc across the gap",
    "resistor": "rings, or a chip with digits",
    "fusible_resistor": "rings on a grey or green body, a little off the board",
    "diode": "a body with a ring at one end, or three legs on a heat sink",
    "zener": "a small glass body with a ring",
    "tvs": "a body like a diode, printed with volts",
    "bridge": "four legs, + and ~ printed, often on a heat sink",
    "mosfet_n": "three legs on a heat sink, or a flat body with a tab",
    "mosfet_p": "a flat body with a tab, or eight legs",
    "mosfet_dual": "eight legs, four to a side",
    "npn": "three legs, a small body",
    "pnp": "three legs, a small body",
    "igbt": "three legs on a big heat sink",
    "controller": "a chip with six to twenty legs",
    "switcher": "a chip with seven or eight legs beside the small transformer",
    "regulator": "a small chip beside a coil",
    "shunt_reference": "three legs, like a small transistor, beside the optocoupler",
    "optocoupler": "four legs across the gap, white or black",
    "transformer": "a core with windings, taped",
    "inductor": "a coil on a ring or a drum",
    "common_mode_choke": "two windings on one core, right behind the inlet",
    "fuse": "glass, ceramic or a small box, with its current printed",
    "ntc": "a black or green disc, cracked when it has failed",
    "surge_suppressor": "a blue or red disc across the mains",
    "relay": "a box with its coil volts printed",
    "connector": "a plug with its name printed beside it",
}
"""What a kind of part looks like [P]."""
NEAR = {
    "standby": "at the small transformer",
    "main": "at the big transformer",
    "pfc": "at the coil before the big can",
    "boost": "at the coil before the big can",
    "led": "at the plug for the strips",
    "tubes": "at the tubes' transformers",
    "sustain": "at the sustain supply",
    "address": "at the address supply",
    "panel": "on the way to the panel's plug",
    "input": "near the inlet",
}
"""Where a stage is found on a board [P]."""


def where_to_look(board: Board, part: Component) -> str:
    """One line: what it looks like, and where it sits along the way of the current."""
    looks = LOOKS.get(part.kind, kind_words(part.kind))
    roles = [name for name, refs in board.roles.items() if part.ref in refs]
    stage = next((NEAR[stage_of(name)] for name in roles if stage_of(name) in NEAR), "")
    section = next((one for one in board.sections if one.id == part.section), None)
    near = stage or (f"at the {section.title.lower()} part" if section else "")
    behind = _BEHIND.get(next((job_of(name) for name in roles if job_of(name) in _BEHIND), ""), "")
    return ", ".join(words for words in (looks, near, behind) if words)


_BEHIND = {
    "bulk": "the biggest can",
    "reservoir": "behind its rectifier, the first can",
    "rectifier": "between the transformer and the first can",
    "sense": "from the switch's source to the ground of the hot side",
    "gate": "in the line to the switch's gate",
    "upper": "from the rail to the reference pin",
    "lower": "from the reference pin to ground",
    "supply": "beside its controller chip, a small can",
}
