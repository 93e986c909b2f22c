"""Symptoms as evidence: what was seen and heard, against what each row would show and sound.

The vocabulary is data (data/symptoms.json): each kind has a family, words, and the chance of being
seen under the conditions that `features` works out from the live predictions, with room for owners
who did not look or count [E].
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import msgspec
import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.model.symptom_predicates import features_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.tables import shipped_table

Floats = NDArray[np.float64]

TICKS = "ticks"
RATE_SPREAD_LOG = 0.5
"""How far a counted rate is off, as the logarithm of a ratio [E]."""
MISTAKEN = 0.05
"""Chance that an owner says what is not so, or misses what is [E]."""


OF_A_DEAD_SET = frozenset(
    {
        *("indicator_none", "no_light", "dead_silent", "clicks_none", "never_starts"),
        *("sound_none", "backlight_none", "breaker_trips", "bang", "burnt_smell"),
    }
)
"""What a set no longer has that was repaired and comes on, or had once: another fault that is left
need not explain it."""


@dataclass(frozen=True, slots=True)
class Symptom:
    """One structured symptom; `hertz` is the ticking rate, None where it was not counted."""

    kind: str
    hertz: float | None = None


class SymptomKind(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A kind of symptom: how likely it is seen under each condition, the first that holds counts.

    `ask` is the question about it where its words do not do; `rate` and `seconds` say what may be
    counted with it; `outside` is its chance where the fault lies elsewhere; `mistaken` how often
    an owner says it and it is not so: what hands have tried is seldom imagined.
    """

    family: str
    words: str
    chances: tuple[tuple[str, float], ...]
    outside: float
    reason: str
    ask: str = ""
    rate: bool = False
    seconds: bool = False
    mistaken: float = MISTAKEN


class Vocabulary(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The table of symptoms: its kinds, and what free words mean (patterns and kinds; patterns of
    a rate and their hertz)."""

    source: str
    kinds: dict[str, SymptomKind]
    phrases: tuple[tuple[str, str], ...]
    rates: tuple[tuple[str, float], ...]


@cache
def vocabulary() -> Vocabulary:
    """The table of symptoms."""
    return shipped_table("diagnosis", "symptoms", Vocabulary)


def kinds() -> dict[str, SymptomKind]:
    """Every kind of symptom by its key."""
    return vocabulary().kinds


def symptom_words(kind: str) -> str:
    """A kind in plain words. Raises ValueError for a kind that is not in the vocabulary."""
    return _entry(kind).words


def family_of(kind: str) -> str:
    """The family that a kind belongs to: symptoms of one family say nearly the same thing."""
    return _entry(kind).family


def reason_of(kind: str) -> str:
    """Why a symptom tells anything."""
    return _entry(kind).reason


def _entry(kind: str) -> SymptomKind:
    entry = kinds().get(kind)
    if entry is None:
        raise ValueError(f"“{kind}” is not in the vocabulary of symptoms")
    return entry


def symptom_likelihood(table: PredictionTable, symptom: Symptom) -> Floats:
    """Likelihood of the symptom under every row, `(n_rows,)`. Raises ValueError for a kind
    that is not in the vocabulary."""
    entry = _entry(symptom.kind)
    features = features_of(table)
    chance = features.first_of(entry.chances)
    if entry.rate and symptom.hertz is not None:
        ticks = features.masks["ticking"]
        ratio = np.log(np.where(ticks, features.hertz, 1.0) / symptom.hertz) / RATE_SPREAD_LOG
        chance = np.where(ticks, chance * np.exp(-0.5 * ratio**2), 0.0)
    chance = table.blend_intermittent(chance)
    outside = np.isnan(table.low[:, 0])
    likely = entry.mistaken + (1.0 - 2 * entry.mistaken) * chance
    return np.where(outside, entry.outside, likely)
