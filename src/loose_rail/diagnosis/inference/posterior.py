"""Bayes' rule over the rows, and the rows gathered into suspects."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.soft_evidence import Clue, joint_log, symptom_clue
from loose_rail.diagnosis.evidence.symptoms import Symptom
from loose_rail.diagnosis.inference.isolation import with_doubt
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.table import PredictionTable

Floats = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Suspect:
    """Rows that a person would call one suspect, with their probability together."""

    key: str
    title: str
    part: str
    probability: float


def log_prior(table: PredictionTable) -> Floats:
    """Logarithms of the prior probabilities, `(n_rows,)`."""
    return table.log_prior


def log_likelihoods(table: PredictionTable, evidence: Sequence[Evidence]) -> Floats:
    """Log-likelihood of every piece of evidence, `(n_evidence, n_rows)`."""
    rows = np.zeros((len(evidence), len(table.rows)))
    for number, item in enumerate(evidence):
        column = column_of(table, table.index(item.candidate))
        rows[number] = np.log(column.likelihood(item.observation))
    return rows


def posterior(
    table: PredictionTable,
    evidence: Sequence[Evidence],
    symptoms: Sequence[Symptom],
    clues: Sequence[Clue] = (),
) -> Floats:
    """Probabilities of the rows `(n_rows,)` after all evidence; they sum to 1."""
    told = [*(symptom_clue(table, symptom) for symptom in symptoms), *clues]
    logs = log_likelihoods(table, evidence)
    log = log_prior(table) + logs.sum(axis=0)
    log = log + joint_log(told, len(table.rows))
    weights = np.exp(log - log.max())
    return with_doubt(table, np.asarray(weights / weights.sum()), evidence, logs, told)


def suspects_of(table: PredictionTable, probabilities: Floats) -> list[Suspect]:
    """Suspects in order of probability, the most probable first (ties by key)."""
    index = table.suspects
    sums = index.sums(probabilities).tolist()
    found = [Suspect(*one) for one in zip(index.keys, index.titles, index.parts, sums, strict=True)]
    return sorted(found, key=lambda suspect: (-suspect.probability, suspect.key))


def leading(
    table: PredictionTable, weights: Floats, most: int, least: float = 0.0
) -> tuple[Suspect, ...]:
    """The first few suspects of weights `(n_rows,)` that need not sum to 1, with shares from
    `least` up; none where nothing is left."""
    index = table.suspects
    sums = index.sums(weights)
    total = float(sums.sum())
    if total <= 0:
        return ()
    shares = sums / total
    first = sorted(np.flatnonzero(shares >= least), key=lambda k: (-shares[k], index.keys[k]))
    return tuple(
        Suspect(index.keys[k], index.titles[k], index.parts[k], float(shares[k]))
        for k in first[:most]
    )


def bad_probabilities(table: PredictionTable, probabilities: Floats) -> dict[str, float]:
    """Probability that each part is bad, as cause or as consequence; they sum to more than 1."""
    refs, bad = table.bad_parts
    return dict(zip(refs, (bad @ probabilities).tolist(), strict=True))


def part_probabilities(table: PredictionTable, probabilities: Floats) -> dict[str, float]:
    """Probability that the cause lies in each part."""
    sums: dict[str, float] = {}
    index = table.suspects
    for part, probability in zip(index.parts, index.sums(probabilities).tolist(), strict=True):
        if part:
            sums[part] = sums.get(part, 0.0) + probability
    return sums
