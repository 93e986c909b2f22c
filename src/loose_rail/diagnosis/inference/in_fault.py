"""A reading that was taken while the fault was there."""

from __future__ import annotations

import numpy as np

from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.observation import Observation


def in_fault_clue(
    table: PredictionTable, candidate: str, seen: Observation, key: str, words: str
) -> Clue:
    """A reading that was taken while the fault was there: what comes and goes was gone then."""
    column = column_of(table, table.index(candidate))
    told = np.maximum(column.while_failing(seen), 1e-300)
    plain = np.maximum(column.likelihood(seen), 1e-300)
    goes = table.shares < 1.0
    log = np.where(goes, np.log(told) - np.log(plain), 0.0)
    reason = "read while the fault was there"
    return Clue(f"in-fault:{key}", f"in-fault:{key}", words, reason, log)
