"""A point that was watched and stood still: what ticks there does not."""

from __future__ import annotations

import numpy as np

from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.observation import Observation

SEEN = 0.9
"""Chance that whoever calls a point steady has not met a value between two ticks [E]."""


def still_clue(table: PredictionTable, candidate: str, seen: Observation, words: str) -> Clue:
    """A reading that was called steady: what of its likelihood is one value between two ticks
    counts no more."""
    column = column_of(table, table.index(candidate))
    likely = np.maximum(column.likelihood(seen), 1e-300)
    caught = np.minimum(column.caught_between(abs(seen.centre)) / likely, 1.0)
    key = f"still:{candidate}"
    return Clue(key, key, words, "what ticks is not steady", np.log1p(-SEEN * caught))
