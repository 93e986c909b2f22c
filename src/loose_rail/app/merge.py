"""Two windows or programs on one job: the later one's entries follow those that were there first.

An entry that contradicts what was written meanwhile is not kept; who made it is told at once, with
both entries in words. Pure.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import msgspec

from loose_rail.jobs import events as ev
from loose_rail.jobs.event_words import words_of
from loose_rail.jobs.fold import extended, fold
from loose_rail.jobs.state import JobState

OF_THE_BOARD = (
    ev.ReadingTaken,
    ev.BulkMeasured,
    ev.ReservoirMeasured,
    ev.StateConfirmed,
    ev.LampSeen,
    ev.LightSeen,
    ev.LoadRead,
    ev.ReworkStepDone,
    ev.PartFitted,
)
"""What is true of the board in one state only."""
MOST_TOLD = 3


@dataclass(frozen=True, slots=True)
class Merged:
    """A log after two writers: all of it and what it folds to, which records of ours are new in it,
    which were refused, and what happened in a sentence."""

    records: tuple[ev.Record, ...]
    state: JobState
    ours: tuple[ev.Record, ...]
    refused: tuple[ev.Record, ...]
    words: str


def merged(
    stored: Sequence[ev.Record], known: int, unsaved: Sequence[ev.Record], aside: bool = False
) -> Merged:
    """Our unsaved records behind everything that is stored. `known` is how many records of the
    store we had seen; what follows them was written by others. `aside`: ours lie in a file beside
    the shop as well."""
    others = stored[known:]
    records = list(stored)
    state = fold(records)
    moved: dict[int, int] = {}
    ours: list[ev.Record] = []
    refused: list[ev.Record] = []
    for record in unsaved:
        if aside and any(_same(record, one) for one in others):
            continue  # another program took it up and saved it
        event = _retargeted(record.event, moved)
        if _contradicts(event, state, others):
            refused.append(record)
            continue
        placed = msgspec.structs.replace(record, sequence=len(records) + 1, event=event)
        moved[record.sequence] = placed.sequence
        records.append(placed)
        ours.append(placed)
        state = extended(state, records)
    return Merged(
        records=tuple(records),
        state=state,
        ours=tuple(ours),
        refused=tuple(refused),
        words=_told(others, ours, refused),
    )


def _same(one: ev.Record, other: ev.Record) -> bool:
    return (one.at, one.bench, one.event) == (other.at, other.bench, other.event)


def _retargeted(event: ev.AnyEvent, moved: dict[int, int]) -> ev.AnyEvent:
    """What takes back one of our own entries follows it to its new place."""
    if isinstance(event, ev.Voided | ev.Restored):
        return msgspec.structs.replace(event, target=moved.get(event.target, event.target))
    return event


def _contradicts(event: ev.AnyEvent, state: JobState, others: Sequence[ev.Record]) -> bool:
    """Whether an entry can't be true after what others wrote."""
    put = any(isinstance(one.event, ev.StateConfirmed) for one in others)
    lamp = isinstance(event, ev.ClueNoted) and event.clue == "lamp"
    if (isinstance(event, OF_THE_BOARD) or lamp) and put:
        return True
    if isinstance(event, ev.ReadingTaken) and event.state != state.board_state.key:
        return True
    if isinstance(event, ev.PartFitted):
        return any(one.event == event for one in others)
    return isinstance(event, ev.HandedBack) and state.handed_back is not None


def _told(
    others: Sequence[ev.Record], ours: Sequence[ev.Record], refused: Sequence[ev.Record]
) -> str:
    written = "; ".join(words_of(one.event) for one in others[-MOST_TOLD:])
    more = f" and {len(others) - MOST_TOLD} more" if len(others) > MOST_TOLD else ""
    said = [f"Another window wrote to this job meanwhile: {written}{more}."]
    if ours:
        said.append(f"Yours follows and is kept: {words_of(ours[-1].event)}.")
    if refused:
        lost = "; ".join(words_of(one.event) for one in refused)
        said.append(
            f"Not kept, because the board is in another state or it is done already: {lost}."
        )
    return " ".join(said)
