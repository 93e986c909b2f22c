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

from loose_rail.app.evidence import clues_in, evidence_of
from loose_rail.app.known import of_this_board
from loose_rail.app.log import JobLog
from loose_rail.app.ports import Clock, Hands, Store
from loose_rail.app.proof import failures_of, standing_over_voltage
from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board
from loose_rail.boards.reservoirs import Reservoir
from loose_rail.diagnosis.evidence.soft_evidence import Clue, symptom_clue
from loose_rail.diagnosis.evidence.symptoms import Symptom
from loose_rail.diagnosis.inference.posterior import Evidence, posterior
from loose_rail.diagnosis.inference.shop_history import ClosedJob
from loose_rail.diagnosis.inference.short_excluded import bright_unexplained, short_excluded
from loose_rail.diagnosis.model.predictions import Candidate
from loose_rail.diagnosis.planning.engine import Assessment, Engine, NextStep
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
from loose_rail.kernel.errors import (
    JobError,
    UnsafeStepError,
)
from loose_rail.kernel.observation import Observation
from loose_rail.kernel.signal import Signal
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState

Floats = NDArray[np.float64]
BENCH = "bench 1"
PAPER = (
    ev.StageEntered,
    ev.NoteWritten,
    ev.PhotoAdded,
    ev.PhotoPointed,
    ev.ReworkStepDone,
    ev.ReplacementChosen,
)
"""Events that the assessment does not depend on."""


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
        self._assessment: Assessment | None = None
        self._stale = True
        self.changed: Signal[None] = Signal()
        self.judgements: dict[int, Any] = {}
        """What `results.judged` has worked out, by sequence: a reading never changes."""
        self._log = JobLog(store, job)
        self._clock = clock
        self._hands = hands
        self.closed_jobs = tuple(closed_jobs)
        self._lacks: frozenset[str] = frozenset()
        self._opened_with = len(self._log.records)
        """Events of earlier sittings: what was measured empty then is measured again."""
        self._now: tuple[int, Floats] | None = None
        self.prediction_problem = ""
        """Why there is no engine and none is coming, empty while it is being worked out."""
        self._parts = frozenset(part.ref for part in board.components)
        self._take(fold(self._log.records))

    # ---- reading the job -------------------------------------------------------------------

    @property
    def records(self) -> Sequence[ev.Record]:
        """The whole log, newest last."""
        return tuple(self._log.records)

    def set_engine(self, engine: Engine) -> None:
        """Predictions are ready: assess from now on."""
        self.engine = engine
        self._now = None
        self.judgements.clear()
        self._take(self._whole)
        self._stale = True
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
        if self.engine is None:
            return ()
        return clues_in(self.engine.table, self.state, number, self.closed_jobs)

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
            self._stale = True
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
            self.bright_lamp,
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
    def bright_lamp(self) -> bool:
        """Whether the lamp was full bright with the board as it is now, and no reading of the dead
        board has spoken against a short since."""
        if self.engine is None:
            return False
        evidence = evidence_of(self.state.readings_in(self.state.round))
        return bright_unexplained(self.engine.table, evidence, self.state.lamps)

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
            self.state.lamps,
        )

    def _probabilities_now(self) -> Floats:
        """Posterior of the board as it is now; the assessment's own where that is about it."""
        assert self.engine is not None
        key = len(self._log.records)
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
        """Record how the lamp in line behaved with the board as it is now. Raises UnsafeStepError
        where none is in line."""
        if not self.state.state_known or not self.state.board_state.lamp_watts:
            raise UnsafeStepError(
                "No lamp is in line as the board is recorded now.", "Plug it in through one first."
            )
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
        target = undo_target(self._log.records)
        if target is None:
            return ""
        words = self.state.undo_words
        self._do(ev.Voided(target.sequence))
        return words

    def redo(self) -> str:
        """Put back what was last taken back; returns what it was, empty where there is nothing."""
        target = redo_target(self._log.records)
        if target is None:
            return ""
        words = self.state.redo_words
        self._do(ev.Restored(target.sequence))
        return words

    def take_back(self, event: ev.AnyEvent) -> None:
        """Take back the last standing event that equals this one; nothing where there is none."""
        gone = voided_sequences(self._log.records)
        for record in reversed(self._log.records):
            if record.event == event and record.sequence not in gone:
                self._do(ev.Voided(record.sequence))
                return

    def retry_save(self) -> None:
        """Try again to write what could not be written."""
        if not self._log.unsaved:
            return
        if self._log.save().others:
            self._settle()
        else:
            self.changed.emit(None)

    @property
    def save_problem(self) -> str:
        """Why what was accepted is not on the disk yet, empty where it is."""
        return self._log.problem

    @property
    def conflict(self) -> str:
        """What another window did to this job, and what became of our entries."""
        return self._log.conflict

    @property
    def unsaved(self) -> int:
        """How many accepted entries are not on the disk yet."""
        return len(self._log.unsaved)

    def set_aside(self) -> str:
        """Keep what could not be saved in a file beside the shop; returns where. Raises
        StoreError."""
        return self._log.set_aside()

    def reload(self) -> None:
        """Take in what other windows and programs have written to this job. Raises StoreError."""
        if self._log.reload():
            self._settle()

    # ---- inside ----------------------------------------------------------------------------

    def _do(self, event: ev.AnyEvent) -> None:
        """Append an event and save it. Raises JobError where it can't be stored, or contradicts
        what another window wrote meanwhile; then it is not in the log."""
        outcome = self._log.append(event, self._clock.now(), BENCH)
        if outcome.others:
            self._settle()
        else:
            self._take(extended(self._whole, self._log.records))
            if not isinstance(event, PAPER):
                self._stale = True
            self.changed.emit(None)
        if outcome.refused:
            raise JobError(self.conflict, "What you typed stands in the line.")

    def _settle(self) -> None:
        """The whole log again, after another window wrote to it."""
        self._take(fold(self._log.records))
        self.judgements.clear()
        self._now = None
        self._stale = True
        self.changed.emit(None)

    def _take(self, whole: JobState) -> None:
        """The job as the log says, and as far as this board knows it."""
        self._whole = whole
        candidates = self.engine.keys if self.engine else None
        lamps = self.engine.table.lamp_glow if self.engine else None
        self.state: JobState = of_this_board(whole, self._parts, candidates, lamps)

    @property
    def assessment(self) -> Assessment | None:
        """What the evidence says now, worked out when it is asked for; None without predictions."""
        if self.engine is not None and self._stale:
            self._stale = False
            self._assessment = self.engine.assess(
                self.evidence,
                self._symptoms(),
                self.facts,
                self.out_of_reach,
                self.state.chosen,
                self.clues,
            )
        return self._assessment


def _raise_first(refusals: Sequence[Refusal]) -> None:
    if refusals:
        raise UnsafeStepError(refusals[0].sentence, refusals[0].instead)
