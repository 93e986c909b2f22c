"""A job that follows from another one: a set that came back, or its second fault parked."""

from __future__ import annotations

from enum import StrEnum

from loose_rail.app.papers import NUMBERS
from loose_rail.app.ports import Clock, Store
from loose_rail.app.settings import MAINS_DETAIL
from loose_rail.app.taking_in import next_ticket
from loose_rail.diagnosis.evidence.customer_words import proposals
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import fold
from loose_rail.jobs.state import JobState
from loose_rail.jobs.summary import find_texts, summary_of
from loose_rail.kernel.errors import JobError

FOLLOWS, FOLLOWS_AS = "follows", "follows_as"
"""Details that name the job that this one follows from, and why it does."""
CARRIED = (*(key for key, _ in NUMBERS), "order_by", "accessories", "customer", MAINS_DETAIL)
"""Paperwork that is that of the set, not of the job."""


class Why(StrEnum):
    """Why a job follows another."""

    CAME_BACK = "came_back"
    SECOND_FAULT = "second_fault"


def follow(store: Store, clock: Clock, job: int, why: Why, complaint: str) -> int:
    """Open the job and say its number; what was found out of the set goes with it. Raises JobError
    where nothing is said of what the set does, or it was not handed back; StoreError."""
    words = " ".join(complaint.split())
    if not words:
        raise JobError("What does it do?", "Type what is said of it, as at take in.")
    earlier = fold(store.load(job))
    if why is Why.CAME_BACK and earlier.handed_back is None:
        raise JobError(
            f"Job {earlier.ticket} has not been handed back.", "Go on with it where it was left."
        )
    number = store.new_job_number()
    records = [
        ev.Record(place, clock.now(), "bench 1", event)
        for place, event in enumerate(_events(store, job, earlier, why, words), start=1)
    ]
    store.append(number, records, summary_of(number, records), find_texts(records))
    return number


def _events(store: Store, job: int, earlier: JobState, why: Why, words: str) -> list[ev.AnyEvent]:
    found: list[ev.AnyEvent] = [
        ev.JobOpened(
            ticket=next_ticket(store.jobs()),
            set_name=earlier.set_name,
            board_id=earlier.board_id,
            complaint=words,
            spending_limit=earlier.spending_limit,
            currency=earlier.currency,
        ),
        ev.DetailNoted(FOLLOWS, str(job)),
        ev.DetailNoted(FOLLOWS_AS, str(why)),
    ]
    found += [ev.DetailNoted(key, earlier.detail(key)) for key in CARRIED if earlier.detail(key)]
    found += [one for one in (earlier.wake, earlier.pins) if one is not None]
    for one in proposals(words):
        if one.is_history:
            found.append(ev.HistoryNoted(one.kind, one.phrase))
        else:
            found.append(ev.SymptomNoted(one.kind, one.phrase, one.hertz))
    return found


def record_words(earlier: JobState) -> str:
    """What was done to the set last time, in a sentence."""
    fitted = f"{', '.join(earlier.fitted)} replaced" if earlier.fitted else "nothing was replaced"
    handed = earlier.handed_back
    shown = f"; handed back {handed.level_of_proof}" if handed else "; still open"
    return f"job {earlier.ticket} of {earlier.opened_at[:10]}: {fitted}{shown}"
