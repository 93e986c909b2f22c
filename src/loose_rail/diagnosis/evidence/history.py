"""The history of a set as evidence: it tilts how likely each fault was to begin with.

A fact multiplies the rate of the causing part by its kind, its job or its mode (data/history.json,
each with a reason). Facts about the outlet and the reset speak about "nothing wrong" as well.
"""

from __future__ import annotations

from functools import cache
from importlib import resources
from typing import Any

import msgspec
import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.model.hypotheses import NOTHING, OUTSIDE, Hypothesis
from loose_rail.diagnosis.model.predictions import PredictionTable

Floats = NDArray[np.float64]


@cache
def _table() -> dict[str, Any]:
    data = resources.files("loose_rail.diagnosis").joinpath("data/history.json").read_bytes()
    decoded: dict[str, Any] = msgspec.json.decode(data)
    return decoded


def history_facts() -> dict[str, dict[str, Any]]:
    """Every fact by its key."""
    found: dict[str, dict[str, Any]] = _table()["facts"]
    return found


def history_phrases() -> list[tuple[str, str]]:
    """Patterns of free words and the facts they propose."""
    return [(pattern, fact) for pattern, fact in _table()["phrases"]]


def history_words(fact: str) -> str:
    """A fact in plain words. Raises KeyError for an unknown one."""
    return str(history_facts()[fact]["words"])


def history_times(table: PredictionTable, fact: str) -> Floats:
    """What a fact multiplies each row's prior by, `(n_rows,)`. Raises KeyError."""
    entry = history_facts()[fact]
    return np.array([_times(table, row, entry) for row in table.rows])


def _times(table: PredictionTable, row: Hypothesis, entry: dict[str, Any]) -> float:
    if row.suspect == NOTHING:
        return float(entry.get("nothing", 1.0))
    if row.suspect == OUTSIDE:
        return float(entry.get("outside", 1.0))
    cause = row.faults[0]
    kind = table.board.component(cause.ref).kind
    jobs = {
        role.rpartition(".")[2] for role, refs in table.board.roles.items() if cause.ref in refs
    }
    own = {"any", f"kind:{kind}", f"mode:{cause.mode}", *(f"role:{job}" for job in jobs)}
    for name, times in entry["times"]:
        if name in own:
            return float(times)
    return 1.0
