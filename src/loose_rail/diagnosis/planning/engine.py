"""The diagnosis of one job at one moment: suspects, finding, next probe, and why.

Everything is a function of the prediction table and the evidence: nothing is remembered between
calls, so undo is simply asking again without the reading.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.by_itself import bad_by_themselves
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.evidence.symptoms import Symptom
from loose_rail.diagnosis.evidence.unlisted_clues import named_part, title_of
from loose_rail.diagnosis.inference.finding import (
    Finding,
    Standing,
    confirming_columns,
    finding_of,
    sure_from,
)
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.odd_parts import with_odd_parts
from loose_rail.diagnosis.inference.posterior import (
    Suspect,
    log_prior,
    part_probabilities,
    posterior,
    suspects_of,
)
from loose_rail.diagnosis.inference.short_excluded import proof_keys
from loose_rail.diagnosis.inference.supply_good import SupplyGood, supply_good
from loose_rail.diagnosis.model.hypotheses import OUTSIDE
from loose_rail.diagnosis.model.measured_inlet import on_inlet
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.before_verdict import Closing
from loose_rail.diagnosis.planning.cans import can_of_a_mute_board, of_its_batch, usual_can
from loose_rail.diagnosis.planning.demanded import (
    Moment,
    at_the_likely,
    before_good,
    board_by_itself,
    loop_of_a_high_rail,
    odd_again,
    other_half,
    read_again,
    sets_the_voltage,
    third,
)
from loose_rail.diagnosis.planning.exchanged import bad_off_the_board, exchanged
from loose_rail.diagnosis.planning.outcomes import outcome_chances
from loose_rail.diagnosis.planning.planner import Offer, Planner, reachable
from loose_rail.diagnosis.planning.while_shorted import while_shorted
from loose_rail.judgement.limits import limit
from loose_rail.judgement.safety import SafetyFacts

Floats = NDArray[np.float64]

UNLOCK_TIMES = 1.5
"""How much more a reading at full power must tell for the bulk to be read first for it [E]."""
SEEN_SHORT = 0.5
"""Where shorts of the primary hold as much, what tells most finds them after a bright lamp; with
less, what was said speaks against it, and the primary is read before anything else [E]."""
MOST_IN_GROUP = 4
LEAST_LEADER = 0.2
GROUP_NATS_PER_MINUTE = 0.02
"""Suspects are one group where no reading tells them apart at more than this rate [E]."""
SEEN_SOUND = 0.85
"""From here nothing at all is wrong, and no rail is asked for that nobody read: only a set that was
seen to work through a soak gets there without them [E]."""
LEAST_NATS_PER_MINUTE = 0.006
"""Testing on ends where half an hour would tell less than a coin's toss [E]."""


class Purpose(StrEnum):
    """Why a probe is offered."""

    INFORM = "inform"
    CONFIRM = "confirm"
    PAIR = "pair"
    CHOSEN = "chosen"
    UNLOCK = "unlock"
    COMPANION = "companion"
    AGAIN = "again"
    CONTRADICTS = "contradicts"
    """Two readings across the same two nets can't both be right."""
    THIRD = "third"
    """Two readings at one point of the dead board said two things: a third decides."""
    ODD = "odd"
    """A part read out of its limits, which nothing foresaw: once more."""
    RAIL = "rail"
    """Before a supply is called good: a rail that was not read in use."""
    OVER_VOLTAGE = "over_voltage"
    USUAL = "usual"
    """Before a best match stands: what ails most often."""
    FUSE = "fuse"
    PROOF = "proof"
    """After a repair: what shows that it works."""


@dataclass(frozen=True, slots=True)
class NextStep:
    """The offered probe, its purpose, and the probability that it will not read as a good board
    does."""

    offer: Offer
    purpose: Purpose
    odd: float


SOAKED_SOUND = 0.6
"""A set that ran through a soak, and has nothing wrong by so much, is handed back unread [E]."""


@dataclass(frozen=True, slots=True)
class Assessment:
    """What the evidence says now. `next_step` is None where nothing is left worth reading; `supply`
    says that the supply is good at this level."""

    probabilities: Floats
    suspects: tuple[Suspect, ...]
    finding: Finding | None
    next_step: NextStep | None
    others: tuple[Offer, ...]
    supply: SupplyGood | None = None


def with_names(board: Board, found: Assessment, clues: Sequence[Clue]) -> Assessment:
    """The assessment in which the row outside the list is called by the part of no list that the
    clues speak for, where they do; what was exchanged and cured the set needs no more readings."""
    known = exchanged(board, found.finding, clues)
    if known is not None:
        found = replace(found, finding=known, next_step=None)
    name, how = named_part(clues)
    if not name:
        return found
    title = title_of(name, how)
    suspects = (replace(s, title=title) if s.key == OUTSIDE else s for s in found.suspects)
    return replace(found, suspects=tuple(suspects))


class Engine:
    """Diagnosis on one prediction table."""

    def __init__(self, table: PredictionTable, planner: Planner | None = None) -> None:
        self.table = table
        self.planner = planner or Planner(table, outcome_chances(table, np.exp(log_prior(table))))
        self.keys = frozenset(candidate.key for candidate in table.candidates)
        self._on_inlet: tuple[float, Engine] | None = None

    def on_inlet(self, volts: float | None) -> Engine:
        """The engine for a measured inlet voltage (RMS); itself where none was measured. Which
        reading tells most is planned as before: a narrower bulk hardly moves it."""
        if volts is None:
            return self
        if self._on_inlet is None or self._on_inlet[0] != volts:
            self._on_inlet = (volts, Engine(on_inlet(self.table, volts), self.planner))
        return self._on_inlet[1]

    def assess(
        self,
        evidence: Sequence[Evidence],
        symptoms: Sequence[Symptom],
        facts: SafetyFacts,
        skipped: Sequence[str] = (),
        chosen: str = "",
        clues: Sequence[Clue] = (),
    ) -> Assessment:
        """Suspects, finding and next probe for this evidence in this state of the board.

        `skipped` are probe ids that can't be reached; `chosen` is a candidate key that a person
        picked instead of the offered one; `clues` are what is known beside readings and symptoms.
        """
        probabilities = posterior(self.table, evidence, symptoms, clues)
        bad = bad_by_themselves(clues)
        found = self.weigh(probabilities, evidence, facts, skipped, chosen, bad)
        return with_names(self.table.board, found, clues)

    def weigh(
        self,
        probabilities: Floats,
        evidence: Sequence[Evidence],
        facts: SafetyFacts,
        skipped: Sequence[str] = (),
        chosen: str = "",
        bad: frozenset[str] = frozenset(),
        *,
        soaked: bool = False,
    ) -> Assessment:
        """The same where the probabilities of the rows `(n_rows,)` are known already; `bad` are
        parts that measured bad by themselves. `soaked`: the set did its work through a soak, so its
        rails stand in use whether they were read or not."""
        taken = counts_of_readings(evidence)
        suspects = tuple(suspects_of(self.table, probabilities))
        finding = finding_of(self.table, probabilities, evidence, suspects)
        finding = bad_off_the_board(self.table.board, finding, bad)
        offers = self.planner.rank(probabilities, facts, taken, skipped)
        if finding is not None and finding.standing is Standing.UNDECIDED:
            finding = self._group(finding, probabilities, offers)
        open_ended = _tells_well(offers)
        finding = with_odd_parts(self.table, finding, probabilities, evidence, open_ended)
        choice = (taken, skipped, chosen)
        supply = None if facts.bright_lamp else supply_good(self.table, probabilities, evidence)
        step = self._next(probabilities, facts, finding, evidence, offers, choice)
        if soaked and step is not None and step.purpose is Purpose.INFORM:
            step = None if probabilities[0] >= SOAKED_SOUND else step
        informs = step is None or step.purpose is Purpose.INFORM
        undecided = finding is None or finding.standing is Standing.UNDECIDED
        if supply is not None and informs and undecided and not open_ended:
            step = None
            rail = None
            if supply.sound < SEEN_SOUND and not soaked:
                moment = Moment(probabilities, facts, taken, skipped)
                rail = before_good(self.planner, supply, evidence, moment)
            if rail is not None:
                step, supply = self._step(rail, Purpose.RAIL, probabilities), None
            else:
                closing = Closing(self.planner, probabilities, facts, taken, skipped)
                again = closing.good_by_one_reading(evidence)
                if again is not None:
                    offer = self.planner.offer(again, probabilities, facts, taken)
                    step, supply = self._step(offer, Purpose.AGAIN, probabilities), None
        else:
            supply = None
        return Assessment(probabilities, suspects, finding, step, tuple(offers), supply)

    def _group(self, finding: Finding, probabilities: Floats, offers: Sequence[Offer]) -> Finding:
        """The finding as a group of parts that no reading on offer tells apart, where they are sure
        together; else as it is."""
        causes = part_probabilities(self.table, probabilities)
        members: list[str] = []
        together, wanted = 0.0, sure_from(self.table, finding.part)
        for part in sorted(causes, key=lambda ref: (-causes[ref], ref))[:MOST_IN_GROUP]:
            members.append(part)
            together += causes[part]
            if together >= wanted:
                break
        sure = together >= wanted
        if not sure or len(members) == 1 or causes[members[0]] < LEAST_LEADER:
            return finding
        inside = np.array([row.part in members for row in self.table.rows])
        told = self.planner.information(np.where(inside, probabilities, 0.0) / together)
        if any(told[o.column] > GROUP_NATS_PER_MINUTE * o.minutes for o in offers):
            return finding
        return replace(
            finding,
            probability=together,
            standing=Standing.BEST_MATCH,
            twins=tuple(ref for ref in members if ref != finding.part),
        )

    def _next(
        self,
        probabilities: Floats,
        facts: SafetyFacts,
        finding: Finding | None,
        evidence: Sequence[Evidence],
        offers: Sequence[Offer],
        choice: tuple[Mapping[str, int], Sequence[str], str],
    ) -> NextStep | None:
        taken, skipped, chosen = choice
        if chosen:
            column = self.table.index(chosen)
            state = self.table.candidates[column].state
            if self.planner.may(column) and reachable(self.table.board, state, facts):
                offer = self.planner.offer(column, probabilities, facts, taken)
                return self._step(offer, Purpose.CHOSEN, probabilities)
        moment = Moment(probabilities, facts, taken, skipped)
        too_high = sets_the_voltage(self.planner, moment) or loop_of_a_high_rail(
            self.planner, moment
        )
        if too_high is not None:
            return self._step(too_high, Purpose.OVER_VOLTAGE, probabilities)
        for purpose, demanded in (
            (Purpose.CONTRADICTS, read_again),
            (Purpose.THIRD, third),
            (Purpose.ODD, odd_again),
        ):
            asked = demanded(self.planner, evidence, moment)
            if asked is not None:
                return self._step(asked, purpose, probabilities)
        cause = self._cause_of_fuse(finding, probabilities, facts, (taken, skipped))
        if cause is not None:
            offer = self.planner.offer(cause, probabilities, facts, taken)
            return self._step(offer, Purpose.FUSE, probabilities)
        if finding is not None and finding.standing is not Standing.UNDECIDED:
            closing = Closing(self.planner, probabilities, facts, taken, skipped)
            last = self._before_verdict(finding, evidence, closing)
            if last is None:
                return None
            offer = self.planner.offer(last[1], probabilities, facts, taken)
            return self._step(offer, last[0], probabilities)
        return self._on_the_way(probabilities, evidence, offers, moment)

    def _on_the_way(
        self,
        probabilities: Floats,
        evidence: Sequence[Evidence],
        offers: Sequence[Offer],
        moment: Moment,
    ) -> NextStep | None:
        """The next step while nothing is sure: the other half of a pair, what opens the way to full
        power, else what tells most."""
        alone = board_by_itself(self.planner, moment)
        if alone is not None:
            return self._step(alone, Purpose.INFORM, probabilities)
        half = other_half(self.planner, evidence, moment)
        if half is not None:
            return self._step(half, Purpose.PAIR, probabilities)
        key = self._unlocking(probabilities, moment.facts, offers, moment.taken, moment.skipped)
        if key is not None:
            offer = self.planner.offer(key, probabilities, moment.facts)
            return self._step(offer, Purpose.UNLOCK, probabilities)
        if probabilities[0] >= limit("verdict_probability") or not _still_tells(offers):
            return None
        likely = at_the_likely(self.planner, evidence, moment)
        likely = likely or while_shorted(self.table, evidence, offers) or offers[0]
        return self._step(likely, Purpose.INFORM, probabilities)

    def _before_verdict(
        self, finding: Finding, evidence: Sequence[Evidence], closing: Closing
    ) -> tuple[Purpose, int] | None:
        """The next check before the verdict stands, None where it does."""
        confirmed = finding.standing is Standing.CONFIRMED
        of_board = is_a(self.table.board.component(finding.part), Trait.BOARD)
        itself = None if confirmed else self._at_the_part(finding, evidence, closing)
        if itself is not None:
            return itself
        beside = closing.own_pin(finding) if confirmed else closing.beside(finding, evidence)
        if beside is not None:
            return Purpose.CONFIRM, beside
        off_board = closing.read_off_the_board(finding, evidence)
        pair = closing.missing_pair(finding) if confirmed or of_board else None
        pair = None if off_board else pair
        if pair is None and of_board and not off_board:
            pair = closing.missing_load_pair(finding, evidence)
        if pair is not None:
            return Purpose.PAIR, pair
        again = closing.doubtful((finding.part, *finding.twins), evidence)
        again = closing.short_off_the_board(finding, evidence) if off_board else again
        if again is not None and not finding.by_itself:
            return Purpose.AGAIN, again
        fed = can_of_a_mute_board(closing, finding) if of_board and not off_board else None
        if fed is not None:
            return Purpose.USUAL, fed
        if of_board and closing.drags(finding) and not off_board:
            usual = usual_can(closing, finding, evidence)  # a dried can gives way to a load as well
            usual = closing.bulk_in_use() if usual is None else usual
            if usual is not None:
                return Purpose.USUAL, usual
        if confirmed:
            companion = closing.companion(finding)
            companion = of_its_batch(closing, finding) if companion is None else companion
            return None if companion is None else (Purpose.COMPANION, companion)
        usual = usual_can(closing, finding, evidence)
        if usual is not None:
            return Purpose.USUAL, usual
        witness = closing.second_witness(finding, evidence)
        return None if witness is None else (Purpose.CONFIRM, witness)

    def _at_the_part(
        self, finding: Finding, evidence: Sequence[Evidence], closing: Closing
    ) -> tuple[Purpose, int] | None:
        """The next reading at a best match itself: one that would confirm it, or one again that
        found it good."""
        taken = list(closing.taken)
        for column in confirming_columns(self.table, finding.part, closing.probabilities, taken):
            if self.table.candidates[column].probe.id not in closing.skipped:
                return Purpose.CONFIRM, column
        again = closing.against_itself(finding, evidence)
        return None if again is None else (Purpose.AGAIN, again)

    def _unlocking(
        self,
        probabilities: Floats,
        facts: SafetyFacts,
        offers: Sequence[Offer],
        taken: Mapping[str, int],
        skipped: Sequence[str],
    ) -> int | None:
        """The next reading that shows the dead primary free of shorts, where one at full power
        would tell far more than any allowed one and only that proof stands before it; after
        a lamp that was full bright, where shorts don't lead anyway or nothing tells more."""
        table = self.table
        if facts.primary_short_excluded or facts.over_volts or table.board.adapter_fed:
            return None
        keys = [key for key in proof_keys(table.board) if key in self.keys]
        short = float(probabilities[table.primary_short].sum())
        left = [key for key in keys if key not in taken]
        out_of_reach = any(table.candidates[table.index(key)].probe.id in skipped for key in left)
        if facts.bright_lamp:
            done = not left or out_of_reach or (short >= SEEN_SHORT and _still_tells(offers))
            return None if done else table.index(left[0])
        if not left or out_of_reach or short >= limit("short_excluded_probability"):
            return None
        free = replace(facts, primary_short_excluded=True)
        wider = self.planner.best(probabilities, free, taken, skipped)
        if wider is None or reachable(table.board, wider.candidate.state, facts):
            return None
        best = max((offer.information for offer in offers), default=0.0)
        if wider.information < UNLOCK_TIMES * best:
            return None
        return table.index(left[0])

    def _cause_of_fuse(
        self,
        finding: Finding | None,
        probabilities: Floats,
        facts: SafetyFacts,
        choice: tuple[Mapping[str, int], Sequence[str]],
    ) -> int | None:
        """The next part to read that may have opened a fuse which is else sure enough."""
        if finding is None:
            return None
        taken, skipped = choice
        closing = Closing(self.planner, probabilities, facts, taken, skipped)
        for part in finding.waits_for:
            column = closing.first_dead_reading(part)
            if column is not None:
                return column
        return None

    def _step(self, offer: Offer, purpose: Purpose, probabilities: Floats) -> NextStep:
        odd = column_of(self.table, offer.column).odd
        return NextStep(offer, purpose, float(probabilities[odd].sum()))


def counts_of_readings(evidence: Sequence[Evidence]) -> dict[str, int]:
    """How often each candidate was read."""
    taken: dict[str, int] = {}
    for item in evidence:
        taken[item.candidate] = taken.get(item.candidate, 0) + 1
    return taken


def _tells_well(offers: Sequence[Offer]) -> bool:
    """Whether any reading still parts the suspects at a good rate."""
    return any(o.information > GROUP_NATS_PER_MINUTE * o.minutes for o in offers)


def _still_tells(offers: Sequence[Offer]) -> bool:
    """Whether any reading is worth its minutes."""
    return any(o.information > LEAST_NATS_PER_MINUTE * o.minutes for o in offers)
