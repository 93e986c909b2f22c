"""What the shelf, the finder and the shop's lessons need of a job, without its log.

Written beside the events in their own transaction, and worked out again from them wherever it does
not fit: a summary is never the truth, only a shorter way to it.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import msgspec

from loose_rail.jobs import events as ev
from loose_rail.jobs.disassembly import WATCHED_GROUPS
from loose_rail.jobs.event_words import words_of
from loose_rail.jobs.fold import fold, voided_sequences
from loose_rail.jobs.state import JobState

SUMMARY_VERSION = 4
"""Rises when a field changes its meaning; older summaries are worked out again."""
FOUND_DETAILS = ("number_label", "number_sticker", "number_etched", "accessories")
"""Paperwork that the finder shows. The customer's name is not among it: a screen at the counter is
seen by others."""


class Summary(msgspec.Struct, frozen=True, kw_only=True):
    """A job in a few words. `events` is the length of its log, `lost` why it can't be read (then
    only `job` and `events` are true)."""

    job: int
    events: int
    lost: str = ""
    ticket: str = ""
    set_name: str = ""
    board_id: str = ""
    complaint: str = ""
    opened_at: str = ""
    last_at: str = ""
    stage: str = "take_in"
    part: str = ""
    """Part of the accepted verdict, empty where it names none."""
    title: str = ""
    suspect: str = ""
    fitted: tuple[str, ...] = ()
    proved: str | None = None
    """Level of proof that the set was handed back with; None while the job is open."""
    teaches: bool = False
    """Whether it ended at a repaired fault that was not told to be forgotten."""
    soak_until: str = ""
    next_look: str = ""
    """When a running soak has had its hours, and when somebody has to look, ISO in UTC."""
    way: str = ""
    """How it went on, as in `WayChosen`; empty where none was chosen."""
    follows: int = 0
    came_back: bool = False
    same_fault: str = ""
    """The job that it follows from, whether as a set that came back, and, once that was decided,
    with the same fault or another one."""
    follow_up: str = ""
    """The day to ask how the set does, ISO; empty where none was named."""
    makes: tuple[str, ...] = ()
    """Makes of the parts that were fitted, where they were typed."""
    watched: tuple[str, ...] = ()
    """What to watch for when such a set is taken apart again, each in words."""


def summary_of(job: int, records: Sequence[ev.Record], state: JobState | None = None) -> Summary:
    """The summary of a job's log; `state` is the folded log where it is known already. Raises
    JobError for a log that does not start properly."""
    state = state or fold(records)
    verdict, handed = state.verdict, state.handed_back
    suspect = verdict.suspect if verdict else ""
    soak = state.running_soak
    decided = next((one.words for one in state.ticked if one.item == "came_back"), "")
    return Summary(
        job=job,
        events=len(records),
        ticket=state.ticket,
        set_name=state.set_name,
        board_id=state.board_id,
        complaint=state.complaint,
        opened_at=state.opened_at,
        last_at=max(record.at for record in records),
        stage=state.stage,
        part=verdict.part if verdict else "",
        title=verdict.title if verdict else "",
        suspect=suspect,
        fitted=state.fitted,
        proved=handed.level_of_proof if handed else None,
        teaches=bool(suspect and handed and handed.repaired and not state.forgotten),
        soak_until=soak.until() if soak else "",
        next_look=soak.next_look() if soak else "",
        way=state.way.way if state.way else "",
        follows=int(state.detail("follows") or 0),
        came_back=state.detail("follows_as") == "came_back",
        same_fault=decided,
        follow_up=state.detail("follow_up"),
        makes=state.makes,
        watched=tuple(_watched(state)),
    )


def _watched(state: JobState) -> Iterator[str]:
    """Notes at the strip-down, hidden leads and glued boards, and what was left over."""
    yield from (step.words for step in state.steps if step.event.group in WATCHED_GROUPS)
    yield from (text.rstrip(".") for stage, text, _ in state.notes if stage == "strip_down")
    yield from (f"surplus: {item.count} {item.kind_words}" for item in state.left_over)


def find_texts(records: Sequence[ev.Record]) -> tuple[str, ...]:
    """Every text of a job that stands: one for each thing that was said, seen, read or done."""
    gone = voided_sequences(records)
    every = (_text_of(record.event) for record in records if record.sequence not in gone)
    return tuple(text for text in every if text)


def _text_of(event: ev.AnyEvent) -> str:
    match event:
        case ev.JobOpened():
            return f"{event.ticket} {event.set_name} {event.board_id} {event.complaint}"
        case ev.NoteWritten():
            return event.text
        case ev.DetailNoted() if event.detail in FOUND_DETAILS:
            return event.text
        case ev.PhotoPointed():
            return event.words
        case ev.PhotoAdded():
            return event.caption
        case ev.SymptomNoted():
            return f"{event.symptom.replace('_', ' ')} {event.words}"
        case ev.HistoryNoted():
            return f"{event.fact.replace('_', ' ')} {event.words}"
        case ev.StripStep():
            return f"{event.count} {event.kind_words} {event.place}"
        case ev.VerdictAccepted():
            return f"{event.part} {event.title}"
        case ev.ReadingTaken() | ev.FindingNoted() | ev.PartFitted():
            return words_of(event)
        case _:
            return ""
