"""What can happen in a job: typed, versioned, append-only events as plain data.

Taking something back is an event too (`Voided`); so is putting it back (`Restored`). Unknown fields
are refused on reading: a log from a newer version must not be half understood.
"""

from __future__ import annotations

import msgspec

from loose_rail.jobs.event import Event
from loose_rail.jobs.repair_events import (
    HandedBack as HandedBack,
    ItemTicked as ItemTicked,
    LampSeen as LampSeen,
    LightSeen as LightSeen,
    LoadRead as LoadRead,
    MethodChosen as MethodChosen,
    OfferTaken as OfferTaken,
    OriginalTold as OriginalTold,
    PartFitted as PartFitted,
    PartListed as PartListed,
    PartStruck as PartStruck,
    ReplacementChosen as ReplacementChosen,
    ReworkStepDone as ReworkStepDone,
    SoakEnded as SoakEnded,
    SoakLooked as SoakLooked,
    SoakStarted as SoakStarted,
    VerdictAccepted as VerdictAccepted,
    WayChosen as WayChosen,
)
from loose_rail.kernel.errors import JobError
from loose_rail.kernel.observation import Form
from loose_rail.vocabulary.board_state import state_of
from loose_rail.vocabulary.stage import Stage

VERSION = 4
"""2 adds what was measured at other reservoirs and the acknowledgement, 3 the pins of a jumper that
somebody has looked at, and what is told in words, 4 the list of what is replaced,
the way on that was chosen, soaks and the final list; all before are read as they are."""

STAGES = tuple(str(stage) for stage in Stage)


class JobOpened(Event, tag="job_opened", frozen=True):
    """A set was taken in."""

    ticket: str
    set_name: str
    board_id: str
    complaint: str
    spending_limit: float
    currency: str


class SymptomNoted(Event, tag="symptom_noted", frozen=True):
    """A structured symptom, confirmed by a person; `words` are the customer's."""

    symptom: str
    words: str
    hertz: float | None = None


class HistoryNoted(Event, tag="history_noted", frozen=True):
    """A fact of the set's history, confirmed by a person; `words` are the customer's."""

    fact: str
    words: str = ""


class FindingNoted(Event, tag="finding_noted", frozen=True):
    """What was seen on a part, or read at both ends of its cable; the last one of either counts."""

    part: str
    seen: str


class ClueNoted(Event, tag="clue_noted", frozen=True):
    """Something seen beside the meter. `clue` is lamp (`subject` a board state, `answer` a
    pattern), removed (a part; good, or bad, shorted or open where that is known), unplugged (a
    load; helped or no_change)."""

    clue: str
    subject: str
    answer: str


class WakeFound(Event, tag="wake_found", frozen=True):
    """How this board is woken was measured: `sense` is high or low; volts of the start pin asleep
    and asked for."""

    sense: str
    asleep_volts: float
    awake_volts: float


class PinsConfirmed(Event, tag="pins_confirmed", frozen=True):
    """Somebody looked at the board: the start pin and the pin it is joined to (0: ground) stand
    where the typed pinout says."""

    connector: str
    pin: int
    source_pin: int


class EntryTold(Event, tag="entry_told", frozen=True):
    """Something was said, seen, read or done, in words: an entry of a told job (docs/formats.md),
    such as did, what and result. What follows from it is worked out each time it is read."""

    entry: dict[str, str]


class StripStep(Event, tag="strip_step", frozen=True):
    """Something came off: how many of what, where; `group` is what kind of thing it is."""

    count: int
    kind_words: str
    place: str
    group: str
    latch: str = ""
    key_pin: str = ""
    colours: str = ""


class PutBack(Event, tag="put_back", frozen=True):
    """A step of the strip-down, counted from 1, was played back with so many parts."""

    step: int
    count: int


class LeftOver(Event, tag="left_over", frozen=True):
    """Something was left over at reassembly."""

    count: int
    kind_words: str


class DetailNoted(Event, tag="detail_noted", frozen=True):
    """Paperwork of the set: `detail` is customer, accessories, number_label, number_sticker,
    number_etched or order_by (which number counts for ordering); the last one counts."""

    detail: str
    text: str


class PhotoAdded(Event, tag="photo_added", frozen=True):
    """A photograph belongs to the job; `about` is such as stage:take_in, step:3, part:C205 or
    reading:4. Named again with the same `photo` (its digest), the last one counts."""

    photo: str
    about: str
    caption: str = ""


class PhotoPointed(Event, tag="photo_pointed", frozen=True):
    """A point on a photograph, as shares of its width and height from the top left."""

    photo: str
    x: float
    y: float
    words: str


class NoteWritten(Event, tag="note_written", frozen=True):
    """A note at a stage."""

    stage: str
    text: str


class StageEntered(Event, tag="stage_entered", frozen=True):
    """The person moved to a stage."""

    stage: str


class StateConfirmed(Event, tag="state_confirmed", frozen=True):
    """The board was put into a state: an effect in the world, never undone."""

    state: str


class BulkMeasured(Event, tag="bulk_measured", frozen=True):
    """Volts across the bulk capacitor with the plug out."""

    volts: float


class ReservoirMeasured(Event, tag="reservoir_measured", frozen=True):
    """Volts at the leads of another reservoir than the bulk, with the plug out."""

    part: str
    volts: float


class HazardAcknowledged(Event, tag="hazard_acknowledged", frozen=True):
    """The person has read what this kind of set stores, once a job; `hazard` is stored_energy."""

    hazard: str


class ReadingTaken(Event, tag="reading_taken", frozen=True):
    """A reading at a probe in a state. Trends without an end value have no `low` and `high`;
    open ends are told by the form. `printed` is what stands on the part, `seconds` how long a
    trend took."""

    probe: str
    state: str
    form: str
    unit: str
    low: float | None = None
    high: float | None = None
    hertz: float | None = None
    instrument: str = "typed"
    typed: str = ""
    printed: float | None = None
    seconds: float | None = None


class ProbeSkipped(Event, tag="probe_skipped", frozen=True):
    """A point can't be reached."""

    probe: str


class ProbeChosen(Event, tag="probe_chosen", frozen=True):
    """A person picked another probe than the offered one; holds until it is read or skipped."""

    candidate: str


class LessonForgotten(Event, tag="lesson_forgotten", frozen=True):
    """The outcome of this job no longer teaches the shop's priors; the job itself stays."""

    reason: str = ""


class Unreadable(Event, tag="unreadable", frozen=True):
    """Stands in the place of a stored event that is damaged: what kind it was, and why it can't be
    read. Never written."""

    was: str
    why: str


class Voided(Event, tag="voided", frozen=True):
    """Takes an earlier event back; it stays in the log and is shown struck through."""

    target: int
    reason: str = "taken back"


class Restored(Event, tag="restored", frozen=True):
    """Puts a voided event back."""

    target: int


AnyEvent = (
    JobOpened
    | SymptomNoted
    | HistoryNoted
    | FindingNoted
    | ClueNoted
    | WakeFound
    | PinsConfirmed
    | EntryTold
    | StripStep
    | PutBack
    | LeftOver
    | DetailNoted
    | PhotoAdded
    | PhotoPointed
    | NoteWritten
    | StageEntered
    | StateConfirmed
    | BulkMeasured
    | ReservoirMeasured
    | HazardAcknowledged
    | ReadingTaken
    | ProbeSkipped
    | ProbeChosen
    | VerdictAccepted
    | ReplacementChosen
    | WayChosen
    | PartListed
    | PartStruck
    | OfferTaken
    | ReworkStepDone
    | MethodChosen
    | PartFitted
    | LampSeen
    | OriginalTold
    | LightSeen
    | LoadRead
    | SoakStarted
    | SoakLooked
    | SoakEnded
    | ItemTicked
    | HandedBack
    | LessonForgotten
    | Unreadable
    | Voided
    | Restored
)


class Record(msgspec.Struct, frozen=True):
    """An event in its place in the log: number from 1, time as ISO 8601 in UTC, bench."""

    sequence: int
    at: str
    bench: str
    event: AnyEvent


_DECODER = msgspec.json.Decoder(AnyEvent)


def encode_event(event: AnyEvent) -> str:
    """An event as JSON text."""
    return msgspec.json.encode(event).decode()


def decode_event(text: str, version: int = VERSION) -> AnyEvent:
    """Read an event back. Raises JobError for text that is damaged or makes no sense, and for a
    newer version."""
    if version > VERSION:
        raise newer_than_this(version)
    try:
        event: AnyEvent = _DECODER.decode(text)
        _check_sense(event)
    except (msgspec.MsgspecError, UnicodeError, ValueError) as error:
        raise JobError(f"An event of this job can't be read: {error}.") from error
    return event


def newer_than_this(version: int) -> JobError:
    """The error of an event that a newer program has written."""
    return JobError(
        f"This job holds events of version {version}; this program reads up to {VERSION}.",
        "Open it with the newer program; nothing was changed.",
    )


def _check_sense(event: AnyEvent) -> None:
    """What no program of ours would have written. Raises ValueError."""
    if isinstance(event, StateConfirmed | ReadingTaken):
        state_of(event.state)
    if isinstance(event, ReadingTaken):
        Form(event.form)
    if isinstance(event, StageEntered | NoteWritten) and event.stage not in STAGES:
        raise ValueError(f"there is no stage “{event.stage}”")
    if isinstance(event, Voided | Restored) and event.target < 1:
        raise ValueError("it takes back nothing")
    if isinstance(event, Unreadable):
        raise ValueError("it was never whole")
