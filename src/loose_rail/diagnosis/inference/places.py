"""Readings at one place share what this board has there: another value than the list says moves
them all alike, and the second of them tells nothing new of it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.likelihood import Column, column_of
from loose_rail.diagnosis.inference.predicted import OTHER_VALUE_LOG, OTHER_VALUE_SHARE, Make
from loose_rail.diagnosis.inference.severity import severities_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.spread import scaled, student4
from loose_rail.kernel.observation import Form
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]
Place = tuple[frozenset[str], MeterMode]

MOST_KEPT = 64
"""Places whose answer is kept: a job is assessed again and again with the same readings."""
MOST_SIGMAS, STEPS = 2.5, 21
"""How far, in standard deviations, and how finely the shared shift is weighed."""


def agreement_of_places(table: PredictionTable, evidence: Sequence[Evidence], make: Make) -> Floats:
    """What is added to the log-likelihoods of single readings, `(n_rows,)`, because readings across
    the same two nets share the shift of another value; nothing where no place was read twice."""
    found = np.zeros(len(table.rows))
    for same in _places(table, evidence).values():
        if len(same) > 1:
            key = (make, *((item.candidate, item.observation) for _, item in same))
            if key not in table.kept:
                if len(table.kept) >= MOST_KEPT:
                    table.kept.clear()
                table.kept[key] = _of_place(table, same, make)
            found = found + table.kept[key]
    return found


def _places(
    table: PredictionTable, evidence: Sequence[Evidence]
) -> dict[Place, list[tuple[Column, Evidence]]]:
    found: dict[Place, list[tuple[Column, Evidence]]] = {}
    for item in evidence:
        column = column_of(table, table.index(item.candidate))
        if item.observation.form is Form.VALUE and column.by_make:
            probe = column.probe
            place = (frozenset((probe.plus, probe.minus)), probe.mode)
            found.setdefault(place, []).append((column, item))
    return found


def _of_place(
    table: PredictionTable, same: Sequence[tuple[Column, Evidence]], make: Make
) -> Floats:
    shifts = OTHER_VALUE_LOG * np.linspace(-MOST_SIGMAS, MOST_SIGMAS, STEPS)
    weights = np.exp(-0.5 * (shifts / OTHER_VALUE_LOG) ** 2)
    weights /= weights.sum()
    width = shifts[1] - shifts[0]
    listed = np.zeros(len(table.rows))
    moved = np.zeros((len(table.rows), STEPS))
    single = np.zeros(len(table.rows))
    applies = np.ones(len(table.rows), dtype=bool)
    for column, item in same:
        y = float(scaled(item.observation.low, column.probe.mode))
        flat = column.gross * column.flat(item.observation)
        plain = (1.0 - column.gross) * student4((y - column.y) / column.sigma) / column.sigma + flat
        wide = np.hypot(column.sigma, width)[:, None]
        gaps = (y - column.y[:, None] - shifts[None, :]) / wide
        other = (1.0 - column.gross)[:, None] * student4(gaps) / wide + flat[:, None]
        share = np.where(column.fixed, 0.0, OTHER_VALUE_SHARE[make])
        listed += np.log(plain)
        moved += np.log(other)
        single += np.log((1.0 - share) * plain + share * (other @ weights))
        applies &= column.steady & ~column.fixed & ~column.outside
    moves = OTHER_VALUE_SHARE[make]
    of_other = np.logaddexp.reduce(moved + np.log(weights), axis=1)
    joint = np.logaddexp(np.log1p(-moves) + listed, np.log(moves) + of_other)
    known = severities_of(table)
    for column, _ in same:
        if column.degrees is not None:
            applies[known.rows[column.degrees[2]]] = False
    return np.where(applies, joint - single, 0.0)
