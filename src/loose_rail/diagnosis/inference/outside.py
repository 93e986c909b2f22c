"""A fault outside the model is a last word, said where several readings have no explanation."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Verdict
from loose_rail.vocabulary.keys import is_ripple

Floats = NDArray[np.float64]

UNEXPLAINED_READINGS = 3
"""So many points that nothing on the list explains make it the word [E]."""
MOST_BEFORE = (0.05, 0.08, 0.12)
"""What it may hold until then, by how many points have none [E]."""
MOST_BESIDE_A_FIND = (0.02, 0.03, 0.05)
MOST_AFTER_A_FIND = 0.1
"""The same once a listed part measured bad by itself, a new one cured the set, or a rail came back
with the boards off; and what it may hold then at all [E]."""
EXPLAINS_TIMES = 3.0
"""A reading is explained where the suspects foresee it so many times better than chance would."""


def outside_last(
    table: PredictionTable,
    chances: Floats,
    evidence: Sequence[Evidence],
    logs: Floats,
    found: bool = False,
    named: str = "",
) -> Floats:
    """The chances `(n_rows,)`, with what is outside the model held back until enough points have no
    explanation. `logs` `(n_evidence, n_rows)` are the log-likelihoods of the readings; `found`
    whether a listed part is known to be bad; `named` how a part of no list showed that it is
    (seen, bad by itself, cured), which is more than readings without an explanation."""
    outside = np.isnan(table.low[:, 0])
    held = float(chances[outside].sum())
    known = found or recovers_alone(table, evidence)
    limits = MOST_BESIDE_A_FIND if known else MOST_BEFORE
    if named in SHOWN_BY_A_PART:
        return at_least(chances, outside, SHOWN_BY_A_PART[named])
    if named or held <= limits[0] or held >= 1.0:
        return chances
    odd = len(unexplained(table, chances, evidence, logs))
    if odd < UNEXPLAINED_READINGS:
        most = limits[odd]
    else:
        most = MOST_AFTER_A_FIND if found else 1.0
    if held <= most:
        return chances
    kept = (1.0 - most) / (1.0 - held)
    return np.where(outside, chances * (most / held), chances * kept)


def recovers_alone(table: PredictionTable, evidence: Sequence[Evidence]) -> bool:
    """Whether a rail that was wrong in the set is right without its boards: few faults of a supply
    do that, and those on the list are foreseen."""
    wrong, right = set[str](), set[str]()
    for item in evidence:
        number = table.index(item.candidate)
        candidate = table.candidates[number]
        rail, state = candidate.probe.rail, candidate.state
        if not rail or not candidate.probe.live or is_ripple(candidate.probe.observable):
            continue
        verdict = column_of(table, number).judged(item.observation).verdict
        if state.main_cable and not state.without and verdict is Verdict.DISAGREES:
            wrong.add(rail)
        elif verdict is Verdict.AGREES and (not state.main_cable or state.without):
            right.add(rail)
    return bool(wrong & right)


SHOWN_BY_A_PART = {"bad": 0.95, "cured": 0.9}
"""What a part of no list holds at least that read bad by itself, or cured the set: its readings are
foreseen by no row, and it is bad all the same [E]."""


def at_least(chances: Floats, rows: NDArray[np.bool_], least: float) -> Floats:
    """The chances with no less than `least` for some rows together, the others scaled to it."""
    held = float(chances[rows].sum())
    if held >= least or held <= 0.0:
        return chances
    return np.where(rows, chances * (least / held), chances * ((1.0 - least) / (1.0 - held)))


OF_DEGREE_FROM = 0.5
"""A reading somewhere between is explained where suspects that go as far as they like hold so much:
a load that drags leaves any volts of a rail, which foresees each of them little [E]."""


def _of_degree(table: PredictionTable, item: Evidence, known: Floats) -> bool:
    column = column_of(table, table.index(item.candidate))
    if not column.probe.live or not math.isfinite(item.observation.centre):
        return False
    reach = column.may_reach(abs(item.observation.centre))
    return float(known[reach].sum()) > OF_DEGREE_FROM * float(known.sum())


def unexplained(
    table: PredictionTable, chances: Floats, evidence: Sequence[Evidence], logs: Floats
) -> tuple[str, ...]:
    """Candidates whose reading no suspect foresees, the later readings at each point counting; what
    lies across the same two nets is one point."""
    known = np.where(np.isnan(table.low[:, 0]), 0.0, chances)
    found: dict[int, tuple[str, bool]] = {}
    for item, log in zip(evidence, logs, strict=True):
        if not log.any():
            continue
        number = table.index(item.candidate)
        flat = column_of(table, number).flat(item.observation)
        likely = float(known @ np.exp(log)) / float(known.sum())
        odd = likely < EXPLAINS_TIMES * flat
        odd = odd and not _of_degree(table, item, known)
        found[table.place_of[number]] = item.candidate, odd
    return tuple(key for key, odd in found.values() if odd)
