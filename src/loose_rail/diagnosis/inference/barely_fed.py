"""A start resistor that has gone to megohms: what still comes through it is less than its chip
draws before it starts, so the chip's supply stands still at some volts and is not tried again."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Effect
from loose_rail.diagnosis.inference.predicted import Predicted
from loose_rail.vocabulary.keys import job_of, stage_of
from loose_rail.vocabulary.roles import Job

Floats = NDArray[np.float64]
NEARLY_OPEN = 0.3
"""How often a start resistor that is told as open still passes microamperes: high-ohm parts on the
bulk mostly climb to megohms before their film parts [E]."""
LEAST, MOST = 0.04, 0.9
"""Of a sound chip's volts: below that it is not fed at all, above it starts."""


def barely_fed(at: Predicted, volts: float) -> Floats:
    """What is added to the densities `(n_rows,)` of a steady value at a chip's supply, which a
    start resistor that is nearly open still feeds."""
    probe, sound = at.probe, abs(float(np.nan_to_num(at.low[0])))
    stage = stage_of(probe.observable)
    here = probe.live and job_of(probe.observable) == Job.VCC
    if not here or not LEAST * sound < volts < MOST * sound:
        return np.zeros(len(at.low))
    feeds = {
        ref
        for name, refs in at.board.roles.items()
        if stage_of(name) == stage and job_of(name) == Job.START
        for ref in refs
    }
    rows = at.table.rows
    opens = [any(f.ref in feeds and f.effect is Effect.OPEN for f in r.faults) for r in rows]
    return np.where(opens, NEARLY_OPEN / ((MOST - LEAST) * sound), 0.0)
