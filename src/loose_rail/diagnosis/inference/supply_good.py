"""A sound supply is an answer too: good at this level, and what that leaves open.

Where every rail was read right in use and what is left does not show on a supply at all, no further
reading on it tells more. It is no proof: load, heat, and what comes and goes stay open.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Verdict
from loose_rail.judgement.limits import limit
from loose_rail.vocabulary.board_state import Power

Floats = NDArray[np.float64]

LEAST_LISTED = 0.02
"""Boards below this share of what is left are not named [E]."""


@dataclass(frozen=True, slots=True)
class SupplyGood:
    """That nothing is wrong with the supply, with the probability that this is so; `sound` of it is
    that nothing is wrong anywhere. `elsewhere` are the parts behind connectors that may have the
    fault, with their probabilities, the likeliest first."""

    probability: float
    sound: float
    elsewhere: tuple[tuple[str, float], ...]


def supply_good(
    table: PredictionTable, probabilities: Floats, evidence: Sequence[Evidence]
) -> SupplyGood | None:
    """The finding that the supply is good at this level, None where the evidence is not enough."""
    beyond = beyond_the_supply(table)
    probability = float(probabilities[beyond].sum())
    if probability < limit("supply_good_probability") or not _every_rail_right(table, evidence):
        return None
    shares: dict[str, float] = {}
    for number in np.flatnonzero(beyond):
        part = table.rows[number].part
        if part:
            shares[part] = shares.get(part, 0.0) + float(probabilities[number])
    listed = [(ref, p) for ref, p in shares.items() if p >= LEAST_LISTED]
    return SupplyGood(
        probability,
        float(probabilities[0]),
        tuple(sorted(listed, key=lambda item: (-item[1], item[0]))),
    )


def beyond_the_supply(table: PredictionTable) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` that read like a sound board at every point: nothing wrong, or something on
    another board that no supply shows."""
    return np.asarray(
        table.indistinguishable_from(0) & ~table.on_this_board & ~table.comes_and_goes
    )


def _every_rail_right(table: PredictionTable, evidence: Sequence[Evidence]) -> bool:
    """Whether each rail of this board was read in use, the last time as a good board's."""
    board = table.board
    last: dict[str, bool] = {}
    for item in evidence:
        candidate = table.candidates[table.index(item.candidate)]
        asleep = (
            candidate.state.power is Power.STANDBY and candidate.probe.rail != board.standby_rail
        )
        if not candidate.probe.live or not candidate.probe.rail or asleep:
            continue
        judgement = column_of(table, table.index(item.candidate)).judged(item.observation)
        last[candidate.probe.rail] = judgement.verdict is Verdict.AGREES
    return all(last.get(rail.id, False) for rail in board.rails)
