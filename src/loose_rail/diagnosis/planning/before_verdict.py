"""What is still read before a verdict: the doubtful reading again, the pair, a second witness,
the companions.

Each check returns the candidate's column, or None where nothing is missing or can be had.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.faults import NEVER_ASKS, Fault
from loose_rail.boards.kinds.kind import Effect, Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.finding import (
    Finding,
    beside_in_doubt,
    confirming_columns,
)
from loose_rail.diagnosis.inference.good_by_itself import good_by_itself
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.posterior import bad_probabilities, log_likelihoods, log_prior
from loose_rail.diagnosis.inference.supply_good import in_use
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.planning.demanded import HUM, at_odds
from loose_rail.diagnosis.planning.planner import Planner, reachable
from loose_rail.diagnosis.planning.stopping import LIT_BY_ANOTHER
from loose_rail.judgement.judge import Verdict
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.vocabulary.board_state import Power
from loose_rail.vocabulary.meter_mode import MeterMode
from loose_rail.vocabulary.roles import BoardRole

Floats = NDArray[np.float64]

LEAST_BESIDE = 0.01
"""A part in parallel is lifted for a verdict from this chance on that it is the bad one [E]."""
COMPANION_DOUBT = 0.004
COMPANION_SURE = 0.97
COMPANION_SHARE = 0.3
"""Companions are read as a matter of course: where one is neither sure nor ruled out, and a cold
reading settles at least this share of the doubt [E]."""
FALLS_TO = 0.75
"""A verdict that falls below this without one reading hangs on that reading: it is taken again."""
WITNESSES, WITNESS_TIMES = 2, 1.5
LEAST_UNLIKE_NATS = 0.25
"""Readings that must be so much likelier under a best match than on average before it may stand, as
far as there are such [E]."""


@dataclass(frozen=True)
class Closing:
    """The checks before a verdict, for one moment of a job."""

    planner: Planner
    probabilities: Floats
    facts: SafetyFacts
    taken: Mapping[str, int]
    skipped: Sequence[str]

    def doubtful(self, parts: Sequence[str], evidence: Sequence[Evidence]) -> int | None:
        """The single reading that a verdict on a part or a group of parts hangs on: without it they
        are no longer likely."""
        membership, known = self.planner.part_rows()
        bad = membership[[known.index(part) for part in parts]].max(axis=0) > 0
        return self._hangs_on(bad, evidence)

    def good_by_one_reading(self, evidence: Sequence[Evidence]) -> int | None:
        """The single reading that a finding of a good supply hangs on: without it a steady fault
        of this board is likely."""
        table = self.planner.table
        here = table.on_this_board & ~table.comes_and_goes
        here[-1] = True  # outside the list: half of it lies here
        return self._hangs_on(~here, evidence)

    def _hangs_on(self, found: NDArray[np.bool_], evidence: Sequence[Evidence]) -> int | None:
        """The single reading without which rows `(n_rows,)` that were found are no longer likely,
        where it can be taken again."""
        table = self.planner.table
        logs = log_likelihoods(table, evidence)
        with np.errstate(divide="ignore"):
            base = np.log(self.probabilities)
        worst: tuple[float, int] | None = None
        for candidate in dict.fromkeys(item.candidate for item in evidence):
            own = [k for k, item in enumerate(evidence) if item.candidate == candidate]
            if len(own) > 1 and not at_odds(table, [evidence[k] for k in own]):
                continue
            rest = base - logs[own].sum(axis=0)
            weights = np.exp(rest - rest.max())
            left = float(weights[found].sum() / weights.sum())
            if left < FALLS_TO and (worst is None or left < worst[0]):
                column = table.index(candidate)
                if self.free(column, repeat=True):
                    worst = (left, column)
        return worst[1] if worst else None

    def against_itself(self, finding: Finding, evidence: Sequence[Evidence]) -> int | None:
        """The lifted reading of the leading part that found it good, once more: one of the two is
        wrong."""
        cleared = good_by_itself(self.planner.table, finding.part, evidence, self.probabilities)
        once = (self.planner.table.index(key) for key, times in cleared.items() if times == 1)
        return next((number for number in once if self.free(number, repeat=True)), None)

    def beside(self, finding: Finding, evidence: Sequence[Evidence]) -> int | None:
        """The lifted reading of the likeliest part in parallel with one that can't be lifted: until
        it is found good, what reads low in place may be that part."""
        table = self.planner.table
        doubtful = beside_in_doubt(table, finding.part, evidence)
        if finding.part in table.liftable or not doubtful:
            return None
        bad = bad_probabilities(table, self.probabilities)
        order = sorted(doubtful, key=lambda ref: (-bad.get(ref, 0.0), ref))
        for ref in order:
            if bad.get(ref, 0.0) < LEAST_BESIDE:
                return None
            for column, candidate in enumerate(table.candidates):
                probe = candidate.probe
                own = probe.part == ref and probe.lifted and probe.mode is MeterMode.OHMS
                if own and self.free(column):
                    return column
        return None

    def own_pin(self, finding: Finding) -> int | None:
        """The supply pin of a board on a plug of its own that is said to take too much, by itself;
        None where it was read, or is none such."""
        table = self.planner.table
        if not self.drags(finding) or not any(
            candidate.state.without == finding.part for candidate in table.candidates
        ):
            return None
        for number, candidate in enumerate(table.candidates):
            if candidate.probe.part == finding.part and candidate.probe.unplugged:
                return number if self.free(number) else None
        return None

    def short_off_the_board(self, finding: Finding, evidence: Sequence[Evidence]) -> int | None:
        """The reading of a board or of lamps by itself that confirmed them, once more: a slip of
        the leads, or a tester the wrong way round, would condemn them. None where it was read
        twice, or can't be."""
        table = self.planner.table
        for item in evidence:
            number = table.index(item.candidate)
            own = item.number in finding.confirmed_by and table.candidates[number].probe.unplugged
            if own and self.taken.get(item.candidate, 0) == 1 and self.free(number, repeat=True):
                return number
        return None

    def read_off_the_board(self, finding: Finding, evidence: Sequence[Evidence]) -> bool:
        """Whether what hangs on a plug was confirmed there, by itself: no cable and no dried can of
        this board has a say in that."""
        table = self.planner.table
        probes = (
            table.candidates[table.index(item.candidate)].probe
            for item in evidence
            if item.number in finding.confirmed_by
        )
        return any(probe.unplugged for probe in probes)

    def bulk_in_use(self) -> int | None:
        """The AC volts of the bulk with all on, or else its volts, before a board is blamed for a
        rail that it pulls down: a bulk that holds too little gives way under a good load. None
        where either was read so, or can't be had."""
        table = self.planner.table
        points = (HUM, str(BoardRole.BULK))
        read = [table.candidates[table.index(key)] for key in self.taken]
        if any(c.probe.observable in points and c.state.power is Power.ON for c in read):
            return None
        for point in points:
            for number, candidate in enumerate(table.candidates):
                asked = candidate.probe.observable == point
                if asked and candidate.state.power is Power.ON and self.free(number):
                    return number
        return None

    def second_witness(self, finding: Finding, evidence: Sequence[Evidence]) -> int | None:
        """The unread reading where the leading fault reads most unlike the average suspect, for its
        minutes, while fewer than two readings speak for it so; none for lamps that a tester or
        another one has told already."""
        table = self.planner.table
        lamps = is_a(table.board.component(finding.part), Trait.BACKLIGHT)
        if lamps and finding.probability > LIT_BY_ANOTHER:
            return None
        own = np.array([row.part == finding.part for row in table.rows])
        row = int(np.argmax(np.where(own, self.probabilities, -1.0)))
        if self._witnesses(row, evidence) >= WITNESSES:
            return None
        unlike = self.planner.unlike_the_average(row)
        worth = [
            (unlike[k] / self.planner.offer(k, self.probabilities, self.facts).minutes, k)
            for k in map(int, np.flatnonzero(unlike > LEAST_UNLIKE_NATS))
            if self.free(k)
        ]
        return max(worth)[1] if worth else None

    def _witnesses(self, row: int, evidence: Sequence[Evidence]) -> int:
        """Probes whose reading is much likelier under a row than under the average one."""
        table = self.planner.table
        prior = np.exp(log_prior(table))
        probes = set()
        for item in evidence:
            column = column_of(table, table.index(item.candidate))
            likely = column.likelihood(item.observation)
            if likely[row] > WITNESS_TIMES * float(prior @ likely):
                probes.add(column.probe.id)
        return len(probes)

    def companion(self, finding: Finding) -> int | None:
        """The reading that tells most about a part that often fails along with the proven one."""
        table = self.planner.table
        membership, parts = self.planner.part_rows()
        with_it = membership * membership[parts.index(finding.part)]
        shares = dict(zip(parts, (with_it @ self.probabilities).tolist(), strict=True))
        best: tuple[float, int] | None = None
        for column, candidate in enumerate(table.candidates):
            probe = candidate.probe
            share = shares.get(probe.part, 0.0)
            if probe.part == finding.part or not COMPANION_DOUBT < share < COMPANION_SURE:
                continue
            if probe.live or probe.lifted or not self.free(column):
                continue
            bad = membership[parts.index(probe.part)] > 0
            told = self.planner.information_about(column, bad, self.probabilities)
            if told > COMPANION_SHARE * _entropy(share) and (best is None or told > best[0]):
                best = (told, column)
        return best[1] if best else None

    def first_dead_reading(self, part: str) -> int | None:
        """The dead reading that shows a part's likeliest fault best, in place before lifted."""
        table = self.planner.table
        if not any(row.part == part for row in table.rows):
            return None
        columns = confirming_columns(table, part, self.probabilities, list(self.taken))
        return next((column for column in columns if self.free(column)), None)

    def missing_pair(self, finding: Finding) -> int | None:
        """The rail reading that still isolates power board from main board, None where it exists,
        can't be reached, or a fault of the hot side's input leaves nothing to compare."""
        table = self.planner.table
        board = table.board
        own = [k for k, row in enumerate(table.rows) if row.part == finding.part]
        if table.primary_short[own].any() or not board.rails:
            return None
        way_in = (BoardRole.INPUT_PATH, BoardRole.CORD)
        if any(finding.part in board.roles.get(name, []) for name in way_in):
            return None
        if own and self._asks_not(own):
            return self._forced()
        wanted = board.standby_point
        on_rail = {c.probe.rail for c in table.candidates if c.probe.observable == wanted}
        read = [table.candidates[table.index(key)] for key in self.taken]
        live = [candidate for candidate in read if candidate.probe.live]
        if any(c.probe.rail in on_rail and not c.state.main_cable for c in live):
            return None
        for number, candidate in enumerate(table.candidates):
            bare = not candidate.state.main_cable and candidate.state.power is Power.STANDBY
            if candidate.probe.observable == wanted and bare and self.free(number, repeat=True):
                return number
        return None

    def _asks_not(self, own: Sequence[int]) -> bool:
        """Whether the likeliest of these rows is a board that keeps its request back."""
        row = self.planner.table.rows[max(own, key=lambda k: float(self.probabilities[k]))]
        return any(fault.mode == NEVER_ASKS for fault in row.faults)

    def _forced(self) -> int | None:
        """A rail that stands only in use, read with the start tied from outside: what is asked for
        so comes or does not, which is the pair for a board that does not ask. None where one was
        read so, or none can be."""
        table = self.planner.table
        read = [table.candidates[table.index(key)] for key in self.taken]
        if any(c.state.power is Power.FORCED and c.probe.rail for c in read):
            return None
        wanted = [
            number
            for number, candidate in enumerate(table.candidates)
            if candidate.state.power is Power.FORCED
            and candidate.probe.rail not in ("", table.board.standby_rail)
            and float(table.low[0, number]) > 0.0
            and self.free(number, repeat=True)
        ]
        minutes = self.planner.costs.minutes(self.facts, self.taken)
        return min(wanted, key=lambda k: (float(minutes[k]), k), default=None)

    def drags(self, finding: Finding) -> bool:
        """Whether the board that leads is said to pull a rail down."""
        return any(fault.loads_a_rail for fault in self.likeliest(finding))

    def likeliest(self, finding: Finding) -> tuple[Fault, ...]:
        """What is said to be wrong with the leading part."""
        rows = self.planner.table.rows
        own = [k for k, row in enumerate(rows) if row.part == finding.part]
        best = max(own, key=lambda k: float(self.probabilities[k]), default=None)
        return () if best is None else rows[best].faults

    def mute(self, finding: Finding) -> bool:
        """Whether the board that leads is said to ask for nothing."""
        return any(fault.effect is Effect.MUTE for fault in self.likeliest(finding))

    def dragged(self, finding: Finding) -> set[str]:
        """The stages that the leading board is said to pull down: its first rail, or the others."""
        if not self.drags(finding):
            return set()
        board = self.planner.table.board
        rails = [load.rail for load in board.loads if load.part == finding.part]
        return set(rails[:1])

    def missing_load_pair(self, finding: Finding, evidence: Sequence[Evidence]) -> int | None:
        """For a board that is said to pull a rail down: that rail without it, None where it was
        read so or can't be. The standby rail by itself says nothing of the others."""
        table = self.planner.table
        wrong: dict[str, int] = {}
        for item in evidence:
            number = table.index(item.candidate)
            candidate = table.candidates[number]
            if not in_use(table, number) or self._without(candidate, finding.part):
                continue
            judged = column_of(table, number).judged(item.observation)
            if judged.verdict is Verdict.AGREES:
                wrong.pop(candidate.probe.rail, None)
            else:
                wrong[candidate.probe.rail] = number
        read = {
            table.candidates[table.index(key)].probe.rail
            for key in self.taken
            if self._without(table.candidates[table.index(key)], finding.part)
        }
        offers = [
            self.planner.offer(number, self.probabilities, self.facts)
            for number, candidate in enumerate(table.candidates)
            if candidate.probe.rail in wrong
            and candidate.probe.rail not in read
            and in_use(table, number)
            and self._without(candidate, finding.part)
            and self.free(number)
        ]
        best = min(offers, key=lambda offer: (offer.minutes, offer.column), default=None)
        return None if best is None else best.column

    def _without(self, candidate: Candidate, part: str) -> bool:
        """Whether a reading is of the board without a load, while its rails run."""
        state = candidate.state
        asleep = state.power is Power.STANDBY
        standby = candidate.probe.rail == self.planner.table.board.standby_rail
        if not candidate.probe.live or (asleep and not standby):
            return False
        return state.without == part or not state.main_cable

    def free(self, column: int, repeat: bool = False) -> bool:
        """Whether a candidate can be had: in reach, not skipped, unread unless to be repeated."""
        candidate = self.planner.table.candidates[column]
        if candidate.probe.id in self.skipped or (candidate.key in self.taken and not repeat):
            return False
        if not self.planner.may(column):
            return False
        return reachable(self.planner.table.board, candidate.state, self.facts)


def _entropy(share: float) -> float:
    """Entropy of a yes or no, in nats."""
    return float(-share * np.log(share) - (1.0 - share) * np.log1p(-share))
