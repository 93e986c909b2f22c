"""One open job: takes commands, appends events, keeps the folded state and the assessment.

The log in memory is the truth of the window; every event is written before the command returns. A
write that fails is kept, said, and tried again: nothing accepted is lost.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any

import numpy as np
from numpy.typing import NDArray

from loose_rail.app.ports import Clock, Hands, Store
from loose_rail.app.proof import failures_of, standing_over_voltage
from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board
from loose_rail.boards.reservoirs import Reservoir
from loose_rail.diagnosis.clues import (
    Clue,
    cleared_clue,
    disconnected_clue,
    finding_clue,
    history_clue,
    lamp_clue,
    symptom_clue,
)
from loose_rail.diagnosis.engine import Assessment, Engine, NextStep
from loose_rail.diagnosis.learning import ClosedJob, learned_clue
from loose_rail.diagnosis.posterior import Evidence, posterior
from loose_rail.diagnosis.predictions import Candidate, PredictionTable
from loose_rail.diagnosis.short_excluded import short_excluded
from loose_rail.diagnosis.symptoms import Symptom
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import (
    JobState,
    Reading,
    extended,
    fold,
    redo_target,
    undo_target,
    voided_sequences,
)
from loose_rail.jobs.observations import reading_event
from loose_rail.judgement.limits import limit
from loose_rail.judgement.over_voltage import OverVoltage
from loose_rail.judgement.safety import (
    STORED_ENERGY,
    Refusal,
    SafetyFacts,
    acknowledgement_refusals,
    needs_acknowledgement,
    probe_refusals,
    reference_refusals,
    state_refusals,
    to_measure,
)
from loose_rail.judgement.transitions import Instruction, instructions
from loose_rail.kernel.errors import StoreError, UnsafeStepError
from loose_rail.kernel.observation import Observation
from loose_rail.kernel.signal import Signal
from loose_rail.live.board_state import UNPLUGGED, BoardState

Floats = NDArray[np.float64]


class JobSession:
    """A job being worked on. `changed` is emitted after every accepted command."""

    def __init__(
        self,
        store: Store,
        job: int,
        board: Board,
        clock: Clock,
        hands: Hands | None = None,
        closed_jobs: Sequence[ClosedJob] = (),
    ) -> None:
        self.job = job
        self.board = board
        self.engine: Engine | None = None
        self.assessment: Assessment | None = None
        self.changed: Signal[None] = Signal()
        self.save_problem = ""
        self.judgements: dict[int, Any] = {}
        """What `results.judged` has worked out, by sequence: a reading never changes."""
        self._store = store
        self._clock = clock
        self._hands = hands
        self.closed_jobs = tuple(closed_jobs)
        self._lacks: frozenset[str] = frozenset()
        self._records = store.load(job)
        self._opened_with = len(self._records)
        """Events of earlier sittings: what was measured empty then is measured again."""
        self._now: tuple[int, Floats] | None = None
        self._unsaved: list[ev.Record] = []
        self.state: JobState = fold(self._records)

    # ---- reading the job -------------------------------------------------------------------

    @property
    def records(self) -> Sequence[ev.Record]:
        """The whole log, newest last."""
        return tuple(self._records)

    def set_engine(self, engine: Engine) -> None:
        """Predictions are ready: assess from now on."""
        self.engine = engine
        self._now = None
        self.judgements.clear()
        self._assess()
        self.changed.emit(None)

    @property
    def round(self) -> int:
        """The repair round that the diagnosis is about: the board before the last repair, or, once
        its proof has failed, the board as it is now."""
        return self.state.round if self.repair_failed else max(self.state.round - 1, 0)

    @property
    def readings(self) -> tuple[Reading, ...]:
        """The readings that count for the diagnosis."""
        return self.state.readings_in(self.round)

    @property
    def evidence(self) -> list[Evidence]:
        """The same as evidence for the engine."""
        return evidence_of(self.readings)

    @property
    def repair_failed(self) -> bool:
        """Whether what was read or seen after the last repair says that it did not help."""
        return bool(self.state.fits) and self.engine is not None and bool(self._failures())

    def _failures(self) -> tuple[str, ...]:
        assert self.engine is not None
        return failures_of(self.engine.table, self.state)

    @property
    def clues(self) -> tuple[Clue, ...]:
        """What is known beside readings and symptoms: history, findings, the shop's own jobs."""
        return self._clues_in(self.round)

    def _clues_in(self, number: int) -> tuple[Clue, ...]:
        """The clues of a repair round; a part that was fitted for it counts as good."""
        if self.engine is None:
            return ()
        table = self.engine.table
        fitted = {one.part for one in self.state.fits if one.round <= number}
        found = [history_clue(table, one.fact) for one in self.state.history]
        seen = [one for one in self.state.findings if one.part not in fitted]
        found += [finding_clue(table, one.part, one.seen) for one in seen]
        for one in self.state.noted:
            of_part = one.event.clue == "removed" and one.round <= number
            if (one.round == number or of_part) and one.event.subject not in fitted:
                found.append(noted_clue(table, one.event))
        found += [cleared_clue(table, part, good=True) for part in sorted(fitted)]
        learned = learned_clue(table, self.closed_jobs)
        return (*found, learned) if learned is not None else tuple(found)

    @property
    def all_clues(self) -> tuple[Clue, ...]:
        """The same with the symptoms, for explanations."""
        if self.engine is None:
            return ()
        table = self.engine.table
        return (*(symptom_clue(table, one) for one in self._symptoms()), *self.clues)

    def use_bench(self, lacks: Sequence[str]) -> None:
        """Meter settings that nothing on the bench has: their probes are not offered."""
        if self._lacks != frozenset(lacks):
            self._lacks = frozenset(lacks)
            self._assess()
            self.changed.emit(None)

    @property
    def out_of_reach(self) -> tuple[str, ...]:
        """Probes that are not offered: those that can't be reached, or read with what is there."""
        if self.engine is None or not self._lacks:
            return self.state.skipped
        probes = {c.probe.id: c.probe.mode for c in self.engine.table.candidates}
        lacking = [probe for probe, mode in probes.items() if mode in self._lacks]
        return (*self.state.skipped, *lacking)

    @property
    def facts(self) -> SafetyFacts:
        """What the safety rules may rely on, settled in one go from the log as it stands: nothing
        is taken from an earlier assessment."""
        return SafetyFacts(
            self.state.board_state,
            self._measured(""),
            self.primary_short_excluded,
            {
                one.part: one.volts
                for one in self.state.measured
                if one.part and self._measured(one.part) is not None
            },
            self.state.state_known,
            self.acknowledged,
            self.over_volts,
        )

    def _measured(self, part: str) -> float | None:
        """What was measured at a reservoir, where it still counts: in this sitting, and not so long
        ago that somebody may have plugged the board in since."""
        for one in self.state.measured:
            if one.part == part and one.sequence > self._opened_with:
                age = datetime.fromisoformat(self._clock.now()) - datetime.fromisoformat(one.at)
                return one.volts if age.total_seconds() < 60 * limit("drained_minutes") else None
        return None

    @property
    def acknowledged(self) -> bool:
        """Whether what this kind of set stores has been acknowledged, where that is asked for."""
        return STORED_ENERGY in self.state.acknowledged or not needs_acknowledgement(self.board)

    @property
    def over_volts(self) -> OverVoltage | None:
        """The last over-voltage on the board as it is now, until what sets that voltage was read
        and found good."""
        if self.engine is None:
            return None
        return standing_over_voltage(self.engine.table, self.state.readings_in(self.state.round))

    @property
    def primary_short_excluded(self) -> bool:
        """The lamp was seen dark or the dead primary read free of shorts, and the posterior of the
        board as it is now leaves no room for one."""
        if self.engine is None:
            return False
        return short_excluded(
            self.engine.table,
            self._probabilities_now(),
            evidence_of(self.state.readings_in(self.state.round)),
            self.state.lamp_last,
        )

    def _probabilities_now(self) -> Floats:
        """Posterior of the board as it is now; the assessment's own where that is about it."""
        assert self.engine is not None
        key = len(self._records)
        if self._now is None or self._now[0] != key:
            number = self.state.round
            evidence = evidence_of(self.state.readings_in(number))
            found = posterior(self.engine.table, evidence, self._symptoms(), self._clues_in(number))
            self._now = key, found
        return self._now[1]

    def _symptoms(self) -> list[Symptom]:
        return [Symptom(s.symptom, s.hertz) for s in self.state.symptoms]

    @property
    def drained(self) -> bool:
        """The bulk was measured below the limit since the plug was pulled."""
        volts = self._measured("")
        return (
            not self.state.board_state.plugged
            and self.state.state_known
            and volts is not None
            and abs(volts) < limit("drained_volts")
        )

    def to_measure(self, part: str = "") -> tuple[Reservoir, ...]:
        """Reservoirs that must still be measured empty before hands or a dead-board reading go to a
        part; with no part named, all of the board: rework."""
        return to_measure(self.board, part, self.facts)

    @property
    def step(self) -> NextStep | None:
        """The probe on offer."""
        return self.assessment.next_step if self.assessment else None

    def now(self) -> str:
        """The time by the session's clock, as ISO 8601 text."""
        return self._clock.now()

    def pending(self, target: BoardState, probe: Probe | None) -> tuple[Instruction, ...]:
        """What must be done before `probe` can be read in `target`."""
        now = self.state.board_state if self.state.state_known else UNPLUGGED
        dead = probe is not None and probe.mode.needs_dead_board
        charged = self.to_measure(probe.part) if probe is not None and dead else ()
        return instructions(self.board, now, target, charged)

    # ---- commands --------------------------------------------------------------------------

    def confirm_state(self, target: BoardState) -> None:
        """Record that the board has been put into a state. Raises UnsafeStepError."""
        facts = self.facts
        if target.plugged:
            _raise_first(acknowledgement_refusals(self.board, facts))
        _raise_first(state_refusals(self.board, target, facts))
        self._do(ev.StateConfirmed(target.key))
        if self._hands is not None:
            self._hands.put(target.key)

    def acknowledge(self) -> None:
        """Record that what this kind of set stores has been read and understood."""
        if not self.acknowledged:
            self._do(ev.HazardAcknowledged(STORED_ENERGY))

    def measure_bulk(self, volts: float) -> None:
        """Record the volts across the bulk with the plug out. Raises UnsafeStepError while the
        board is not confirmed as unplugged."""
        self._raise_plugged()
        self._do(ev.BulkMeasured(volts))

    def measure_reservoir(self, part: str, volts: float) -> None:
        """Record the volts across a reservoir, the bulk or another. Raises as `measure_bulk`."""
        if part == self.board.roles["bulk"][0]:
            self.measure_bulk(volts)
            return
        self._raise_plugged()
        self._do(ev.ReservoirMeasured(part, volts))

    def _raise_plugged(self) -> None:
        if self.state.board_state.plugged:
            raise UnsafeStepError(
                "The board is recorded as plugged in.", "Pull the plug and confirm it first."
            )
        if not self.state.state_known:
            raise UnsafeStepError(
                "The board's state has not been confirmed.",
                "Pull the plug, then press B on the card, or U.",
            )

    def take_reading(
        self, candidate: Candidate, seen: Observation, instrument: str, typed: str = ""
    ) -> None:
        """Record a reading. Raises UnsafeStepError where safety refuses it in this state."""
        _raise_first(probe_refusals(self.board, candidate.probe, self.facts))
        state = self.state.board_state
        if state != candidate.state:
            raise UnsafeStepError(
                f"The board is recorded as {state.words}; this needs {candidate.state.words}.",
                "Confirm the state first.",
            )
        self._do(reading_event(candidate.probe.id, state, seen, instrument, typed))

    def prepare_probe(self, probe: Probe) -> None:
        """Tell whoever holds the probes where to put them. Raises UnsafeStepError."""
        _raise_first(reference_refusals(self.board, probe))
        if self._hands is not None:
            where = f"lifted:{probe.part}" if probe.lifted else probe.observable
            self._hands.probe(probe.plus, probe.minus, where)

    def skip(self, probe: Probe) -> None:
        """Record that a point can't be reached; the plan goes on without it."""
        self._do(ev.ProbeSkipped(probe.id))

    def choose(self, candidate: Candidate) -> None:
        """Ask for this probe next instead of the offered one."""
        self._do(ev.ProbeChosen(candidate.key))

    def enter_stage(self, stage: str) -> None:
        """Go to a stage of the job."""
        if stage != self.state.stage:
            self._do(ev.StageEntered(stage))

    def overrule(self, part: str, title: str, suspect: str, chance: float, reason: str) -> None:
        """The person decides for another part than the evidence leads to; the reason is kept."""
        self._do(ev.VerdictAccepted(part, title, chance, "overruled", [], suspect, reason))

    def accept_verdict(self, unproved: Sequence[str]) -> None:
        """Accept the leading finding as the verdict."""
        if self.assessment is None or self.assessment.finding is None:
            return
        finding = self.assessment.finding
        self._do(
            ev.VerdictAccepted(
                finding.part,
                finding.suspects[0].title,
                finding.probability,
                str(finding.standing),
                list(unproved),
                finding.suspects[0].key,
            )
        )

    def record(self, event: ev.AnyEvent) -> None:
        """Record paperwork: notes, replacement, rework steps, lamp seen, hand back."""
        self._do(event)

    def see_lamp(self, pattern: str) -> None:
        """Record how the lamp in line behaved with the board as it is now."""
        if self.state.fits:
            self._do(ev.LampSeen(pattern))
        else:
            self._do(ev.ClueNoted("lamp", self.state.board_state.key, pattern))

    def fit_part(self, part: str) -> None:
        """Record that a part was replaced."""
        self._do(ev.PartFitted(part))
        if self._hands is not None:
            self._hands.fit(part)

    def undo(self) -> str:
        """Take the last thing back; returns what it was, empty where there is nothing."""
        target = undo_target(self._records)
        if target is None:
            return ""
        words = self.state.undo_words
        self._do(ev.Voided(target.sequence))
        return words

    def redo(self) -> str:
        """Put back what was last taken back; returns what it was, empty where there is nothing."""
        target = redo_target(self._records)
        if target is None:
            return ""
        words = self.state.redo_words
        self._do(ev.Restored(target.sequence))
        return words

    def take_back(self, event: ev.AnyEvent) -> None:
        """Take back the last standing event that equals this one; nothing where there is none."""
        gone = voided_sequences(self._records)
        for record in reversed(self._records):
            if record.event == event and record.sequence not in gone:
                self._do(ev.Voided(record.sequence))
                return

    def retry_save(self) -> None:
        """Try again to write what could not be written."""
        if self._unsaved:
            self._save()
            self.changed.emit(None)

    # ---- inside ----------------------------------------------------------------------------

    def _do(self, event: ev.AnyEvent) -> None:
        record = ev.Record(len(self._records) + 1, self._clock.now(), "bench 1", event)
        self._records.append(record)
        self._unsaved.append(record)
        self._save()
        self.state = extended(self.state, self._records)
        self._assess()
        self.changed.emit(None)

    def _save(self) -> None:
        try:
            self._store.append(self.job, self._unsaved)
        except StoreError as error:
            self.save_problem = error.one_line()
            return
        self._unsaved.clear()
        self.save_problem = ""

    def _assess(self) -> None:
        if self.engine is None:
            return
        self.assessment = self.engine.assess(
            self.evidence,
            self._symptoms(),
            self.facts,
            self.out_of_reach,
            self.state.chosen,
            self.clues,
        )


def evidence_of(readings: Sequence[Reading]) -> list[Evidence]:
    """Readings of the ledger as evidence for the engine."""
    return [Evidence(r.number, r.candidate, r.observation) for r in readings]


def noted_clue(table: PredictionTable, one: ev.ClueNoted) -> Clue:
    """What was seen beside the meter, as a clue."""
    if one.clue == "lamp":
        return lamp_clue(table, one.subject, one.answer)
    if one.clue == "removed":
        return cleared_clue(table, one.subject, one.answer == "good")
    return disconnected_clue(table, one.subject, one.answer == "helped")


def _raise_first(refusals: Sequence[Refusal]) -> None:
    if refusals:
        raise UnsafeStepError(refusals[0].sentence, refusals[0].instead)
