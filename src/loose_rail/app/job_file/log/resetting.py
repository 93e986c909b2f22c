"""The mains taken off for a while, a setting put right, dirt taken off: what a reset may mean."""

from __future__ import annotations

import re

from loose_rail.app.job_file.log.entries import Did
from loose_rail.app.job_file.log.outcomes import outcome
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.diagnosis.evidence.deed_clues import elsewhere_found_clue
from loose_rail.diagnosis.evidence.soft_evidence import replaced_clue, works_clue
from loose_rail.diagnosis.evidence.unlisted_clues import unlisted_renewed
from loose_rail.jobs import events as ev

_SETTING = re.compile(
    r"\b((key|child|hotel|button) ?lock|menu|settings?|channels?|search|aerial|(sleep|off) timer|"
    r"batter\w+|mute|volume|brightness|(eco|shop|store|hotel|demo) mode|pairing|"
    r"(wrong|right|other) input|input (source|selection|changed|switched|set|was))\b",
    re.IGNORECASE,
)
"""What was set otherwise, and is no fault."""


_MAINS_OFF = re.compile(r"\b(plug|mains|unplugged|power|cord|outlet|socket)\b", re.IGNORECASE)


def reset(teller: Teller, deed: Did) -> None:
    """The mains off for a while, or a setting, or dirt that was taken off: did it help?"""
    helped = outcome(deed.result)
    if helped is None:
        teller.leave(f"reset: {deed.result}", "did it come back, or not?")
        return
    if _SETTING.search(deed.what) and not _MAINS_OFF.search(deed.what):
        if helped:
            said = f"{deed.what}: {deed.result}"
            teller.begin_anew()
            teller.aside(works_clue(teller.table, said), deed.number)
            teller.aside(elsewhere_found_clue(teller.table, said), deed.number)
        teller.understand(f"{deed.what}: {'it is well' if helped else 'no change'}")
        return
    cleaned = _CLEANED.search(deed.what)
    airy = cleaned is not None and _AIR.search(f"{deed.what} {deed.result}") is not None
    if airy and helped:
        said = f"{deed.what}: {deed.result}"
        teller.begin_anew()
        teller.aside(works_clue(teller.table, said), deed.number)
        teller.aside(elsewhere_found_clue(teller.table, said), deed.number)
        teller.understand(f"{said}: it had no air")
        return
    if cleaned is not None:
        _cleaned(teller, deed, deed.what[: cleaned.start()].strip(" ,"), helped)
        return
    teller.record(ev.HistoryNoted("reset_helped" if helped else "reset_tried", deed.result))
    if helped:
        said = f"{deed.what}: {deed.result}"
        teller.begin_anew()
        teller.aside(works_clue(teller.table, said), deed.number)
        if _SETTING.search(said):
            teller.aside(elsewhere_found_clue(teller.table, said), deed.number)
    teller.understand(f"reset: {'it came back' if helped else 'no change'}")


_AIR = re.compile(r"\b(fans?|grilles?|vents?|ventilation|air|dust|fluff)\b", re.IGNORECASE)
"""What lets a set breathe: dirt there is no fault of a board."""
_CLEANED = re.compile(r"\b(cleaned|washed|rinsed|scrubbed|brushed|dried|cleaning|wiped)\b", re.I)


def _cleaned(teller: Teller, deed: Did, place: str, helped: bool) -> None:
    """Dirt or liquid was taken off a place, and the set is well, or it is not: the place had it."""
    parts = teller.parts(place) if place else []
    if len(parts) == 1:
        teller.aside(replaced_clue(teller.table, parts[0], helped), deed.number)
    else:
        name = f"dirt at {place}" if place else "dirt on the board"
        teller.aside(unlisted_renewed(teller.table, name, helped), deed.number)
    teller.understand(f"{deed.what}: {'it is well' if helped else 'no change'}")
