"""How long a reservoir needs to drain by itself. It says when measuring is worth while; only the
measured volts decide."""

from __future__ import annotations

import math

from loose_rail.boards.bleeders import bleed_siemens
from loose_rail.boards.profile import Board
from loose_rail.boards.reservoirs import Reservoir
from loose_rail.judgement.limits import limit


def drain_seconds(board: Board, reservoir: Reservoir) -> float | None:
    """Seconds in which the resistors across a reservoir drain it from the highest volts it can have
    on this board, 30 s at least; None where nothing on the board is sure to do it in time.

    Source: RC discharge, t = R·C·ln(V/V_drained) (textbook); electrical reference section 11.
    """
    pins = board.component(reservoir.part).pins
    siemens = bleed_siemens(board, pins["plus"], pins["minus"])
    if not siemens:
        return None
    share = max(reservoir.most_volts / limit("drained_volts"), 1.0)
    seconds = max(limit("drain_least_seconds"), reservoir.farads / siemens * math.log(share))
    return seconds if seconds <= limit("drain_unsure_seconds") else None
