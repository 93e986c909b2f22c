"""The mains that a board is on: what its profile says, the shop's own, or that of one job.

Every expectation, the lamp and the drain follow from it. An adapter stands between: a board that
one feeds is not touched. A board whose bulk capacitor is not made for it keeps its own.
"""

from __future__ import annotations

import math
import re

import msgspec

from loose_rail.boards.profile import Board, Mains
from loose_rail.boards.typical import part_volts
from loose_rail.boards.worst_volts import place_share
from loose_rail.vocabulary.roles import BoardRole

LEAST_VOLTS, MOST_VOLTS = 85.0, 270.0
"""Where wide-range supplies work [P]."""
SIXTY_HERTZ_BELOW_VOLTS = 150.0
"""The frequency that usually goes with it, where it is not said [P]."""
HERTZ = (50.0, 60.0)
_TYPED = re.compile(r"(\d{2,3})\s*V?\s*(?:[/,\s]\s*(\d{2})\s*(?:Hz)?)?", re.IGNORECASE)


def mains_of(volts: float, hertz: float | None = None) -> Mains | None:
    """The mains of so many volts, and of the frequency that goes with it unless it is said; None
    where there is no such mains."""
    own = 60.0 if volts < SIXTY_HERTZ_BELOW_VOLTS else 50.0
    found = Mains(float(volts), own if hertz is None else float(hertz))
    return found if LEAST_VOLTS <= volts <= MOST_VOLTS and found.hertz in HERTZ else None


def mains_in(text: str) -> Mains | None:
    """The mains that was typed: 120, 230 V, 100/50, 220 V 60 Hz; None for anything else."""
    match = _TYPED.fullmatch(text.strip())
    if match is None:
        return None
    return mains_of(float(match[1]), float(match[2]) if match[2] else None)


def takes(board: Board, mains: Mains) -> bool:
    """Whether the bulk capacitor stands the peak of a mains at its highest."""
    bulk = board.component(board.roles[BoardRole.BULK][0])
    return part_volts(bulk) >= math.sqrt(2.0) * mains.volts * place_share("mains")


def on_mains(board: Board, mains: Mains | None) -> Board:
    """The board on another mains, where it is not fed by an adapter and its bulk stands it."""
    if mains is None or board.adapter_fed or not takes(board, mains):
        return board
    return msgspec.structs.replace(board, mains=mains)
