"""Which readings would show that something is still wrong, whatever it is: the points of the proof
that each fault in use would pull out of range, and the fewest more that cover them.

A repair that is proved by one good rail leaves every fault that this rail does not see.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Effect
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.model.predictions import noticed
from loose_rail.diagnosis.model.table import PredictionTable, moved
from loose_rail.judgement.limits import limit
from loose_rail.vocabulary.board_state import BoardState

MOST_MORE = 24
"""Readings beyond the rails; boards of the book need two to eight, a minute each [E]."""
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
    odd = np.column_stack([odd_at(table, number) for number in asked])
    weights = np.where(_in_question(table, fitted), [row.prior for row in table.rows], 0.0)
    keys = {one.key for one in taken}
    seen = np.zeros(len(table.rows), dtype=bool)
    for number in range(len(table.candidates)):
        if table.candidates[number].key in keys:
            seen |= odd_at(table, number)
    weights[seen] = 0.0
    found: list[Candidate] = []
    while len(found) < MOST_MORE:
        gained = weights @ odd
        best = int(np.argmax(gained))
        if gained[best] <= 0:
            break
        found.append(table.candidates[asked[best]])
        weights[odd[:, best]] = 0.0
    return found


def odd_at(table: PredictionTable, number: int) -> Flags:
    """Rows `(n_rows,)` that read out of range at a live point: so far off that it is no doubt."""
    return moved(table, number, limit("disagrees_sigmas")) | (table.hertz[:, number] > 0)


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
