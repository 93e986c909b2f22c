"""From the log to the state of the job: pure, in order, without the events taken back."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from loose_rail.jobs import events as ev
from loose_rail.jobs.strip_down import Step, steps_of
from loose_rail.kernel.errors import JobError
from loose_rail.kernel.observation import Form, Observation
from loose_rail.live.board_state import UNPLUGGED, BoardState, state_of


@dataclass(frozen=True, slots=True)
class Reading:
    """A reading in the ledger: `number` counts from 1 and never changes, voided ones included."""

    number: int
    sequence: int
    at: str
    probe: str
    state: BoardState
    observation: Observation
    instrument: str
    after_repair: bool
    voided: bool

    @property
    def candidate(self) -> str:
        """Key of the candidate that was read."""
        return f"{self.probe}@{self.state.key}"


@dataclass(frozen=True, slots=True)
class JobState:
    """Everything a screen needs to know of a job."""

    ticket: str = ""
    set_name: str = ""
    board_id: str = ""
    complaint: str = ""
    spending_limit: float = 0.0
    currency: str = ""
    opened_at: str = ""
    last_at: str = ""
    stage: str = "take_in"
    visited: frozenset[str] = frozenset()
    symptoms: tuple[ev.SymptomNoted, ...] = ()
    history: tuple[ev.HistoryNoted, ...] = ()
    findings: tuple[ev.FindingNoted, ...] = ()
    notes: tuple[tuple[str, str, str], ...] = ()
    board_state: BoardState = UNPLUGGED
    state_known: bool = False
    bulk_volts: float | None = None
    readings: tuple[Reading, ...] = ()
    skipped: tuple[str, ...] = ()
    chosen: str = ""
    verdict: ev.VerdictAccepted | None = None
    replacement: ev.ReplacementChosen | None = None
    rework_done: tuple[str, ...] = ()
    fitted: tuple[str, ...] = ()
    fitted_at: str = ""
    lamp_seen: str = ""
    handed_back: ev.HandedBack | None = None
    forgotten: bool = False
    steps: tuple[Step, ...] = ()
    left_over: tuple[ev.LeftOver, ...] = ()
    undo_words: str = ""
    redo_words: str = ""

    @property
    def live_readings(self) -> tuple[Reading, ...]:
        """Readings that count: not taken back."""
        return tuple(reading for reading in self.readings if not reading.voided)

    @property
    def evidence(self) -> tuple[Reading, ...]:
        """Readings that count for the diagnosis: before the repair and not taken back."""
        return tuple(r for r in self.live_readings if not r.after_repair)

    @property
    def proof_readings(self) -> tuple[Reading, ...]:
        """Readings after the repair."""
        return tuple(r for r in self.live_readings if r.after_repair)


def voided_sequences(records: Sequence[ev.Record]) -> set[int]:
    """Sequence numbers of the events that stand taken back."""
    gone: set[int] = set()
    for record in records:
        if isinstance(record.event, ev.Voided):
            gone.add(record.event.target)
        elif isinstance(record.event, ev.Restored):
            gone.discard(record.event.target)
    return gone


def fold(records: Sequence[ev.Record]) -> JobState:
    """The state of a job after its log. Raises JobError for a log that does not start properly."""
    if not records or not isinstance(records[0].event, ev.JobOpened):
        raise JobError("The log of this job does not start with its opening.")
    gone = voided_sequences(records)
    state = JobState()
    for record in records:
        voided = record.sequence in gone
        if voided and not isinstance(record.event, ev.ReadingTaken):
            continue
        state = replace(_apply(state, record, voided), last_at=record.at)
    undo, redo = undo_target(records), redo_target(records)
    return replace(
        state,
        steps=tuple(steps_of(records, gone)),
        undo_words=words_of(undo.event) if undo else "",
        redo_words=words_of(redo.event) if redo else "",
    )


def _apply(state: JobState, record: ev.Record, voided: bool) -> JobState:
    event = record.event
    if isinstance(event, ev.ReadingTaken):
        return _add_reading(state, record, event, voided)
    if isinstance(event, ev.JobOpened):
        return replace(
            state,
            ticket=event.ticket,
            set_name=event.set_name,
            board_id=event.board_id,
            complaint=event.complaint,
            spending_limit=event.spending_limit,
            currency=event.currency,
            opened_at=record.at,
        )
    if isinstance(event, ev.StateConfirmed):
        return _confirm_state(state, state_of(event.state))
    if isinstance(event, ev.BulkMeasured):
        return replace(state, bulk_volts=event.volts)
    return _apply_paperwork(state, record, event)


def _apply_paperwork(state: JobState, record: ev.Record, event: ev.AnyEvent) -> JobState:
    if isinstance(event, ev.StageEntered):
        return replace(state, stage=event.stage, visited=state.visited | {event.stage})
    if isinstance(event, ev.SymptomNoted):
        return replace(state, symptoms=(*state.symptoms, event))
    if isinstance(event, ev.HistoryNoted):
        return replace(state, history=(*state.history, event))
    if isinstance(event, ev.FindingNoted):
        others = tuple(one for one in state.findings if one.part != event.part)
        return replace(state, findings=(*others, event))
    if isinstance(event, ev.NoteWritten):
        return replace(state, notes=(*state.notes, (event.stage, event.text, record.at)))
    if isinstance(event, ev.ProbeSkipped):
        return replace(state, skipped=(*state.skipped, event.probe), chosen="")
    if isinstance(event, ev.ProbeChosen):
        return replace(state, chosen=event.candidate)
    return _apply_repair(state, record, event)


def _apply_repair(state: JobState, record: ev.Record, event: ev.AnyEvent) -> JobState:
    if isinstance(event, ev.VerdictAccepted):
        return replace(state, verdict=event)
    if isinstance(event, ev.ReplacementChosen):
        return replace(state, replacement=event)
    if isinstance(event, ev.ReworkStepDone):
        return replace(state, rework_done=(*state.rework_done, event.step))
    if isinstance(event, ev.PartFitted):
        return replace(state, fitted=(*state.fitted, event.part), fitted_at=record.at)
    if isinstance(event, ev.LampSeen):
        return replace(state, lamp_seen=event.pattern)
    if isinstance(event, ev.HandedBack):
        return replace(state, handed_back=event)
    if isinstance(event, ev.LessonForgotten):
        return replace(state, forgotten=True)
    if isinstance(event, ev.LeftOver):
        return replace(state, left_over=(*state.left_over, event))
    return state


def _confirm_state(state: JobState, target: BoardState) -> JobState:
    """A confirmed state; pulling the plug makes the bulk unknown until it is measured."""
    was_plugged = state.board_state.plugged or not state.state_known
    bulk = state.bulk_volts if not target.plugged and not was_plugged else None
    return replace(state, board_state=target, state_known=True, bulk_volts=bulk)


def _add_reading(
    state: JobState, record: ev.Record, event: ev.ReadingTaken, voided: bool
) -> JobState:
    reading = Reading(
        number=len(state.readings) + 1,
        sequence=record.sequence,
        at=record.at,
        probe=event.probe,
        state=state_of(event.state),
        observation=observation_of(event),
        instrument=event.instrument,
        after_repair=bool(state.fitted),
        voided=voided,
    )
    chosen = state.chosen if voided else ""
    return replace(state, readings=(*state.readings, reading), chosen=chosen)


def observation_of(event: ev.ReadingTaken) -> Observation:
    """The observation that an event carries; open ends come back as infinities."""
    form = Form(event.form)
    low = math.nan if event.low is None else event.low
    high = math.nan if event.high is None else event.high
    if form is Form.OPEN:
        low = high = math.inf
    elif event.low is not None and event.high is None:
        high = math.inf
    return Observation(form, low, high, event.unit, event.hertz)


def reading_event(
    probe: str, state: BoardState, seen: Observation, instrument: str, typed: str
) -> ev.ReadingTaken:
    """The event that carries an observation; infinities and NaN are left out of the JSON."""
    return ev.ReadingTaken(
        probe=probe,
        state=state.key,
        form=str(seen.form),
        unit=seen.unit,
        low=seen.low if math.isfinite(seen.low) else None,
        high=seen.high if math.isfinite(seen.high) else None,
        hertz=seen.hertz,
        instrument=instrument,
        typed=typed,
    )


NOT_UNDOABLE = (ev.JobOpened, ev.StateConfirmed, ev.Voided, ev.Restored, ev.StageEntered)


def undo_target(records: Sequence[ev.Record]) -> ev.Record | None:
    """The event that undo would take back: the last one that can be and stands.

    Confirmed states stay: what was done to the board is not undone by a key.
    """
    gone = voided_sequences(records)
    for record in reversed(records):
        if record.sequence not in gone and not isinstance(record.event, NOT_UNDOABLE):
            return record
    return None


def redo_target(records: Sequence[ev.Record]) -> ev.Record | None:
    """The event that redo would put back: the last one taken back, if nothing new came since."""
    gone = voided_sequences(records)
    for record in reversed(records):
        if isinstance(record.event, ev.Voided) and record.event.target in gone:
            return next(r for r in records if r.sequence == record.event.target)
        if not isinstance(record.event, (ev.Voided, ev.Restored, ev.StageEntered)):
            return None
    return None


def words_of(event: ev.AnyEvent) -> str:
    """An event in a few words, for undo, redo and the history."""
    if isinstance(event, ev.ReadingTaken):
        return f"reading {observation_of(event).text()} at {event.probe.removeprefix('live.')}"
    if isinstance(event, ev.BulkMeasured):
        return f"bulk reading {event.volts:g} V"
    if isinstance(event, ev.ProbeSkipped):
        return f"can't reach {event.probe}"
    if isinstance(event, ev.ProbeChosen):
        return f"choice of {event.candidate.split('@')[0].removeprefix('live.')}"
    if isinstance(event, ev.VerdictAccepted):
        return f"verdict {event.title}"
    if isinstance(event, ev.ReplacementChosen):
        return f"replacement for {event.part}"
    if isinstance(event, ev.ReworkStepDone):
        return f"rework step {event.step}"
    if isinstance(event, ev.PartFitted):
        return f"{event.part} fitted"
    return _plain_words(event)


def _plain_words(event: ev.AnyEvent) -> str:
    if isinstance(event, ev.NoteWritten):
        return "note"
    if isinstance(event, ev.SymptomNoted):
        return f"symptom {event.symptom.replace('_', ' ')}"
    if isinstance(event, ev.HistoryNoted):
        return f"history {event.fact.replace('_', ' ')}"
    if isinstance(event, ev.FindingNoted):
        return f"{event.part} {event.seen.replace('_', ' ')}"
    if isinstance(event, ev.LampSeen):
        return f"lamp {event.pattern.replace('_', ', then ')}"
    if isinstance(event, ev.HandedBack):
        return "hand back"
    if isinstance(event, ev.LessonForgotten):
        return "forgetting what this job taught"
    if isinstance(event, ev.StripStep | ev.LeftOver):
        return f"{event.count} {event.kind_words}"
    if isinstance(event, ev.PutBack):
        return f"step {event.step} put back"
    return event.__struct_config__.tag.__str__().replace("_", " ")
