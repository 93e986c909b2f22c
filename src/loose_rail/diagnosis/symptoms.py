"""Symptoms as evidence: what was seen and heard, against what each row would show and sound.

A structured symptom has a kind and, for ticking, a rate. Likelihoods are computed from the live
predictions, with room for customers who did not count [E].
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.predictions import PredictionTable

Floats = NDArray[np.float64]

TICKS = "ticks"
NO_LIGHT = "no_light"
DEAD_SILENT = "dead_silent"
KINDS = (TICKS, NO_LIGHT, DEAD_SILENT)

IN_USE = "on/cable/direct"
PLUGGED_IN = "standby/cable/direct"
RATE_SPREAD_LOG = 0.5
MISTAKEN = 0.05
LIT_VOLTS = 4.0
TOO_FAST_TO_HEAR_APART_HERTZ = 6.0


@dataclass(frozen=True, slots=True)
class Symptom:
    """One structured symptom; `hertz` is the ticking rate, None where it was not counted."""

    kind: str
    hertz: float | None = None


def symptom_likelihood(table: PredictionTable, symptom: Symptom) -> Floats:
    """Likelihood of the symptom under every row, `(n_rows,)`. Raises ValueError for a kind
    that is not in the vocabulary."""
    if symptom.kind == TICKS:
        chance = _ticks(table, symptom.hertz)
    elif symptom.kind == NO_LIGHT:
        chance = _stays_dark(table)
    elif symptom.kind == DEAD_SILENT:
        chance = _stays_dark(table) * (1.0 - _ticks(table, None))
    else:
        raise ValueError(f"“{symptom.kind}” is not in the vocabulary of symptoms")
    outside = np.isnan(table.low[:, 0])
    likely = MISTAKEN + (1.0 - 2 * MISTAKEN) * chance
    return np.where(outside, 0.4, likely)


def _ticks(table: PredictionTable, hertz: float | None) -> Floats:
    rates = np.maximum(table.ticking_hertz[IN_USE], table.ticking_hertz[PLUGGED_IN])
    ticks = (rates > 0) & (rates < TOO_FAST_TO_HEAR_APART_HERTZ)
    if hertz is None:
        return np.where(ticks, 1.0, 0.0)
    ratio = np.log(np.where(ticks, rates, 1.0) / hertz) / RATE_SPREAD_LOG
    return np.where(ticks, np.exp(-0.5 * ratio**2), 0.0)


def _stays_dark(table: PredictionTable) -> Floats:
    """The set lights only if its standby rail holds: the highest reading in use stays low."""
    for number, candidate in enumerate(table.candidates):
        if (
            candidate.probe.observable == table.board.standby_point
            and candidate.state.key == IN_USE
        ):
            return np.where(table.low[:, number] < LIT_VOLTS, 1.0, 0.0)
    return np.full(len(table.rows), 0.5)
