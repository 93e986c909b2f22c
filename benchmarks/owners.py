"""What the owner of a set notices of it, and what they say.

A set in which only a meter finds anything is carried to no counter: its figures are told apart.
"""

from __future__ import annotations

import numpy as np

from loose_rail.boards.faults import Fault
from loose_rail.boards.kinds.kind import Effect
from loose_rail.diagnosis.evidence.symptoms import Symptom, kinds, symptom_likelihood
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.model.predictions import dims, hums, starts_late
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.vocabulary.keys import is_ripple, ripple_of
from loose_rail.vocabulary.roles import BoardRole

SAID_NOTHING, MOST_SAID = 0.4, 3
"""How often a customer says nothing of a kind, and of how many kinds they speak at most [E]."""
RATE_MISCOUNTED_LOG = 0.25
RAIL_OFF_SHARE, RAIL_OFF_VOLTS = 0.06, 0.3
"""A rail this far from where it stood all these years may change something of what a set does; its
regulators take up what is less [E]."""
RIPPLE_TIMES, RIPPLE_VOLTS = 2.0, 0.25
"""AC volts on a rail that may show as bars, hum or a start that fails [E]."""
WITH_WARMTH = ("warm", "intermittent", "early")
"""Modes that show after some time of use, which the volts of a cold set don't tell."""
BULK_HUM = ripple_of(str(BoardRole.BULK))
"""A point of its own: `hums` says from where its AC volts are heard."""


def owner_notices(table: PredictionTable) -> bool:
    """Whether a table of one set beside its sound twin, row 0, has anything that its owner may see
    or hear without a meter: in use or in standby, while its fault is there."""
    shown = hums(table) | starts_late(table) | dims(table) | table.on_lamps
    shown |= np.array([any(_by_itself(fault) for fault in row.faults) for row in table.rows])
    for number, one in enumerate(table.candidates):
        if _in_daily_use(one):
            shown |= _stands_off(table, number, is_ripple(one.probe.observable))
    return bool(shown[1:].any())


def _by_itself(fault: Fault) -> bool:
    """What another board does wrong, and what comes and goes, with warmth or without."""
    return fault.effect is Effect.ELSEWHERE or fault.comes_and_goes or fault.mode in WITH_WARMTH


def _in_daily_use(one: Candidate) -> bool:
    """A rail at a plug, in a set as it stands in a living room."""
    probe, state = one.probe, one.state
    rail = probe.rail or (is_ripple(probe.observable) and probe.observable != BULK_HUM)
    return bool(probe.live and rail and state.main_cable and not state.lamp_watts)


def _stands_off(table: PredictionTable, number: int, ripple: bool) -> np.ndarray:
    low, high = np.nan_to_num(table.low[:, number]), np.nan_to_num(table.high[:, number])
    if ripple:
        return np.asarray(high > RIPPLE_TIMES * high[0] + RIPPLE_VOLTS)
    limit = RAIL_OFF_SHARE * abs(low[0]) + RAIL_OFF_VOLTS
    away = np.maximum(np.abs(low - low[0]), np.abs(high - high[0])) > limit
    return np.asarray(away | (table.hertz[:, number] > 0))


def complaint(table: PredictionTable, row: int, rng: np.random.Generator) -> list[Symptom]:
    """What the owner of this very set would say: of each family one thing, or nothing."""
    families: dict[str, list[str]] = {}
    for kind, entry in kinds().items():
        families.setdefault(entry.family, []).append(kind)
    found: list[Symptom] = []
    for family in rng.permutation(sorted(families)).tolist():
        members = families[family]
        if len(found) == MOST_SAID:
            break
        chances = np.array([symptom_likelihood(table, Symptom(k))[row] for k in members])
        if rng.random() < SAID_NOTHING:
            continue
        kind = members[int(rng.choice(len(members), p=chances / chances.sum()))]
        hertz = float(max(t[row] for t in table.ticking_hertz.values()))
        hertz *= float(np.exp(RATE_MISCOUNTED_LOG * rng.standard_normal()))
        found.append(Symptom(kind, hertz if kinds()[kind].rate and hertz else None))
    return found
