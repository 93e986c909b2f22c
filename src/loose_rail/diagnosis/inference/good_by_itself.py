"""A part that is good by itself is not renewed, whatever the other readings say of it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.repeats import repeats
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Verdict

Floats = NDArray[np.float64]

TWICE = 2
"""Readings of a part by itself that say the same: no slip any more."""
CLEARS_TIMES = 20.0
"""A reading clears a part that foresees it so many times worse than a good one does [E]."""


def good_by_itself(
    table: PredictionTable, part: str, evidence: Sequence[Evidence], probabilities: Floats
) -> dict[str, int]:
    """The lifted readings of a part, by candidate, that found it good where what is thought to be
    wrong with it (`probabilities` `(n_rows,)`) would have shown, and how often they said so."""
    own = np.array([row.part == part for row in table.rows])
    if not own.any():
        return {}
    leader = int(np.argmax(np.where(own, probabilities, -1.0)))
    found: dict[str, int] = {}
    for item, times in zip(evidence, repeats(evidence), strict=True):
        column = column_of(table, table.index(item.candidate))
        if column.probe.part != part or not column.probe.lifted or not times:
            continue
        likely = column.likelihood(item.observation)
        shows = float(likely[0]) > CLEARS_TIMES * float(likely[leader])
        if shows and column.judged(item.observation).verdict is Verdict.AGREES:
            found[item.candidate] = times
        else:
            found.pop(item.candidate, None)
    return found
