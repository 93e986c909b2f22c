"""One open job: takes commands, appends events, keeps the folded state and the assessment.

The log in memory is the truth of the window; every event is written before the command returns. A
write that fails is kept, said, and tried again: nothing accepted is lost.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from loose_rail.app.ports import Clock, Hands, Store
from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board
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
from loose_rail.diagnosis.posterior import Evidence
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
from loose_rail.judgement.safety import (
    Refusal,
    SafetyFacts,
    probe_refusals,
    reference_refusals,
    state_refusals,
)
from loose_rail.judgement.transitions import Instruction, instructions
from loose_rail.kernel.errors import StoreError, UnsafeStepError
from loose_rail.kernel.observation import Observation
from loose_rail.kernel.signal import Signal
from loose_rail.live.board_state import UNPLUGGED, BoardState


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
        self.judgements.clear()
        self._assess()
        self.changed.emit(None)

    @property
    def evidence(self) -> list[Evidence]:
        """The readings that count for the diagnosis."""
        return evidence_of(self.state.evidence)

    @property
    def clues(self) -> tuple[Clue, ...]:
        """What is known beside readings and symptoms: history, findings, the shop's own jobs."""
        if self.engine is None:
            return ()
        table = self.engine.table
        found = [history_clue(table, one.fact) for one in self.state.history]
        found += [finding_clue(table, one.part, one.seen) for one in self.state.findings]
        found += [noted_clue(table, one) for one in self.state.clues]
        learned = learned_clue(table, self.closed_jobs)
        return (*found, learned) if learned is not None else tuple(found)

    @property
    def all_clues(self) -> tuple[Clue, ...]:
        """The same with the symptoms, for explanations."""
        if self.engine is None:
            return ()
        table = self.engine.table
        symptoms = [Symptom(s.symptom, s.hertz) for s in self.state.symptoms]
        return (*(symptom_clue(table, one) for one in symptoms), *self.clues)

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
        """What the safety rules may rely on. An unknown state counts as plugged nowhere, drained
        never: the bulk must be measured first."""
        return SafetyFacts(
            self.state.board_state, self.state.bulk_volts, self.primary_short_excluded
        )

    @property
    def primary_short_excluded(self) -> bool:
        """The bulk was read and is no short, and the posterior leaves no room for one."""
        if self.assessment is None or self.engine is None:
            return False
        return short_excluded(
            self.engine.table,
            self.assessment.probabilities,
            evidence_of(self.state.live_readings),
            self.state.lamp_seen,
        )

    @property
    def drained(self) -> bool:
        """Measured below the limit since the plug was pulled."""
        volts = self.state.bulk_volts
        return (
            not self.state.board_state.plugged
            and volts is not None
            and abs(volts) < limit("drained_volts")
        )

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
        return instructions(self.board, now, target, self.drained, dead)

    # ---- commands --------------------------------------------------------------------------

    def confirm_state(self, target: BoardState) -> None:
        """Record that the board has been put into a state. Raises UnsafeStepError."""
        by_way = SafetyFacts(UNPLUGGED, self.state.bulk_volts, self.primary_short_excluded)
        _raise_first(state_refusals(self.board, target, by_way))
        self._do(ev.StateConfirmed(target.key))
        if self._hands is not None:
            self._hands.put(target.key)

    def measure_bulk(self, volts: float) -> None:
        """Record the volts across the bulk with the plug out. Raises UnsafeStepError while the
        board is recorded as plugged in."""
        if self.state.board_state.plugged:
            raise UnsafeStepError(
                "The board is recorded as plugged in.", "Pull the plug and confirm it first."
            )
        self._do(ev.BulkMeasured(volts))

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
            evidence_of(self.state.evidence),
            [Symptom(s.symptom, s.hertz) for s in self.state.symptoms],
            SafetyFacts(self.state.board_state, self.state.bulk_volts, self.primary_short_excluded),
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
