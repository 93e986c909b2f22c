"""From the log to the state of the job: pure, in order, without the events taken back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from loose_rail.jobs import events as ev
from loose_rail.jobs.event_words import words_of
from loose_rail.jobs.observations import observation_of
from loose_rail.jobs.strip_down import Step, steps_of
from loose_rail.kernel.errors import JobError
from loose_rail.kernel.observation import Observation
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
    clues: tuple[ev.ClueNoted, ...] = ()
    wake: ev.WakeFound | None = None
    details: tuple[ev.DetailNoted, ...] = ()
    photos: tuple[ev.PhotoAdded, ...] = ()
    photo_points: tuple[ev.PhotoPointed, ...] = ()
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

    def detail(self, name: str) -> str:
        """A detail of the paperwork, empty where it was not noted."""
        return next((one.text for one in self.details if one.detail == name), "")

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
    return _with_words(state, records, gone)


def _with_words(state: JobState, records: Sequence[ev.Record], gone: set[int]) -> JobState:
    """With what looks at the whole log: the strip-down, and what undo and redo would do."""
    undo, redo = undo_target(records), redo_target(records)
    return replace(
        state,
        steps=tuple(steps_of(records, gone)),
        undo_words=words_of(undo.event) if undo else "",
        redo_words=words_of(redo.event) if redo else "",
    )


def extended(state: JobState, records: Sequence[ev.Record]) -> JobState:
    """The state after one more record, the last of `records`; the same as folding all of them.

    What takes back or puts back changes the past: then everything is folded again.
    """
    last = records[-1]
    if len(records) < 2 or isinstance(last.event, ev.Voided | ev.Restored):
        return fold(records)
    state = replace(_apply(state, last, False), last_at=last.at)
    return _with_words(state, records, voided_sequences(records))


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


ONE_OF = (("outlet_tried", "outlet_dead"), ("reset_tried", "reset_helped"))
"""Answers to one question: the last one counts, and taking it back brings the one before it."""


def _apply_paperwork(state: JobState, record: ev.Record, event: ev.AnyEvent) -> JobState:
    if isinstance(event, ev.StageEntered):
        return replace(state, stage=event.stage, visited=state.visited | {event.stage})
    if isinstance(event, ev.SymptomNoted):
        return replace(state, symptoms=(*state.symptoms, event))
    if isinstance(event, ev.HistoryNoted):
        answers = next((pair for pair in ONE_OF if event.fact in pair), ())
        rest = tuple(one for one in state.history if one.fact not in answers)
        return replace(state, history=(*rest, event))
    if isinstance(event, ev.FindingNoted):
        others = tuple(one for one in state.findings if one.part != event.part)
        return replace(state, findings=(*others, event))
    if isinstance(event, ev.ClueNoted):
        kept = tuple(
            one for one in state.clues if (one.clue, one.subject) != (event.clue, event.subject)
        )
        return replace(state, clues=(*kept, event))
    if isinstance(event, ev.WakeFound):
        return replace(state, wake=event)
    if isinstance(event, ev.DetailNoted | ev.PhotoAdded | ev.PhotoPointed):
        return _apply_papers(state, event)
    if isinstance(event, ev.NoteWritten):
        return replace(state, notes=(*state.notes, (event.stage, event.text, record.at)))
    if isinstance(event, ev.ProbeSkipped):
        return replace(state, skipped=(*state.skipped, event.probe), chosen="")
    if isinstance(event, ev.ProbeChosen):
        return replace(state, chosen=event.candidate)
    return _apply_repair(state, record, event)


def _apply_papers(
    state: JobState, event: ev.DetailNoted | ev.PhotoAdded | ev.PhotoPointed
) -> JobState:
    if isinstance(event, ev.DetailNoted):
        rest = tuple(one for one in state.details if one.detail != event.detail)
        return replace(state, details=(*rest, event) if event.text else rest)
    if isinstance(event, ev.PhotoPointed):
        return replace(state, photo_points=(*state.photo_points, event))
    if any(one.photo == event.photo for one in state.photos):
        kept = tuple(event if one.photo == event.photo else one for one in state.photos)
        return replace(state, photos=kept)
    return replace(state, photos=(*state.photos, event))


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
