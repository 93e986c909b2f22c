"""The diagnosis of one job at one moment: suspects, finding, next probe, and why.

Everything is a function of the prediction table and the evidence: nothing is remembered between
calls, so undo is simply asking again without the reading.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.diagnosis.evidence.by_itself import bad_by_themselves
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.runs import NOT_SEEN, SeenRunning
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.evidence.symptoms import Symptom
from loose_rail.diagnosis.inference.finding import (
    Finding,
    Standing,
    confirming_columns,
    finding_of,
)
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.odd_parts import with_odd_parts
from loose_rail.diagnosis.inference.posterior import (
    log_prior,
    posterior,
    suspects_of,
)
from loose_rail.diagnosis.inference.supply_good import supply_good
from loose_rail.diagnosis.model.measured_inlet import on_inlet
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.assessment import Assessment, NextStep, Purpose, with_names
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
from loose_rail.diagnosis.planning.exchanged import bad_off_the_board
from loose_rail.diagnosis.planning.gives_way import bulk_of_a_boost, sense_of_the_dragged
from loose_rail.diagnosis.planning.outcomes import outcome_chances
from loose_rail.diagnosis.planning.planner import Offer, Planner, reachable
from loose_rail.diagnosis.planning.unlocking import (
    does_its_work,
    group_of,
    still_tells,
    tells_well,
    unlocking,
)
from loose_rail.diagnosis.planning.while_shorted import while_shorted
from loose_rail.judgement.limits import limit
from loose_rail.judgement.safety import SafetyFacts

Floats = NDArray[np.float64]

SEEN_SOUND = 0.85
"""From here nothing at all is wrong, and no rail is asked for that nobody read: only a set that was
seen to work through a soak gets there without them [E]."""


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
        running: SeenRunning = NOT_SEEN,
    ) -> Assessment:
        """The same where the probabilities of the rows `(n_rows,)` are known already; `bad` are
        parts that measured bad by themselves. `running` is what was seen of the set at its
        work: through a soak its rails stand in use whether they were read or not."""
        taken = counts_of_readings(evidence)
        suspects = tuple(suspects_of(self.table, probabilities))
        finding = finding_of(self.table, probabilities, evidence, suspects)
        finding = bad_off_the_board(self.table.board, finding, bad)
        offers = self.planner.rank(probabilities, facts, taken, skipped)
        if finding is not None and finding.standing is Standing.UNDECIDED:
            finding = group_of(self.planner, finding, probabilities, offers)
        open_ended = tells_well(offers)
        finding = with_odd_parts(self.table, finding, probabilities, evidence, open_ended)
        choice = (taken, skipped, chosen)
        supply = None if facts.bright_lamp else supply_good(self.table, probabilities, evidence)
        step = self._next(probabilities, facts, finding, evidence, offers, choice)
        informs = step is None or step.purpose is Purpose.INFORM
        at_work = informs and does_its_work(self.table, probabilities, evidence, running)
        step = None if at_work else step
        undecided = finding is None or finding.standing is Standing.UNDECIDED
        if supply is not None and informs and undecided and not open_ended:
            step = None
            rail = None
            if supply.sound < SEEN_SOUND and not running.soaked:
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
        at_work = at_work and step is None and supply is None
        return Assessment(probabilities, suspects, finding, step, tuple(offers), supply, at_work)

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
        key = unlocking(
            self.planner,
            self.keys,
            probabilities,
            moment.facts,
            offers,
            moment.taken,
            moment.skipped,
        )
        if key is not None:
            offer = self.planner.offer(key, probabilities, moment.facts)
            return self._step(offer, Purpose.UNLOCK, probabilities)
        if probabilities[0] >= limit("verdict_probability") or not still_tells(offers):
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
            usual = sense_of_the_dragged(closing, finding) if usual is None else usual
            usual = closing.bulk_in_use() if usual is None else usual
            if usual is not None:
                return Purpose.USUAL, usual
        usual = None if confirmed else usual_can(closing, finding, evidence)
        usual = bulk_of_a_boost(closing) if usual is None and not confirmed else usual
        if usual is not None:
            return Purpose.USUAL, usual
        along = self._along(finding, closing)
        if confirmed or along is not None:
            return None if along is None else (Purpose.COMPANION, along)
        witness = closing.second_witness(finding, evidence)
        return None if witness is None else (Purpose.CONFIRM, witness)

    def _along(self, finding: Finding, closing: Closing) -> int | None:
        """The reading of a part that may have failed along with a confirmed one, or with a can:
        those of one age are read, whether the first can be told from its joint or not."""
        can = is_a(self.table.board.component(finding.part), Trait.ELECTROLYTIC)
        if not can and finding.standing is not Standing.CONFIRMED:
            return None
        companion = closing.companion(finding)
        return of_its_batch(closing, finding) if companion is None else companion

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
