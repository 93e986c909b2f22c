"""Strip down and reassembly: a step more, or a step back."""

from __future__ import annotations

from loose_rail.app.outcome import Echo, Outcome
from loose_rail.app.session import JobSession
from loose_rail.jobs import events as ev
from loose_rail.jobs.disassembly import CAUTIONS, Step, read_step
from loose_rail.kernel.errors import BadEntryError


def following(session: JobSession) -> str:
    """The stage after the ledger: the sheet where the repair is done, else looking over."""
    return "hand_back" if session.state.fitted else "look_over"


def next_step(steps: tuple[Step, ...]) -> Step | None:
    """The step to play back now: the last that is not back yet."""
    return next((step for step in reversed(steps) if step.back is None), None)


def strip_echo(session: JobSession, text: str, back: bool) -> Echo:
    """What a line is understood as."""
    if not text.strip():
        if back:
            return Echo("Enter: all of it is back. A number: so many. left 1 screw.", False)
        return Echo("Count, kind, place: 4 long M4 stand. + repeats the last step.", False)
    if back:
        return Echo("", False)
    try:
        event = read_step(text)
    except BadEntryError as error:
        return Echo(f"{error.message} {error.hint}", True)
    return Echo(f"{Step(0, event).words}  ({event.group})", False)


def enter(session: JobSession, text: str, back: bool) -> Outcome:
    """Enter at the line: a step more, or a step back."""
    if back:
        return _put_back(session, text)
    if text.strip() == "+":
        if not session.state.steps:
            return Outcome.refused("There is no step to repeat yet.")
        event = session.state.steps[-1].event
    else:
        try:
            event = read_step(text)
        except BadEntryError as error:
            return Outcome.refused(f"{error.message} {error.hint}")
    session.record(event)
    caution = CAUTIONS.get(event.group, "")
    return Outcome(f"{Step(0, event).words}." + (f" {caution}." if caution else ""))


def _put_back(session: JobSession, text: str) -> Outcome:
    words = text.strip()
    if words.lower().startswith("left "):
        try:
            item = read_step(words[5:])
        except BadEntryError as error:
            return Outcome.refused(f"{error.message} {error.hint}")
        session.record(ev.LeftOver(item.count, item.kind_words))
        return Outcome(f"Surplus: {item.count} {item.kind_words}.")
    step = next_step(session.state.steps)
    if step is None:
        return Outcome("Every step has been played back.")
    if words and not words.isdecimal():
        return Outcome.refused("Type how many went back, or nothing for all of them.")
    count = int(words) if words else step.event.count
    if count > step.event.count:
        return Outcome.refused(
            f"Only {step.event.count} came off at step {step.number}: surplus elsewhere?"
        )
    session.record(ev.PutBack(step.number, count))
    short = step.event.count - count
    return Outcome(f"Step {step.number} back" + (f", {short} missing." if short else "."))
