"""The soak of a repaired set: begun in the set, switched on, somebody there; looked at, ended."""

from __future__ import annotations

import re

from loose_rail.app.outcome import Outcome
from loose_rail.app.proving import proof
from loose_rail.app.session import JobSession
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.whole_board import renewed
from loose_rail.diagnosis.proof.soaked import (
    LOOK_MINUTES,
    SoakPlan,
    soak_plan,
    soak_with_readings,
)
from loose_rail.diagnosis.proof.standing import ProofStatus
from loose_rail.jobs import events as ev
from loose_rail.jobs.soak import Soak
from loose_rail.kernel.wall_clock import clock_words, moment
from loose_rail.vocabulary.board_state import Power

LINE = re.compile(
    r"soak(?:\s+(\d+(?:\.\d+)?)\s*h?)?(?:\s+every\s+(\d+)\s*(?:min)?)?", re.IGNORECASE
)
MOST_HOURS, MOST_MINUTES, LEAST_MINUTES = 200.0, 120.0, 5.0
"""Longer gaps are no attendance [E]."""
NEVER_ALONE = (
    "Never unattended: somebody in the room, nothing on or beside it that burns. Leaving the room "
    "pulls the plug."
)


def soak_now(session: JobSession) -> Soak | None:
    """The last soak of the set as it is, with what was read meanwhile."""
    review = session.review
    return soak_with_readings(review.table, session.state) if review is not None else None


def plan_now(session: JobSession) -> SoakPlan:
    """What a soak is worth after this repair."""
    board = session.board
    new = renewed(board, session.state.fitted)
    aged = {part.ref for part in board.components if is_a(part, Trait.ELECTROLYTIC)}
    return soak_plan(session.state, soak_now(session), bool(aged - new))


def start_soak(session: JobSession, hours: float = 0.0, minutes: float = LOOK_MINUTES) -> Outcome:
    """The soak begins; `hours` 0 takes the plan's."""
    state = session.state
    if proof(session).status is not ProofStatus.SHOWN:
        return Outcome.refused("First the proof: nothing after the repair is shown to work yet.")
    if state.board_state.power is not Power.ON or state.board_state.without:
        return Outcome.refused("A soak is in the set, switched on, all cables on: do that first.")
    if state.board_state.lamp_watts:
        return Outcome.refused("A soak is without the limiter: it would hold the load back.")
    planned = hours or plan_now(session).hours
    if not (0.0 < planned <= MOST_HOURS and LEAST_MINUTES <= minutes <= MOST_MINUTES):
        return Outcome.refused("A soak is up to 200 h, looked at every 5 to 120 minutes.")
    session.record(ev.SoakStarted(round(planned, 1), minutes))
    return Outcome(f"Soak of {planned:.1f} h, a look every {minutes:.0f} min. {NEVER_ALONE}")


def look(session: JobSession, good: bool, words: str = "") -> Outcome:
    """Somebody looked: it runs as it should, or not."""
    soak = session.state.soak
    if soak is None or not soak.running:
        return Outcome.refused("No soak is running.")
    if not good and not words:
        return Outcome.refused("Say what is not as it should: bad flickers after warming up.")
    session.record(ev.SoakLooked(good, words))
    if not good:
        return Outcome.warned("Not repaired. Pull the plug (U) before you go on.")
    found = soak_now(session)
    hours = found.attended_hours if found else 0.0
    return Outcome(f"Looked: {hours:.1f} h attended; next look at {clock_words(_due(session))}.")


def look_due(session: JobSession) -> str:
    """That somebody has to look, or that the agreed hours are over; empty while neither is so."""
    soak = session.state.soak
    if soak is None or not soak.running:
        return ""
    found = soak_now(session) or soak
    if found.attended_hours >= found.hours:
        return f"The soak has had its {found.hours:.1f} h: F7 ends it."
    if moment(session.now()) < moment(found.next_look()):
        return ""
    return f"Job {session.state.ticket} on soak: look at it since {clock_words(found.next_look())}."


def end_soak(session: JobSession) -> Outcome:
    """The soak is over."""
    soak = session.state.soak
    if soak is None or not soak.running:
        return Outcome.refused("No soak is running.")
    session.record(ev.SoakEnded())
    return Outcome(f"Soak ended, {soak_hours(session):.1f} h attended.")


def soak_hours(session: JobSession) -> float:
    """Attended hours of the last soak."""
    found = soak_now(session)
    return found.attended_hours if found else 0.0


def read_again(session: JobSession) -> Outcome:
    """A point of the proof in the state of the soak comes in front, to be read once more."""
    state = session.state
    same = [r for r in state.proof_readings if r.state == state.board_state]
    if not same:
        return Outcome.refused("No point was read in this state: choose one with O on the bench.")
    session.record(ev.ProbeChosen(same[0].candidate))
    return Outcome("The same point once more: type it or take it from the meter.")


def enter_soak_line(session: JobSession, text: str) -> Outcome | None:
    """`soak 4 h every 20`, `ok`, `bad …`, `end`; None for anything else."""
    word, _, rest = text.strip().partition(" ")
    if match := LINE.fullmatch(text.strip()):
        return start_soak(session, float(match[1] or 0.0), float(match[2] or LOOK_MINUTES))
    if word.lower() == "ok":
        return look(session, True, rest)
    if word.lower() == "bad":
        return look(session, False, rest)
    if text.strip().lower() == "again":
        return read_again(session)
    return end_soak(session) if text.strip().lower() == "end" else None


def _due(session: JobSession) -> str:
    found = soak_now(session)
    assert found is not None
    return found.next_look()
