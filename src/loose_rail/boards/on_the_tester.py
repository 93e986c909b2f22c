"""Lamps that are unplugged and tried on a tester: its volts tell whole strings, and lit tubes."""

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


TUBE_VOLTS = 600.0
"""What a cold-cathode tube of a panel burns at, some hundreds of volts [P]; a tester shows that it
is lit, and is read as that."""


def on_the_tester(board: Board, part: str, rows: Sequence[Sequence[Fault]]) -> Floats:
    """What a tester shows at lamps that are unplugged, `(n_rows,)` volts: the forward volts of the
    strings, less what shorted LEDs take off, or the burning volts of a tube; +inf where one stays
    dark."""
    stage = next(
        stage_of(role)
        for role, refs in board.roles.items()
        if job_of(role) in (Job.STRIP, Job.TUBES) and part in refs
    )
    own = board.stage(stage)
    tubes = board.component(part).kind == "tubes"
    sound = TUBE_VOLTS if tubes else TESTER_SHARE * (own.volts if own is not None else 0.0)
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
