"""The history of a set as evidence: it tilts how likely each fault was to begin with.

A fact multiplies the rate of the causing part by its kind, its job or its mode (data/history.json,
each with a reason). Facts about the outlet and the reset speak about "nothing wrong" as well.
"""

from __future__ import annotations

from functools import cache

import msgspec
import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.model.hypotheses import NOTHING, OUTSIDE
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.tables import shipped_table

Floats = NDArray[np.float64]


class HistoryFact(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A fact of the history: what it multiplies the rates of causes by, the first mark that fits a
    cause counts; `nothing` and `outside` are those of the rows with no part."""

    words: str
    reason: str
    times: tuple[tuple[str, float], ...]
    nothing: float = 1.0
    outside: float = 1.0


class _History(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    source: str
    facts: dict[str, HistoryFact]
    phrases: tuple[tuple[str, str], ...]


@cache
def _table() -> _History:
    return shipped_table("diagnosis", "history", _History)


def history_facts() -> dict[str, HistoryFact]:
    """Every fact by its key."""
    return _table().facts


def history_phrases() -> tuple[tuple[str, str], ...]:
    """Patterns of free words and the facts they propose."""
    return _table().phrases


def history_words(fact: str) -> str:
    """A fact in plain words. Raises KeyError for an unknown one."""
    return history_facts()[fact].words


def history_times(table: PredictionTable, fact: str) -> Floats:
    """What a fact multiplies each row's prior by, `(n_rows,)`. Raises KeyError."""
    entry = history_facts()[fact]
    found = np.ones(len(table.rows))
    for mark, times in reversed(entry.times):  # the first that fits counts: it is written last
        found[[mark in marks for marks in table.cause_marks]] = times
    found[[row.suspect == NOTHING for row in table.rows]] = entry.nothing
    found[[row.suspect == OUTSIDE for row in table.rows]] = entry.outside
    return found
