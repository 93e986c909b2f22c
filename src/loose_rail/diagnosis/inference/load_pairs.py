"""A rail that was wrong with a board plugged, and right without it.

A supply that is weak gives way from some load on, and nobody knows which. That this load lies just
between the set with a board and the set without it is the less likely the less that board takes: so
the pair speaks for the board that was unplugged, more the smaller its usual share.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Verdict
from loose_rail.kernel.quantities import component_value
from loose_rail.vocabulary.board_state import BoardState, Power
from loose_rail.vocabulary.roles import Job

Floats = NDArray[np.float64]

LIGHT, USUAL_STRING_AMPS = "light", "0.4"
"""Strips hang on the supply as boards do."""
DEAD_WITH_IT, MOST_OF_ALL = 0.15, 0.6
"""A weak supply sags under one board of several; that its rail is dead with it and right without is
so much rarer, unless that board takes most of all [E]."""
LEAST_SHARE = 0.06
"""However little a board takes usually, a weak supply may have been at its end [E]."""
USUAL_SHARE = 0.3
"""What a reading between its degrees is reckoned with in any case: a pair that says less than that
says nothing."""


def agreement_of_load_pairs(table: PredictionTable, evidence: Sequence[Evidence]) -> Floats:
    """What is added for such pairs to the log-likelihoods of single readings, `(n_rows,)` nats:
    nothing for faults of the board itself, for what comes and goes, and where there is no pair."""
    found = np.zeros(len(table.rows))
    for part, dead in _unplugged(table, evidence).items():
        share = max(load_share(table.board, part), LEAST_SHARE)
        times = share / USUAL_SHARE
        if dead and share < MOST_OF_ALL:
            times = min(times, DEAD_WITH_IT)
        if times < 1.0:
            others = [
                row.share >= 1.0
                and bool(row.faults)
                and all(fault.ref != part for fault in row.faults)
                for row in table.rows
            ]
            found += np.where(others, np.log(times), 0.0)
    return found + _died_with_the_cable(table, evidence)


DIES_BELOW_SHARE, RESERVOIR_DIES = 0.15, 0.3
"""A rail that is dead with the main board and right without it: what has dried or lost its
capacitor ripples and sags under that load; that it lets the rail die is the rarer case [E]."""
WORN = frozenset({"dried", "open", "joint"})


def _died_with_the_cable(table: PredictionTable, evidence: Sequence[Evidence]) -> Floats:
    """What is added for a rail that is dead on the main cable and right by itself, `(n_rows,)`."""
    dead, right = set[str](), set[str]()
    for item in evidence:
        number = table.index(item.candidate)
        candidate, column = table.candidates[number], column_of(table, number)
        if not candidate.probe.rail:
            continue
        sound = float(np.nan_to_num(column.low[0]))
        agrees = column.judged(item.observation).verdict is Verdict.AGREES
        dies = sound > 1.0 and item.observation.high < DIES_BELOW_SHARE * sound
        if candidate.state.power is Power.FORCED and agrees:
            right.add(candidate.probe.id)
        elif candidate.state.power is Power.ON and dies:
            dead.add(candidate.probe.id)
    found = np.zeros(len(table.rows))
    for probe in dead & right:
        rail = next(c.probe.rail for c in table.candidates if c.probe.id == probe)
        own = table.board.roles.get(f"{rail}.{Job.RESERVOIR}", [])
        causes = [row.faults[0] if row.faults else None for row in table.rows]
        worn = [one is not None and one.ref in own and one.mode in WORN for one in causes]
        found += np.where(worn, np.log(RESERVOIR_DIES), 0.0)
    return found


def load_share(board: Board, part: str) -> float:
    """What a board usually takes of all that hangs on the supply in use."""
    watts = dict.fromkeys((load.part for load in board.loads), 0.0)
    watts[LIGHT] = sum(
        stage.volts * component_value(stage.params.get("amps") or USUAL_STRING_AMPS)
        for stage in board.stages
        if stage.kind == "led"
    )
    for load in board.loads:
        watts[load.part] += load.volts * load.on_amps
    return watts.get(part, 0.0) / max(sum(watts.values()), 1e-9)


def _unplugged(table: PredictionTable, evidence: Sequence[Evidence]) -> dict[str, bool]:
    """Boards without which a rail was read right that was wrong and low with them, and whether it
    was dead then."""
    judged: dict[tuple[str, BoardState], bool] = {}
    dead = set[str]()
    for item in evidence:
        number = table.index(item.candidate)
        candidate, column = table.candidates[number], column_of(table, number)
        if not candidate.probe.rail or candidate.state.power is not Power.ON:
            continue
        verdict = column.judged(item.observation).verdict
        low = item.observation.centre < float(np.nan_to_num(column.low[0]))
        if verdict is Verdict.AGREES or (verdict is Verdict.DISAGREES and low):
            judged[candidate.probe.id, candidate.state] = verdict is Verdict.AGREES
            sound = float(np.nan_to_num(column.low[0]))
            if not candidate.state.without and item.observation.high < DIES_BELOW_SHARE * sound:
                dead.add(candidate.probe.id)
    found: dict[str, bool] = {}
    for (probe, state), right in judged.items():
        if state.without and right and judged.get((probe, replace(state, without=""))) is False:
            found[state.without] = found.get(state.without, False) or probe in dead
    return found
