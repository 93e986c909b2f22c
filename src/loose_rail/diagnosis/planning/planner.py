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
from scipy.sparse import csr_array

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.costs import Costs
from loose_rail.judgement.safety import (
    SafetyFacts,
    reference_refusals,
    state_refusals,
)
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power
from loose_rail.vocabulary.keys import stage_of

Floats = NDArray[np.float64]

LEAST_INFORMATION_NATS = 0.004
LEFT_OUT_OF_DOUBT = 0.01
MOST_TIMES = 2
"""A point is offered until it has been read so often."""
REPEAT_SHARE = 0.3
"""A second reading at the same point shares the first one's slips: less than half of it is new."""


ALIKE_SHARE, ALIKE_LEAST = 0.05, 0.2
"""What differs by less in two states, as a share and in volts, reads alike there [E]."""
SMALL_PART = 0.9
"""What a reading at a small part is worth beside the same at a pin, a fuse or a can's leads: it has
to be found, and its ends are close together [E]."""
AT_SUSPECT = 0.2
"""How much more a reading is worth at the very part that is surely bad [E]."""
IN_SECTION = 0.6
"""How much more it is worth within the section that surely holds the fault: a hand stays there
before it goes elsewhere for the same [E]."""
EASY_KINDS = ("fuse", "connector", "bridge")


def _easily_reached(board: Board, ref: str) -> bool:
    part = board.component(ref) if ref else None
    return part is None or part.kind in EASY_KINDS or is_a(part, Trait.ELECTROLYTIC)


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
        used: NDArray[np.bool_] = np.asarray(chances.any(axis=0))
        used[:, 0] = True  # each candidate keeps one, so that its outcomes have a place to begin
        kept = chances[self._order][:, used]
        self._sorted = np.ascontiguousarray(kept, dtype=np.float32)  # else each product copies it
        self._begins = np.r_[0, np.cumsum(used.sum(axis=1))[:-1]]
        self._entropies = -np.add.reduceat(_plogp(kept), self._begins, axis=1)
        self._last: tuple[Floats, Floats] | None = None
        self._average: Floats | None = None
        self._parts: tuple[Floats, tuple[str, ...]] | None = None
        self._keys = [candidate.key for candidate in table.candidates]
        self._may = np.array(
            [
                c.probe.meter and not (c.probe.live and reference_refusals(table.board, c.probe))
                for c in table.candidates
            ]
        )
        self._ease = np.array(
            [
                1.0 if c.probe.live or _easily_reached(table.board, c.probe.part) else SMALL_PART
                for c in table.candidates
            ]
        )
        self._part_of: NDArray[np.intp] | None = None
        self._section_rows, self._section_of = _sections(table)
        self._same_points = _same_points(table)
        self._idle = [bool(_idle_behind(table.board, one)) for one in table.candidates]
        self._of_probe: dict[str, list[int]] = {}
        for number, candidate in enumerate(table.candidates):
            self._of_probe.setdefault(candidate.probe.id, []).append(number)
        self.costs = Costs(table)

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
        return bool(self._may[column])

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
        spread = np.zeros(len(self._sorted))
        spread[rows] = weights
        total = spread.astype(np.float32) @ self._sorted
        spread[rows[~alone]] = 0.0
        given = spread @ self._entropies
        if not alone.all():
            some = rows[~alone]
            inner = np.flatnonzero(np.r_[True, np.diff(self._groups[some]) > 0])
            ends = np.r_[inner, len(some)]
            gather = csr_array(
                (weights[~alone].astype(np.float32), some, ends),
                shape=(len(inner), len(self._sorted)),
            )
            several = _plogp(gather @ self._sorted).sum(axis=0, dtype=np.float64)
            given = given + _plogp(mass[sizes > 1]).sum()
            given = given - np.add.reduceat(several, self._begins)
        of_outcomes = -np.add.reduceat(_plogp(total).astype(np.float64), self._begins)
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
        scored = self._scored(probabilities, facts, taken, skipped)
        if scored is None:
            return []
        columns, worth, minutes, score = scored
        offers = [
            Offer(self.table.candidates[c], c, w, m, s)
            for c, w, m, s in zip(
                columns.tolist(), worth.tolist(), minutes.tolist(), score.tolist(), strict=True
            )
        ]
        return sorted(offers, key=lambda offer: (-offer.score, offer.candidate.key))

    def best(
        self,
        probabilities: Floats,
        facts: SafetyFacts,
        taken: Mapping[str, int],
        skipped: Sequence[str],
    ) -> Offer | None:
        """The first of `rank` by itself, None where nothing tells anything."""
        scored = self._scored(probabilities, facts, taken, skipped)
        if scored is None:
            return None
        columns, worth, minutes, score = scored
        ties = np.flatnonzero(score == score.max()).tolist()
        k = min(ties, key=lambda number: self._keys[columns[number]])
        column = int(columns[k])
        figures = float(worth[k]), float(minutes[k]), float(score[k])
        return Offer(self.table.candidates[column], column, *figures)

    def _scored(
        self,
        probabilities: Floats,
        facts: SafetyFacts,
        taken: Mapping[str, int],
        skipped: Sequence[str],
    ) -> tuple[NDArray[np.intp], Floats, Floats, Floats] | None:
        """Columns, information, minutes and score of what may be read and tells anything."""
        worth = self.information(probabilities).copy()
        for key, count in taken.items():
            worth[self.table.index(key)] *= REPEAT_SHARE**count
        worth *= self._told_elsewhere(probabilities, taken)
        allowed = self._allowed(facts, taken, skipped)
        columns = np.flatnonzero(allowed & (worth > LEAST_INFORMATION_NATS))
        if not len(columns):
            return None
        minutes = self.costs.minutes(facts, taken)[columns]
        worth = worth[columns]
        felt = worth * self._preferred(probabilities)[columns]
        rate = float((felt / minutes).max())
        return columns, worth, minutes, felt - 0.5 * rate * minutes

    def _told_elsewhere(self, probabilities: Floats, taken: Mapping[str, int]) -> Floats:
        """What is new at each candidate `(n_candidates,)`, as a share, where its two points were
        read in another state: as far as the suspects read alike in both, it is a reading again."""
        new = np.ones(len(self.table.candidates))
        low, high = self.table.low, self.table.high
        for key in taken:
            read = self.table.index(key)
            for column in self._same_points.get(read, ()):
                if self._keys[column] in taken:
                    continue
                near = ALIKE_SHARE * np.maximum(np.abs(high[:, read]), ALIKE_LEAST)
                alike = np.abs(low[:, read] - low[:, column]) <= near
                alike &= np.abs(high[:, read] - high[:, column]) <= near
                share = float(probabilities @ np.nan_to_num(alike))
                if self._idle[
                    column
                ]:  # how far it holds what ticks before it is nobody's knowledge
                    share = 1.0
                new[column] = min(new[column], 1.0 - (1.0 - REPEAT_SHARE) * share)
        return new

    def _preferred(self, probabilities: Floats) -> Floats:
        """How a hand weighs what the points tell `(n_candidates,)`: what is easily reached and sure
        to be found is read rather than a small part that tells the same, a suspect itself rather
        than what lies beside it, and a point of the section that is suspected."""
        membership, parts = self.part_rows()
        if self._part_of is None:
            number = {ref: k for k, ref in enumerate(parts)}
            self._part_of = np.array(
                [number.get(c.probe.part, len(parts)) for c in self.table.candidates]
            )
        bad = np.r_[membership @ probabilities, 0.0][self._part_of]
        within = (self._section_rows @ probabilities)[self._section_of]
        return np.asarray(self._ease * (1.0 + AT_SUSPECT * bad + IN_SECTION * within))

    def offer(
        self,
        column: int,
        probabilities: Floats,
        facts: SafetyFacts,
        taken: Mapping[str, int] | None = None,
    ) -> Offer:
        """One candidate chosen by a person, with its figures."""
        worth = float(self.information(probabilities)[column])
        minutes = float(self.costs.minutes(facts, taken or {})[column])
        return Offer(self.table.candidates[column], column, worth, minutes, 0.0)

    def allowed_offers(self, probabilities: Floats, facts: SafetyFacts) -> list[Offer]:
        """Every candidate that safety allows, whether it tells anything or not."""
        worth = self.information(probabilities)
        minutes = self.costs.minutes(facts, {})
        return [
            Offer(self.table.candidates[c], c, float(worth[c]), float(minutes[c]), 0.0)
            for c in np.flatnonzero(self._allowed(facts, {}, ())).tolist()
        ]

    def _allowed(
        self, facts: SafetyFacts, taken: Mapping[str, int], skipped: Sequence[str]
    ) -> NDArray[np.bool_]:
        """What may be read `(n_candidates,)`: a meter may go there, safety lets the board be
        brought there, nobody left it out, and it was not read twice."""
        board, costs = self.table.board, self.costs
        free = np.array([reachable(board, state, facts) for state in costs.states])
        allowed = self._may & free[costs.of_state]
        for key, count in taken.items():
            if count >= MOST_TIMES:
                allowed[self.table.index(key)] = False
        for probe in skipped:
            allowed[self._of_probe.get(probe, [])] = False
        return np.asarray(allowed)


def _same_points(table: PredictionTable) -> dict[int, list[int]]:
    """For each candidate of a powered board the others with its two points and setting, in another
    state or under another name."""
    groups: dict[tuple[str, str, str], list[int]] = {}
    for number, candidate in enumerate(table.candidates):
        probe = candidate.probe
        if probe.live:
            at = _idle_behind(table.board, candidate) or probe.plus
            groups.setdefault((at, probe.minus, probe.mode.value), []).append(number)
    return {
        one: [other for other in group if other != one]
        for group in groups.values()
        for one in group
    }


def _idle_behind(board: Board, candidate: Candidate) -> str:
    """The net of the rail that stands at the output of a lamp driver nobody asks, less a diode:
    there it is read again; empty anywhere else."""
    stage = board.stage(stage_of(candidate.probe.observable))
    if stage is None or stage.kind != "led" or candidate.state.power is Power.ON:
        return ""
    rail = board.rail_of(stage.source)
    return "" if rail is None else rail.net


def _sections(table: PredictionTable) -> tuple[Floats, NDArray[np.intp]]:
    """Which rows have their cause in each section, `(n_sections, n_rows)` of 0 and 1, and the
    section in which each candidate is read, `(n_candidates,)`."""
    board = table.board
    names: dict[str, int] = {}

    def of(ref: str) -> int:
        return names.setdefault(board.component(ref).section if ref else "", len(names))

    def of_candidate(candidate: Candidate) -> int:
        rail = board.rail_of(candidate.probe.rail) if candidate.probe.live else None
        if rail is not None:
            return names.setdefault(rail.section, len(names))
        return of(candidate.probe.part or candidate.probe.stop)

    rows = [of(row.part) for row in table.rows]
    columns = [of_candidate(candidate) for candidate in table.candidates]
    found = np.zeros((len(names), len(table.rows)))
    found[rows, np.arange(len(table.rows))] = 1.0
    found[names.get("", 0), [not row.part for row in table.rows]] = 0.0
    return found, np.array(columns, dtype=np.intp)


def reachable(board: Board, target: BoardState, facts: SafetyFacts) -> bool:
    """Whether safety lets the board be brought into a state, by way of unplugging it."""
    return not state_refusals(board, target, replace(facts, state=UNPLUGGED))


def _rows_that_matter(weights: Floats, sums: Floats) -> NDArray[np.intp]:
    """Rows in order without the lightest, which together hold a hundredth of the doubt."""
    doubt = 1.0 - float(sums.max())
    order = np.argsort(weights)
    dropped = int(np.searchsorted(np.cumsum(weights[order]), LEFT_OUT_OF_DOUBT * doubt))
    return np.asarray(np.sort(order[min(dropped, len(order) - 1) :]))


def _plogp(p: NDArray[np.floating]) -> Floats:
    return np.asarray(p * np.log(np.maximum(p, np.float32(1e-30))))
