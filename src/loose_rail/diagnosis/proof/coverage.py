"""Which readings would show that something is still wrong, whatever it is: the points of the proof
that each fault in use would pull out of range, and the fewest more that cover them.

A repair that is proved by one good rail leaves every fault that this rail does not see.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Effect
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.model.predictions import noticed
from loose_rail.diagnosis.model.table import PredictionTable, moved
from loose_rail.judgement.limits import limit
from loose_rail.vocabulary.board_state import BoardState

MOST_MORE = 24
"""Readings beyond the rails; boards of the book need two to eight, a minute each [E]."""
SURE_SIGMAS = 1.5
"""So far beyond the edge a meter's error and the spread of parts bring no reading back [E]."""
ALIKE_SHARE, MOST_SIGMAS = 0.97, 12.0
"""Points that cover so much of what the best one does are alike; among them the clearer goes
first, up to so many deviations [E]."""
Flags = NDArray[np.bool_]


def covering(
    table: PredictionTable,
    taken: Sequence[Candidate],
    states: Collection[BoardState],
    fitted: Collection[str],
) -> list[Candidate]:
    """The fewest points more, best first, at which the faults that `taken` would not show are out
    of range; of live points in these states."""
    asked = [
        number
        for number, one in enumerate(table.candidates)
        if one.probe.live and one.probe.meter and one.state in states
    ]
    if not asked:
        return []
    keys = {one.key for one in taken}
    known = [k for k, one in enumerate(table.candidates) if one.key in keys]
    asks = np.where(_in_question(table, fitted), [row.prior for row in table.rows], 0.0)
    found: list[int] = []
    clear = np.column_stack([_clearness(table, number) for number in asked])
    for margin in (SURE_SIGMAS, 0.0):  # by points that can't be missed, then by what there is
        weights = asks.copy()
        for number in (*known, *found):
            weights[odd_at(table, number, margin)] = 0.0
        odd = np.column_stack([odd_at(table, number, margin) for number in asked])
        while len(found) < MOST_MORE:
            gained = weights @ odd
            if gained.max() <= 0:
                break
            alike = np.flatnonzero(gained >= ALIKE_SHARE * gained.max())
            shown = weights @ (odd[:, alike] * clear[:, alike])
            best = int(alike[np.argmax(shown)])
            found.append(asked[best])
            weights[odd[:, best]] = 0.0
    return [table.candidates[number] for number in found]


def odd_at(table: PredictionTable, number: int, margin: float = 0.0) -> Flags:
    """Rows `(n_rows,)` that read out of range at a live point, by so many deviations more than what
    is called out of range."""
    sigmas = limit("disagrees_sigmas") + margin
    return moved(table, number, sigmas) | (table.hertz[:, number] > 0)


def _clearness(table: PredictionTable, number: int) -> NDArray[np.float64]:
    """How far out of range each row reads at a live point `(n_rows,)`, in deviations: with its
    load on, a rail shows what it hides asleep."""
    column = column_of(table, number)
    gap = np.abs(column.y - column.y[0]) / column.sigma[0]
    return np.asarray(np.where(column.ticks, MOST_SIGMAS, np.minimum(gap, MOST_SIGMAS)))


def _in_question(table: PredictionTable, fitted: Collection[str]) -> Flags:
    """Rows with one steady fault that is noticed in use, of a part that was not just replaced; what
    comes and goes is a matter of the soak, and other boards are beside the question."""
    alone = [
        len(row.faults) == 1
        and not row.faults[0].comes_and_goes
        and row.faults[0].effect is not Effect.ELSEWHERE
        and row.faults[0].ref not in fitted
        for row in table.rows
    ]
    return np.asarray(np.array(alone) & noticed(table))
