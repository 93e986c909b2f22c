"""Why: what speaks for and against a suspect, what would change the mind, what two differ in.

Weights are log-odds: the logarithm of the average likelihood of one piece of evidence under the
suspect over that under all the others, averaged by prior, so that a weight is about the evidence
and not about what came before it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.inference.likelihood import Column, column_of
from loose_rail.diagnosis.inference.posterior import log_prior, reading_logs
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.limits import limit
from loose_rail.kernel.quantities import engineering, span

Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]

TELLING_LOG_ODDS = 0.3
"""Weight in nats below which a reason is not told: a third likelier [E]."""
STRONG, SOME = 3.0, 1.0


@dataclass(frozen=True, slots=True)
class Reason:
    """One piece of evidence for or against: its name, and its weight in nats."""

    words: str
    log_odds: float

    @property
    def strength(self) -> str:
        """The weight in a word: strongly, clearly or weakly, for or against."""
        size = abs(self.log_odds)
        degree = "strongly" if size > STRONG else ("clearly" if size > SOME else "weakly")
        return f"{degree} {'for' if self.log_odds > 0 else 'against'}"


def suspect_rows(table: PredictionTable, suspect: str) -> Mask:
    """Rows in which the suspect's fault is there, as cause or as consequence."""
    return table.rows_with[suspect]


def log_odds(table: PredictionTable, suspects: Sequence[str], logs: Sequence[Floats]) -> Floats:
    """How strongly each piece of evidence speaks for each suspect, `(n_suspects, n_evidence)` nats,
    from its log-likelihoods `(n_rows,)`."""
    if not suspects or not logs:
        return np.zeros((len(suspects), len(logs)))
    own = np.array([suspect_rows(table, one) for one in suspects])
    prior = np.exp(log_prior(table))
    inside, outside = np.where(own, prior, 0.0), np.where(own, 0.0, prior)
    likely = np.exp(np.array(logs)).T
    inside /= inside.sum(axis=1, keepdims=True)
    outside /= outside.sum(axis=1, keepdims=True)
    return np.asarray(np.log((inside @ likely) / (outside @ likely)))


def reading_weights(
    table: PredictionTable, suspects: Sequence[str], evidence: Sequence[Evidence]
) -> list[dict[int, float]]:
    """Log-odds of each reading for each suspect, by the reading's number."""
    logs = list(reading_logs(table, evidence))
    numbers = [item.number for item in evidence]
    weights = log_odds(table, suspects, logs).tolist()
    return [dict(zip(numbers, own, strict=True)) for own in weights]


def reasons_for(
    table: PredictionTable,
    suspect: str,
    evidence: Sequence[Evidence],
    clues: Sequence[Clue],
    names: Mapping[int, str],
) -> list[Reason]:
    """What speaks for and against a suspect, the strongest first. `names` words each reading."""
    words = [clue.words for clue in clues] + [names[item.number] for item in evidence]
    logs = [clue.log for clue in clues] + list(reading_logs(table, evidence))
    weights = log_odds(table, [suspect], logs)[0].tolist()
    found = [Reason(said, weight) for said, weight in zip(words, weights, strict=True)]
    telling = [reason for reason in found if abs(reason.log_odds) >= TELLING_LOG_ODDS]
    return sorted(telling, key=lambda reason: -abs(reason.log_odds))


@dataclass(frozen=True, slots=True)
class Contrast:
    """A reading that two hypotheses see differently, and what each expects there."""

    candidate: Candidate
    first: str
    second: str


def predicted_words(table: PredictionTable, row: int, column: int) -> str:
    """What a row predicts at a candidate, in words and units."""
    low, high, hertz = (float(a[row, column]) for a in (table.low, table.high, table.hertz))
    unit = table.candidates[column].probe.unit
    if np.isnan(low):
        return "anything"
    if np.isinf(low):
        return "open (OL)"
    if hertz > 0:
        return f"{span(low, high, unit, 2)} pulsing"
    return engineering(low, unit) if low else f"0 {unit}"


def contrast(
    table: PredictionTable, first: int, second: int, usable: Sequence[int]
) -> Contrast | None:
    """Where two rows differ most among the usable candidates; None where they read alike."""
    best: tuple[float, int] | None = None
    for number in usable:
        column = column_of(table, number)
        distance = _distance(column, first, second) / (1.0 + column.probe.minutes)
        if distance > 0 and (best is None or distance > best[0]):
            best = (distance, number)
    if best is None:
        return None
    number = best[1]
    return Contrast(
        table.candidates[number],
        predicted_words(table, first, number),
        predicted_words(table, second, number),
    )


def _distance(column: Column, first: int, second: int) -> float:
    """How far two rows are apart at a candidate, in standard deviations, at most ten."""
    if column.outside[first] or column.outside[second]:
        return 0.0
    same_kind = column.ticks[first] == column.ticks[second]
    if not same_kind or column.open[first] != column.open[second]:
        return 10.0
    if column.open[first]:
        return 0.0
    gap = abs(float(column.y[first] - column.y[second])) / float(column.sigma[first])
    return min(gap, 10.0) if gap > limit("disagrees_sigmas") else 0.0


def would_clear(table: PredictionTable, row: int, usable: Sequence[int]) -> Contrast | None:
    """The reading that would clear a suspect: where it predicts furthest from a good board."""
    return contrast(table, row, 0, usable)


def leading_row(table: PredictionTable, suspect: str, probabilities: Floats) -> int:
    """The likeliest row of a suspect."""
    own = np.array([row.suspect == suspect for row in table.rows])
    return int(np.argmax(np.where(own, probabilities, -1.0)))
