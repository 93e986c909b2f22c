"""Which of several parts that failed together is named: the one that is known to be bad.

Rows with the same faults are one state of the board, told from several causes. Which reservoir of
an aged board dried first is nobody's question; which one has been measured bad is.
"""

from __future__ import annotations

from collections.abc import Collection

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.model.table import PredictionTable

Floats = NDArray[np.float64]


def _twins(table: PredictionTable) -> list[list[int]]:
    """Groups of rows with the same faults, gathered once for a table."""
    if "twins" not in table.by_rows:
        groups: dict[frozenset[str], list[int]] = {}
        for number, row in enumerate(table.rows):
            if len(row.faults) > 1:
                groups.setdefault(frozenset(f.key for f in row.faults), []).append(number)
        table.by_rows["twins"] = [group for group in groups.values() if len(group) > 1]
    found: list[list[int]] = table.by_rows["twins"]
    return found


def found_first(table: PredictionTable, chances: Floats, parts: Collection[str]) -> Floats:
    """The chances `(n_rows,)`, with those of one state of the board gathered at the row that names
    a part known to be bad; their sum is as before."""
    if not parts:
        return chances
    moved = chances.copy()
    for group in _twins(table):
        named = [number for number in group if table.rows[number].part in parts]
        if named:
            total = float(chances[group].sum())
            moved[group] = 0.0
            moved[named] = total / len(named)
    return moved


KNOWN, UNREAD = 0.9, 0.3
"""What the readings of a part have to prove it bad with, and what those may hold at most, together,
that were not read and only may have taken it with them [E]."""
TAKEN_BY_ANOTHER = ("fuse", "resistor", "fusible_resistor")
"""Kinds that mostly go for another part: that they are bad names no cause."""


def read_first(table: PredictionTable, chances: Floats, read: Collection[str]) -> Floats:
    """The chances `(n_rows,)`, with a part that was read and is bad before those that were not
    read and may have taken it with them; `read` are the parts with a reading."""
    kinds = {one.ref: one.kind for one in table.board.components}
    holds = {
        ref: np.array([any(f.ref == ref for f in row.faults) for row in table.rows])
        for ref in read
        if kinds.get(ref, TAKEN_BY_ANOTHER[0]) not in TAKEN_BY_ANOTHER
    }
    bad = [ref for ref, rows in holds.items() if chances[rows].sum() >= KNOWN]
    if not bad:
        return chances
    own = np.array([row.part in bad for row in table.rows])
    unread = np.array([row.part not in read for row in table.rows])
    unread &= np.any([holds[ref] for ref in bad], axis=0)
    mine, spare = float(chances[own].sum()), float(chances[unread].sum()) - UNREAD
    if spare <= 0.0 or mine <= 0.0:
        return chances
    moved = np.where(unread, chances * (UNREAD / (UNREAD + spare)), chances)
    return np.where(own, chances * (1.0 + spare / mine), moved)
