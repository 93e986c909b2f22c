"""Faults that come and go: how long to wait for one, what to watch, and what would bring it."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.evidence.soak import clean_share, hours_to_catch
from loose_rail.diagnosis.model.table import PredictionTable

Floats = NDArray[np.float64]

WORTH_A_SOAK = 0.08
"""Probability of a fault that comes and goes from which a soak is planned [E]."""
CATCH = 0.95
"""Chance of seeing it that a soak aims at [E]."""


@dataclass(frozen=True, slots=True)
class SoakPlan:
    """What to watch for how long, and what the wait is worth.

    `hours` brings the chance of having caught the fault to half, `looks` is how many independent
    looks catch it with 95 % while it is about.
    """

    probability: float
    watch: str
    hours: float
    looks: int
    parts: tuple[str, ...]
    words: str


def looks_to_catch(present_share: float, chance: float = CATCH) -> int:
    """Independent looks that catch a fault that is there for a share of the time."""
    return math.ceil(math.log(1.0 - chance) / math.log(1.0 - present_share))


def soak_plan(table: PredictionTable, probabilities: Floats) -> SoakPlan | None:
    """A proposal where a contact that comes and goes is a real suspect, else None."""
    goes = table.shares < 1.0
    probability = float(probabilities[goes].sum())
    if probability < WORTH_A_SOAK:
        return None
    rows = [int(k) for k in np.argsort(-np.where(goes, probabilities, -1.0))[:3]]
    worth = 0.1 * probabilities[rows[0]]  # of the first: of many alike none has a tenth of all
    rows = [row for row in rows if goes[row] and probabilities[row] > worth]
    watch = _most_telling(table, rows[0])
    parts = tuple(dict.fromkeys(table.rows[row].part for row in rows))
    looks = looks_to_catch(float(table.shares[rows[0]]))
    hours = hours_to_catch(0.5)
    words = (
        f"Clip the meter on {watch} and watch it; tap and flex at {', '.join(parts)}, then warm "
        f"and cool. {looks} looks catch it with 95 % while it is about; a soak of "
        f"{hours:.1f} h shows it with an even chance, 8 h with "
        f"{100 * (1 - clean_share(8.0)):.0f} %."
    )
    return SoakPlan(
        probability=probability, watch=watch, hours=hours, looks=looks, parts=parts, words=words
    )


def _most_telling(table: PredictionTable, row: int) -> str:
    """The live point that moves most, relative to sound, when the fault is there."""
    there = int(table.index_when_present[row])
    best, title = 0.0, table.candidates[0].probe.title
    for number, candidate in enumerate(table.candidates):
        if not candidate.probe.live or not candidate.probe.rail:
            continue
        sound = float(table.high[row, number])
        change = abs(float(table.high[there, number]) - sound) / max(abs(sound), 1.0)
        if change > best + 1e-6:
            best, title = change, candidate.probe.title
    return title
