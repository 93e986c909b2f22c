"""Which reading next: expected information about the suspect against minutes and risk.

Score = EIG − ½·λ·cost with λ the best ratio of information to cost on offer (solver notes: the rule
that won). Information is about the suspect, not about severities or consequences of it. Candidates
that safety refuses, or that a person can't reach, are not ranked.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.probes import LIFT_MINUTES
from loose_rail.boards.profile import Board, Side
from loose_rail.boards.reservoirs import reservoirs_beside
from loose_rail.diagnosis.model.predictions import Candidate, PredictionTable
from loose_rail.judgement.safety import (
    SafetyFacts,
    reference_refusals,
    state_refusals,
)
from loose_rail.judgement.transitions import minutes_between
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power

Floats = NDArray[np.float64]

RISK_MINUTES_HOT_LIVE = 1.5
RISK_MINUTES_NO_LIMITER = 1.5
RISK_MINUTES_FORCED = 1.0
"""What a risk is worth in bench minutes; set so that a safe probe of equal worth goes first [E]."""
LEAST_INFORMATION_NATS = 0.004
LEFT_OUT_OF_DOUBT = 0.01
REPEAT_SHARE = 0.3
"""A second reading at the same point shares the first one's slips: less than half of it is new."""


@dataclass(frozen=True, slots=True)
class Offer:
    """One ranked candidate: information in nats, cost in minutes, score."""

    candidate: Candidate
    column: int
    information: float
    minutes: float
    score: float


class Planner:
    """Outcome chances prepared once per board; `rank` is then a few milliseconds."""

    def __init__(self, table: PredictionTable, chances: Floats) -> None:
        self.table = table
        self.chances = chances
        suspects = table.suspects
        self._order = np.argsort(suspects.of_row, kind="stable")
        self._groups = suspects.of_row[self._order]
        n_rows, n_candidates, _ = chances.shape
        self._sorted = chances[self._order].reshape(n_rows, -1).astype(np.float32)
        self._entropies = -_plogp(chances[self._order]).sum(axis=2)
        self._shape = (-1, n_candidates, chances.shape[2])
        self._last: tuple[Floats, Floats] | None = None
        self._average: Floats | None = None
        self._parts: tuple[Floats, tuple[str, ...]] | None = None
        self._keys = [candidate.key for candidate in table.candidates]
        self._may = [
            c.probe.meter and not (c.probe.live and reference_refusals(table.board, c.probe))
            for c in table.candidates
        ]
        self._between: dict[tuple[BoardState, BoardState, int], float] = {}
        self._beside: dict[str, tuple[str, ...]] = {}

    def part_rows(self) -> tuple[Floats, tuple[str, ...]]:
        """Which rows hold each part bad, `(n_parts, n_rows)` of 0 and 1, and the parts."""
        if self._parts is None:
            rows = self.table.rows
            parts = tuple(dict.fromkeys(f.ref for row in rows for f in row.faults))
            number = {ref: k for k, ref in enumerate(parts)}
            found = np.zeros((len(parts), len(rows)))
            for column, row in enumerate(rows):
                for fault in row.faults:
                    found[number[fault.ref], column] = 1.0
            self._parts = (found, parts)
        return self._parts

    def information(self, probabilities: Floats) -> Floats:
        """Expected information about the suspect in nats, `(n_candidates,)`.

        The last answer is kept: one assessment asks several times.
        """
        if self._last is not None and np.array_equal(self._last[0], probabilities):
            return self._last[1]
        found = self._information(probabilities)
        self._last = (probabilities.copy(), found)
        return found

    def may(self, column: int) -> bool:
        """Whether a candidate may be offered at all: a meter may go there, on its own ground."""
        return self._may[column]

    def forget(self) -> None:
        """Forget the last answer, for those who time the next."""
        self._last = None

    def _information(self, probabilities: Floats) -> Floats:
        """H(outcome) − H(outcome | suspect) over the rows that matter, in single precision.

        A suspect with one row left needs no logarithms: its entropies are prepared.
        """
        weights = probabilities[self._order]
        rows = _rows_that_matter(weights, self.table.suspects.sums(probabilities))
        weights = weights[rows] / weights[rows].sum()
        starts = np.flatnonzero(np.r_[True, np.diff(self._groups[rows]) > 0])
        sizes = np.diff(np.r_[starts, len(rows)])
        mass = np.add.reduceat(weights, starts)
        alone = np.repeat(sizes == 1, sizes)
        total = weights.astype(np.float32) @ self._sorted[rows]
        given = weights[alone] @ self._entropies[rows[alone]]
        if not alone.all():
            some = rows[~alone]
            joint = self._sorted[some] * weights[~alone, None].astype(np.float32)
            inner = np.flatnonzero(np.r_[True, np.diff(self._groups[some]) > 0])
            several = np.add.reduceat(joint, inner, axis=0).reshape(self._shape)
            given = given + _plogp(mass[sizes > 1]).sum()
            given = given - _plogp(several).sum(axis=(0, 2), dtype=np.float64)
        of_outcomes = -_plogp(total.reshape(self._shape[1:])).sum(axis=1, dtype=np.float64)
        return np.asarray(of_outcomes - given)

    def information_about(
        self, column: int, holds: NDArray[np.bool_], probabilities: Floats
    ) -> float:
        """Expected information in nats of one candidate about a yes or no `(n_rows,)`."""
        chances = self.chances[:, column, :]
        yes = probabilities[holds] @ chances[holds]
        no = probabilities[~holds] @ chances[~holds]
        share = np.array([probabilities[holds].sum(), probabilities[~holds].sum()])
        joint = _plogp(yes).sum() + _plogp(no).sum()
        return float(joint - _plogp(yes + no).sum() - _plogp(share).sum())

    def unlike_the_average(self, row: int) -> Floats:
        """How far a row's outcomes lie from those of the average row before any reading, as
        Kullback-Leibler divergence in nats `(n_candidates,)` (textbook)."""
        if self._average is None:
            prior = np.array([one.prior for one in self.table.rows])
            self._average = np.tensordot(prior, self.chances, axes=1)
        own = self.chances[row]
        ratio = np.log(np.maximum(own, 1e-30) / np.maximum(self._average, 1e-30))
        return np.asarray((own * ratio).sum(axis=1))

    def rank(
        self,
        probabilities: Floats,
        facts: SafetyFacts,
        taken: Mapping[str, int],
        skipped: Sequence[str],
    ) -> list[Offer]:
        """Allowed candidates, best first. `taken` counts readings by candidate, `skipped` names
        probes that can't be reached."""
        information = self.information(probabilities)
        allowed = self._allowed(facts, taken, set(skipped))
        offers: list[tuple[int, float, float]] = []
        for column in allowed:
            worth = float(information[column])
            worth *= REPEAT_SHARE ** taken.get(self._keys[column], 0)
            if worth > LEAST_INFORMATION_NATS:
                offers.append((column, worth, self._minutes(column, facts, taken)))
        if not offers:
            return []
        best = max(worth / minutes for _, worth, minutes in offers)
        ranked = [
            Offer(self.table.candidates[c], c, worth, minutes, worth - 0.5 * best * minutes)
            for c, worth, minutes in offers
        ]
        return sorted(ranked, key=lambda offer: (-offer.score, offer.candidate.key))

    def offer(
        self,
        column: int,
        probabilities: Floats,
        facts: SafetyFacts,
        taken: Mapping[str, int] | None = None,
    ) -> Offer:
        """One candidate chosen by a person, with its figures."""
        worth = float(self.information(probabilities)[column])
        minutes = self._minutes(column, facts, taken or {})
        return Offer(self.table.candidates[column], column, worth, minutes, 0.0)

    def allowed_offers(self, probabilities: Floats, facts: SafetyFacts) -> list[Offer]:
        """Every candidate that safety allows, whether it tells anything or not."""
        return [self.offer(c, probabilities, facts) for c in self._allowed(facts, {}, set())]

    def _allowed(
        self, facts: SafetyFacts, taken: Mapping[str, int], skipped: set[str]
    ) -> list[int]:
        board = self.table.board
        states: dict[BoardState, bool] = {}
        found: list[int] = []
        for column, candidate in enumerate(self.table.candidates):
            if candidate.probe.id in skipped or taken.get(self._keys[column], 0) >= 2:
                continue
            if not self._may[column]:
                continue
            if candidate.state not in states:
                states[candidate.state] = reachable(board, candidate.state, facts)
            if states[candidate.state]:
                found.append(column)
        return found

    def _minutes(self, column: int, facts: SafetyFacts, taken: Mapping[str, int]) -> float:
        """Bench minutes; a leg that has been lifted once is lifted already."""
        candidate = self.table.candidates[column]
        lifted = candidate.probe.lifted and self._keys[column] in taken
        charged = 0
        if candidate.probe.mode.needs_dead_board:
            charged = self._still_charged(candidate.probe.part, facts)
        way = (facts.state, candidate.state, charged)
        if way not in self._between:
            self._between[way] = minutes_between(self.table.board, *way)
        minutes = self._between[way] + candidate.probe.minutes + _risk_minutes(candidate)
        return minutes - LIFT_MINUTES * lifted

    def _still_charged(self, part: str, facts: SafetyFacts) -> int:
        """How many reservoirs stand between the board as it is and a dead reading at a part."""
        if part not in self._beside:
            self._beside[part] = tuple(r.part for r in reservoirs_beside(self.table.board, part))
        beside = self._beside[part]
        if facts.state.plugged:
            return len(beside)
        bulk = int(facts.bulk_volts is None)
        return bulk + sum(1 for ref in beside[1:] if ref not in facts.volts)


def reachable(board: Board, target: BoardState, facts: SafetyFacts) -> bool:
    """Whether safety lets the board be brought into a state, by way of unplugging it."""
    return not state_refusals(board, target, replace(facts, state=UNPLUGGED))


def _risk_minutes(candidate: Candidate) -> float:
    if not candidate.state.plugged:
        return 0.0
    risk = RISK_MINUTES_HOT_LIVE if candidate.probe.side is Side.HOT else 0.0
    risk += 0.0 if candidate.state.lamp_watts else RISK_MINUTES_NO_LIMITER
    return risk + (RISK_MINUTES_FORCED if candidate.state.power is Power.FORCED else 0.0)


def _rows_that_matter(weights: Floats, sums: Floats) -> NDArray[np.intp]:
    """Rows in order without the lightest, which together hold a hundredth of the doubt."""
    doubt = 1.0 - float(sums.max())
    order = np.argsort(weights)
    dropped = int(np.searchsorted(np.cumsum(weights[order]), LEFT_OUT_OF_DOUBT * doubt))
    return np.asarray(np.sort(order[min(dropped, len(order) - 1) :]))


def _plogp(p: Floats) -> Floats:
    return np.asarray(p * np.log(np.maximum(p, np.float32(1e-30))))
