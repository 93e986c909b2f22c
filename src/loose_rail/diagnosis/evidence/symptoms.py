"""Symptoms as evidence: what was seen and heard, against what each row would show and sound.

The vocabulary is data (data/symptoms.json): each kind has a family, words, and the chance of being
seen under the conditions that `features` works out from the live predictions, with room for owners
who did not look or count [E].
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

import msgspec
import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.model.predictions import PredictionTable
from loose_rail.diagnosis.model.symptom_predicates import features_of

Floats = NDArray[np.float64]

TICKS = "ticks"
NO_LIGHT = "no_light"
RATE_SPREAD_LOG = 0.5
MISTAKEN = 0.05


@dataclass(frozen=True, slots=True)
class Symptom:
    """One structured symptom; `hertz` is the ticking rate, None where it was not counted."""

    kind: str
    hertz: float | None = None


@cache
def vocabulary() -> dict[str, Any]:
    """The table of symptoms: kinds with their chances, phrases, rates."""
    data = resources.files("loose_rail.diagnosis").joinpath("data/symptoms.json").read_bytes()
    decoded: dict[str, Any] = msgspec.json.decode(data)
    return decoded


def kinds() -> dict[str, dict[str, Any]]:
    """Every kind of symptom by its key."""
    found: dict[str, dict[str, Any]] = vocabulary()["kinds"]
    return found


def symptom_words(kind: str) -> str:
    """A kind in plain words. Raises ValueError for a kind that is not in the vocabulary."""
    return str(_entry(kind)["words"])


def family_of(kind: str) -> str:
    """The family that a kind belongs to: symptoms of one family say nearly the same thing."""
    return str(_entry(kind)["family"])


def reason_of(kind: str) -> str:
    """Why a symptom tells anything."""
    return str(_entry(kind)["reason"])


def _entry(kind: str) -> dict[str, Any]:
    entry = kinds().get(kind)
    if entry is None:
        raise ValueError(f"“{kind}” is not in the vocabulary of symptoms")
    return entry


def symptom_likelihood(table: PredictionTable, symptom: Symptom) -> Floats:
    """Likelihood of the symptom under every row, `(n_rows,)`. Raises ValueError for a kind
    that is not in the vocabulary."""
    entry = _entry(symptom.kind)
    features = features_of(table)
    chance = features.first_of(entry["chances"])
    if entry.get("rate") and symptom.hertz is not None:
        ticks = features.masks["ticking"]
        ratio = np.log(np.where(ticks, features.hertz, 1.0) / symptom.hertz) / RATE_SPREAD_LOG
        chance = np.where(ticks, chance * np.exp(-0.5 * ratio**2), 0.0)
    chance = table.mixed(chance)
    outside = np.isnan(table.low[:, 0])
    likely = MISTAKEN + (1.0 - 2 * MISTAKEN) * chance
    return np.where(outside, float(entry["outside"]), likely)
