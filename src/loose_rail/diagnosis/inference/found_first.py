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
that were not read, only may have taken it with them, and would lead [E]."""
TAKEN_BY_ANOTHER = ("fuse", "resistor", "fusible_resistor")
"""Kinds that mostly go for another part: that they are bad names no cause."""


def read_first(table: PredictionTable, chances: Floats, read: Collection[str]) -> Floats:
    """The chances `(n_rows,)`, with a part that was read and is bad before those that were not
    read and may have taken it with them; `read` are the parts with a reading."""
    holds, causes = _holds(table), _causes(table)
    bad = [ref for ref in read if ref in holds and chances[holds[ref]].sum() >= KNOWN]
    if not bad:
        return chances
    own, seen = np.isin(causes, bad), np.isin(causes, list(read))
    unread = np.zeros(len(causes), dtype=bool)
    unread[np.concatenate([holds[ref] for ref in bad])] = True
    unread &= ~seen
    mine, theirs = float(chances[own].sum()), float(chances[unread].sum())
    spare = theirs - UNREAD
    if spare <= 0.0 or not 0.0 < mine < theirs:
        return chances  # it leads as it is
    moved = np.where(unread, chances * (UNREAD / (UNREAD + spare)), chances)
    return np.where(own, chances * (1.0 + spare / mine), moved)


def _causes(table: PredictionTable) -> NDArray[np.str_]:
    """The part that each row names, gathered once for a table."""
    if "causes" not in table.by_rows:
        table.by_rows["causes"] = np.array([row.part for row in table.rows])
    found: NDArray[np.str_] = table.by_rows["causes"]
    return found


def rows_with(table: PredictionTable) -> dict[str, NDArray[np.int_]]:
    """Numbers of the rows in which each part has a fault, gathered once for a table."""
    if "with_fault" not in table.by_rows:
        rows: dict[str, list[int]] = {}
        for number, row in enumerate(table.rows):
            for ref in {fault.ref for fault in row.faults}:
                rows.setdefault(ref, []).append(number)
        table.by_rows["with_fault"] = {ref: np.array(own) for ref, own in rows.items()}
    found: dict[str, NDArray[np.int_]] = table.by_rows["with_fault"]
    return found


def _holds(table: PredictionTable) -> dict[str, NDArray[np.int_]]:
    """The same without the kinds that mostly go for another part."""
    if "holds" not in table.by_rows:
        named = {c.ref for c in table.board.components if c.kind not in TAKEN_BY_ANOTHER}
        every = rows_with(table)
        table.by_rows["holds"] = {ref: own for ref, own in every.items() if ref in named}
    found: dict[str, NDArray[np.int_]] = table.by_rows["holds"]
    return found
