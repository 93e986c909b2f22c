"""A sound supply is an answer too: good at this level, and what that leaves open.

Where every rail was read right in use, and what is left is no steady fault of the supply, no
further reading on it tells more. It is no proof: load, heat, and what comes and goes stay open.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.odd_parts import odd_parts
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Verdict
from loose_rail.judgement.limits import limit
from loose_rail.vocabulary.board_state import UNPLUGGED, Power
from loose_rail.vocabulary.keys import is_ripple, stage_of
from loose_rail.vocabulary.roles import BoardRole, Job, role

Floats = NDArray[np.float64]

LEAST_LISTED = 0.02
"""Parts below this share are not named [E]."""
OUTSIDE = -1
"""The last row is the fault outside the model."""
OUTSIDE_HERE = 0.5
"""How much of what is outside the list lies on this board [E]."""


@dataclass(frozen=True, slots=True)
class SupplyGood:
    """That the supply has no steady fault, with the probability that this is so; `sound` of it is
    that nothing is wrong anywhere. `elsewhere` are the parts behind connectors that may have the
    fault, `goes` those of the supply that may have one which comes and goes, each with its
    probability, the likeliest first. `unread` are rails that were not read in use yet, or not right
    the last time: it is no finding before they were. `odd` are parts of the supply that read out
    of their limits all the same: they are renewed, whatever else is found."""

    probability: float
    sound: float
    elsewhere: tuple[tuple[str, float], ...]
    goes: tuple[tuple[str, float], ...]
    unread: tuple[str, ...] = ()
    odd: tuple[str, ...] = ()

    @property
    def of_goes(self) -> float:
        """Probability of a fault of the supply that comes and goes."""
        return sum(share for _, share in self.goes)


def supply_good(
    table: PredictionTable, probabilities: Floats, evidence: Sequence[Evidence]
) -> SupplyGood | None:
    """The finding that the supply is good at this level, None where the evidence is not enough."""
    steady = table.on_this_board & ~table.comes_and_goes
    wrong = float(probabilities[steady].sum() + OUTSIDE_HERE * probabilities[OUTSIDE])
    if 1.0 - wrong < limit("supply_good_probability"):
        return None
    return SupplyGood(
        1.0 - wrong,
        float(probabilities[0]),
        _by_part(table, probabilities, table.on_other_boards),
        _by_part(table, probabilities, table.on_this_board & table.comes_and_goes),
        unread_rails(table, evidence),
        tuple(one.part for one in odd_parts(table, evidence)),
    )


def _by_part(
    table: PredictionTable, probabilities: Floats, rows: NDArray[np.bool_]
) -> tuple[tuple[str, float], ...]:
    shares: dict[str, float] = {}
    for number in np.flatnonzero(rows):
        part = table.rows[number].part
        shares[part] = shares.get(part, 0.0) + float(probabilities[number])
    listed = [(ref, p) for ref, p in shares.items() if p >= LEAST_LISTED]
    return tuple(sorted(listed, key=lambda item: (-item[1], item[0])))


def in_use(table: PredictionTable, number: int) -> bool:
    """Whether a candidate reads a rail in use: switched on, or asleep where it is the standby."""
    candidate = table.candidates[number]
    asleep = candidate.state.power is Power.STANDBY
    rail = candidate.probe.rail
    used = not asleep or rail == table.board.standby_rail
    return (
        candidate.probe.live and bool(rail) and used and not is_ripple(candidate.probe.observable)
    )


def unread_rails(table: PredictionTable, evidence: Sequence[Evidence]) -> tuple[str, ...]:
    """Rails that were not read in use, or not right the last time."""
    last: dict[str, bool] = {}
    for item in evidence:
        number = table.index(item.candidate)
        if in_use(table, number):
            judgement = column_of(table, number).judged(item.observation)
            last[table.candidates[number].probe.rail] = judgement.verdict is Verdict.AGREES
    return tuple(rail.id for rail in table.board.rails if not last.get(rail.id, False))


def told_by_ripple(table: PredictionTable) -> frozenset[int]:
    """The candidates that read the AC volts of a rail in use where a dried reservoir may show there
    and not to an ESR meter in place: a ceramic beside it takes over what the dry one leaves."""
    return table.once("told_by_ripple", lambda: frozenset(_told_by_ripple(table)))


def _told_by_ripple(table: PredictionTable) -> Iterator[int]:
    cans = rail_reservoirs(table.board)
    for number, one in enumerate(table.candidates):
        point = one.probe.observable
        if one.state.power is not Power.ON or not is_ripple(point):
            continue
        stage = stage_of(point)
        own = [r for j in HOLD for r in table.board.roles.get(role(stage, j), []) if r in cans]
        ripple = np.nan_to_num(table.high[:, number])
        moved = ripple > SHOWS_TIMES * ripple[0] + LEAST_AC
        if any(bool((moved & _hidden(table, ref)).any()) for ref in own):
            yield number


def _hidden(table: PredictionTable, ref: str) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` in which a can alone has dried and reads in place as a sound one."""
    column = table.column_or_none(f"{ref}.esr@{UNPLUGGED.key}")
    if column is None:
        return np.zeros(len(table.rows), dtype=bool)
    alone = np.array([r.part == ref and r.suspect == f"{ref}:dried" for r in table.rows])
    esr = table.low[:, column]
    return np.asarray(alone & table.single & (esr < SHOWS_TIMES * esr[0]))


HOLD = (Job.RESERVOIR, Job.OUTPUT)
SHOWS_TIMES = 2.0
"""An ESR or AC volts so many times a sound one's is seen whatever the meter [E]."""
LEAST_AC = 0.1
"""Volts: less moves nothing that the rail feeds [E]."""


def rail_reservoirs(board: Board) -> tuple[str, ...]:
    """The electrolytics that hold the bulk and the rails, by designator."""
    stages = dict.fromkeys(stage_of(p.observable) for p in board.live_points if p.rail)
    refs = [
        *board.roles.get(BoardRole.BULK, []),
        *(
            ref
            for stage in stages
            for job in HOLD  # the second: a converter's own, on a rail of its own
            for ref in board.roles.get(role(stage, job), [])
        ),
    ]
    kinds = {part.ref for part in board.components if is_a(part, Trait.ELECTROLYTIC)}
    return tuple(ref for ref in dict.fromkeys(refs) if ref in kinds)
