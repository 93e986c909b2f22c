"""Electrolytics of one age that dried together: each has done so as far as it came.

The table holds a few degrees of such a pair, both alike. What the ESR of one of them reads hangs on
that one alone: it is weighed over all degrees of that part, as they are usual of it by itself.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Effect, Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.diagnosis.model.table import PredictionTable

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class DriedTogether:
    """Rows in which a part dried beside others, those in which it did by itself, and how usual each
    of the latter is; the last sum to 1."""

    together: NDArray[np.intp]
    alone: NDArray[np.intp]
    usual: Floats

    def each_by_itself(self, density: Floats) -> Floats:
        """The densities `(n_rows,)` of an ESR of the part."""
        found = density.copy()
        found[self.together] = float(self.usual @ density[self.alone])
        return found


def dried_together(table: PredictionTable, part: str) -> DriedTogether | None:
    """The rows of a part that dried beside others; None where there are none such."""
    key = f"dried together:{part}"
    if key not in table.by_rows:
        table.by_rows[key] = _found(table, part)
    found: DriedTogether | None = table.by_rows[key]
    return found


def _found(table: PredictionTable, part: str) -> DriedTogether | None:
    if not part or not is_a(table.board.component(part), Trait.ELECTROLYTIC):
        return None
    together: list[int] = []
    alone: list[int] = []
    for number, row in enumerate(table.rows):
        if all(fault.effect is Effect.SCALE for fault in row.faults) and any(
            fault.ref == part for fault in row.faults
        ):
            (together if len(row.faults) > 1 else alone).append(number)
    if not together or not alone:
        return None
    usual = np.array([table.rows[number].prior for number in alone])
    return DriedTogether(np.array(together), np.array(alone), usual / usual.sum())
