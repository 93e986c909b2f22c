"""What is right before a stage and not behind it.

On a board whose parts are known, every reading says that by itself. On a composed one a fault that
may have gone to any degree foresees every volt of every rail, each by another degree: then the pair
says more than its two readings. What lies between them, or hangs behind, stands; of the rest a slip
of one of the two is left.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.profile import Board, Stage
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.hypotheses import Hypothesis
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Verdict
from loose_rail.vocabulary.board_state import BoardState
from loose_rail.vocabulary.keys import stage_of

Floats = NDArray[np.float64]

ELSEWHERE = 0.04
"""What a fault that is not between the two counts still: one of them was a slip, or the one before
was read at a good moment [E]."""
LOW_SHARE = 0.8
"""A rail below this share of its sound volts is low."""


def agreement_between(table: PredictionTable, evidence: Sequence[Evidence]) -> Floats:
    """What is added to the log-likelihoods of single readings, `(n_rows,)` nats."""
    found = np.zeros(len(table.rows))
    board = table.board
    if board.known_by != "own":
        return found
    right, low = _judged(table, evidence)
    for stage in board.stages:
        fed_right = any((stage.source, state) in right for name, state in low if name == stage.id)
        if stage.source and fed_right:
            own = _behind(board, stage)
            here = np.array([_is_there(board, row, own, stage) for row in table.rows])
            found += np.where(here, 0.0, np.log(ELSEWHERE))
    return found


Read = set[tuple[str, BoardState]]


def _judged(table: PredictionTable, evidence: Sequence[Evidence]) -> tuple[Read, Read]:
    """Stages whose output was read right, and those whose was low, each with the state."""
    right, low = set[tuple[str, BoardState]](), set[tuple[str, BoardState]]()
    for item in evidence:
        number = table.index(item.candidate)
        candidate, column = table.candidates[number], column_of(table, number)
        if not candidate.probe.rail or not candidate.state.plugged:
            continue
        at = (stage_of(candidate.probe.observable), candidate.state)
        verdict = column.judged(item.observation).verdict
        sound = float(np.nan_to_num(column.low[0]))
        if verdict is Verdict.AGREES:
            right.add(at)
        elif verdict is Verdict.DISAGREES and item.observation.centre < LOW_SHARE * sound:
            low.add(at)
    return right - low, low - right


def _behind(board: Board, stage: Stage) -> set[str]:
    """The stage and what it feeds."""
    found = {stage.id}
    for _ in board.stages:
        found |= {one.id for one in board.stages if one.source in found}
    return found


def _is_there(board: Board, row: Hypothesis, stages: set[str], stage: Stage) -> bool:
    """Whether what a row has is between the two points or behind them."""
    if not row.faults:
        return True  # the sound board, and what is outside the list, are judged by each reading
    for fault in row.faults:
        roles = {stage_of(job) for job, refs in board.roles.items() if fault.ref in refs}
        loads = {load.rail for load in board.loads if load.part == fault.ref}
        asks = stage.signal and fault.mode in (f"no_{stage.signal}", "elsewhere")
        drags = fault.loads_a_rail and bool(loads & stages)
        only_here = not fault.loads_a_rail or loads <= stages
        if roles & stages or asks or (drags and only_here):
            return True
    return False
