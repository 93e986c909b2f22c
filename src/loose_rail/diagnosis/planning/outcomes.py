"""The readings that could come at each candidate, as a few outcomes with their chances per row.

The outcomes of a candidate are predictions of the rows themselves, grouped so that two outcomes are
further apart than readings scatter. Ranking by a dozen outcomes is within a per cent of exact
integration and makes the whole ranking one matrix product.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.inference.likelihood import Column, column_of
from loose_rail.diagnosis.inference.severity import severities_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.limits import limit
from loose_rail.judgement.spread import PRINT_TIMES, asks_for_print, scaled, student4_below
from loose_rail.kernel.quantities import component_value

Floats = NDArray[np.float64]

MOST_OUTCOMES = 14
"""Outcomes of a reading that are told apart: more cost time and tell nothing."""
SAME_OUTCOME_SIGMAS = 1.5
"""Predictions nearer than this are one outcome [E]."""
COARSER = 2
"""Every second degree will do for planning."""
DIFFERENT_KIND = 36.0
"""Squared distance between a number and an open or pulsing reading: six sigmas."""


def outcome_chances(table: PredictionTable, weights: Floats) -> Floats:
    """Chance of every outcome at every candidate, `(n_rows, n_candidates, MOST_OUTCOMES)`.

    `weights` `(n_rows,)` say which rows choose the outcomes first; unused outcomes stay at 0.
    """
    n_rows, n_candidates = table.low.shape
    chances = np.zeros((n_rows, n_candidates, MOST_OUTCOMES))
    order = np.argsort(-weights)
    for number in range(n_candidates):
        column = column_of(table, number)
        if asks_for_print(table.board, column.probe):
            chances[:, number, :2] = _beside_its_print(column)
            continue
        distances, centres = _distances_to_centres(column, order)
        likely = _shares(distances)
        _over_degrees(column, centres, likely)
        n = likely.shape[1]
        gross = column.gross[:, None]
        likely = (1.0 - gross) * likely + gross / n
        likely[column.outside] = 1.0 / n
        chances[:, number, :n] = likely
    return table.blend_intermittent(chances)


def _beside_its_print(column: Column) -> Floats:
    """Chances `(n_rows, 2)` that a resistor reads above what is printed on it, and that it does
    not: above it only where it is bad itself, as far as what lies beside it lets it."""
    part = column.board.component(column.probe.part)
    bad = np.array([any(f.ref == part.ref for f in row.faults) for row in column.table.rows])
    printed = float(scaled(PRINT_TIMES * component_value(part.value), column.probe.mode))
    reaches = 1.0 - student4_below((printed - column.y) / column.sigma)
    above = np.where(bad & column.open, 1.0, np.where(bad & column.steady, reaches, 0.0))
    above = (1.0 - column.gross) * above + 0.5 * column.gross
    above[column.outside] = 0.5
    return np.stack([above, 1.0 - above], axis=1)


def _shares(distances: Floats) -> Floats:
    likely = np.exp(-0.5 * np.minimum(distances, 200.0)) + 1e-30
    return np.asarray(likely / likely.sum(axis=-1, keepdims=True))


def _over_degrees(column: Column, centres: list[int], likely: Floats) -> None:
    """Rows whose fault has any degree reach several outcomes, by the weights of its degrees."""
    if column.degrees is None:
        return
    known = severities_of(column.table)
    middle, matters = column.degrees[0][:, ::COARSER], column.degrees[2]
    weights = known.weights[:, ::COARSER] / known.weights[:, ::COARSER].sum(axis=1, keepdims=True)
    distances = np.full((*middle.shape, len(centres)), DIFFERENT_KIND)
    for place, row in enumerate(centres):
        if column.steady[row]:
            distances[:, :, place] = ((middle - column.y[row]) / column.sigma[row]) ** 2
    mean = (weights[:, :, None] * _shares(distances)).sum(axis=1)
    likely[known.rows[matters]] = mean[matters]


def _distances_to_centres(column: Column, order: NDArray[np.intp]) -> tuple[Floats, list[int]]:
    """Squared distances `(n_rows, n_outcomes)` from every row to the centres chosen greedily, and
    the rows that are centres."""
    free = ~column.outside
    found: list[Floats] = []
    centres: list[int] = []
    for row in order:
        if not free[row] or len(found) == MOST_OUTCOMES:
            continue
        distance = _squared_distance(column, int(row))
        found.append(distance)
        centres.append(int(row))
        free &= distance > SAME_OUTCOME_SIGMAS**2
    return np.stack(found, axis=1), centres


def _squared_distance(column: Column, row: int) -> Floats:
    if column.open[row]:
        return np.where(column.open, 0.0, DIFFERENT_KIND)
    if not column.ticks[row]:
        steady = ((column.y - column.y[row]) / column.sigma[row]) ** 2
        return np.where(column.steady, steady, DIFFERENT_KIND)
    width = column.tick_sigma[row]
    with np.errstate(invalid="ignore", divide="ignore"):
        rate = np.log(column.hertz / column.hertz[row]) / limit("spread_rate_log")
        ticking = (
            ((column.low - column.low[row]) / width) ** 2
            + ((column.high - column.high[row]) / width) ** 2
            + rate**2
        )
    return np.where(column.ticks, ticking, DIFFERENT_KIND)
