"""Lamps that are unplugged and tried on a strip tester: its volts tell whole strings."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.faults import Fault
from loose_rail.boards.kinds.kind import Effect
from loose_rail.boards.profile import Board
from loose_rail.vocabulary.keys import job_of, stage_of
from loose_rail.vocabulary.roles import Job

Floats = NDArray[np.float64]

TESTER_SHARE = 0.93
"""Of a string's working volts: what it takes for the few milliamps of a tester [P]."""


def on_the_tester(board: Board, part: str, rows: Sequence[Sequence[Fault]]) -> Floats:
    """What a strip tester shows at lamps that are unplugged, `(n_rows,)` volts: the forward volts
    of the strings, less what shorted LEDs take off; +inf where a string stays dark."""
    stage = next(
        stage_of(role)
        for role, refs in board.roles.items()
        if job_of(role) == Job.STRIP and part in refs
    )
    own = board.stage(stage)
    sound = TESTER_SHARE * (own.volts if own is not None else 0.0)
    return np.array([sound * _left([f for f in row if f.ref == part]) for row in rows])


def _left(faults: Sequence[Fault]) -> float:
    """What is left of a string's volts; +inf where it is open."""
    share = 1.0
    for fault in faults:
        if fault.effect in (Effect.OPEN, Effect.WEAK):
            return float("inf")
        if fault.effect is Effect.SCALE:
            share *= fault.value_scale
    return share
