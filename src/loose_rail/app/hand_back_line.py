"""A typed line of the hand-back page: a point of the final list, costs, warranty, the name."""

from __future__ import annotations

import re
from datetime import date

from loose_rail.app.handing_over import enter_final_line
from loose_rail.app.other_jobs import OtherJobs
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.jobs import events as ev

COSTS = {"parts": "cost_parts", "carriage": "cost_carriage", "hours": "cost_hours"}
TEXTS = {"warranty": "warranty", "follow": "follow_up"}
"""What is promised, and when to ask how the set does."""
NAME = "print_name"
"""The detail that says whether the customer's name is printed."""
PHOTOS = "print_photos"
"""The detail that says whether photographs are printed."""
_AMOUNT = re.compile(r"\d{1,6}(\.\d{1,2})?")


def enter_hand_back_line(session: JobSession, text: str, others: OtherJobs) -> Outcome:
    """What was typed, taken or told why not."""
    word, _, rest = text.strip().partition(" ")
    word, rest = word.lower(), rest.strip()
    if word in COSTS:
        if not _AMOUNT.fullmatch(rest):
            return Outcome.refused(f"{word} wants a plain number: {word} 6.20.")
        session.record(ev.DetailNoted(COSTS[word], rest))
        return Outcome(f"{word.capitalize()}: {rest}.")
    if word in TEXTS:
        if word == "follow" and rest and not _is_day(rest):
            return Outcome.refused("The day to ask again is a date: follow 2027-01-15.")
        session.record(ev.DetailNoted(TEXTS[word], rest))
        return Outcome(f"{word.capitalize()}: {rest or 'none'}.")
    if word == "second":
        return others.park(session, rest)
    if word == "name" and rest in ("on", "off"):
        session.record(ev.DetailNoted(NAME, "on" if rest == "on" else ""))
        printed = "printed" if rest == "on" else "not printed"
        return Outcome(f"The customer's name is {printed} on the sheet.")
    if word == "photos" and rest in ("on", "off"):
        session.record(ev.DetailNoted(PHOTOS, "on" if rest == "on" else ""))
        count = len(session.state.photos)
        return Outcome(
            f"{count} photographs of the job are {'' if rest == 'on' else 'not '}printed."
        )
    return enter_final_line(session, text)


def _is_day(text: str) -> bool:
    try:
        return date.fromisoformat(text).isoformat() == text
    except ValueError:
        return False
