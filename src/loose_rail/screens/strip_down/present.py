"""Strip down and reassembly: the ledger forward, then in reverse with everything accounted for."""

from __future__ import annotations

from loose_rail.app.session import JobSession
from loose_rail.jobs import events as ev
from loose_rail.jobs.disassembly import CAUTIONS, Step, account_of, read_step, totals_of
from loose_rail.kernel.errors import BadEntryError
from loose_rail.screens.shared.notice import EntryEcho, Notice
from loose_rail.screens.strip_down.state import StripRow, StripState

WARNINGS = (
    "Big glass needs two people; lay it on a flat soft ground, screen down.",
    "Hidden short leads: lift the back a hand's width and look before it comes away.",
)


def strip_state(
    session: JobSession, back: bool, known_warnings: tuple[str, ...] = ()
) -> StripState:
    """The ledger as it stands; `back` plays it in reverse. `known_warnings` come from earlier
    sets of this kind."""
    steps = session.state.steps
    current = next_step(steps) if back else None
    ordered = steps[::-1] if back else steps
    rows = tuple(
        StripRow(
            str(step.number),
            step.words + _pictures(session, step),
            step.event.group,
            _status(step, back, current),
        )
        for step in ordered
    )
    done = sum(step.back is not None for step in steps)
    account = account_of(steps, session.state.left_over)
    title = "Putting back, last step first" if back else "Taking apart"
    if back and steps and done == len(steps):
        account = account or ["Everything is back: nothing missing, nothing left over."]
    caution = CAUTIONS.get(current.event.group, "") if current else ""
    return StripState(
        title,
        back,
        rows,
        next((k for k, step in enumerate(ordered) if step is current), len(rows) - 1),
        f"Step {current.number}: {current.words}" if current else "",
        caution,
        tuple((kind, str(count)) for kind, count in totals_of(steps)),
        tuple(account),
        f"{done} of {len(steps)} put back" if back else f"{len(steps)} steps",
        (*known_warnings, *(WARNINGS if not steps else ())) if not back else (),
        tuple(text for stage, text, _ in session.state.notes if stage == "strip_down"),
        "It is back" if current else f"Go to {following(session).replace('_', ' ')}",
    )


def _pictures(session: JobSession, step: Step) -> str:
    count = sum(one.about == f"step:{step.number}" for one in session.state.photos)
    return f"  · {count} photo{'' if count == 1 else 's'}" if count else ""


def following(session: JobSession) -> str:
    """The stage after the ledger: the sheet where the repair is done, else looking over."""
    return "hand_back" if session.state.fitted else "look_over"


def _status(step: Step, back: bool, current: Step | None) -> str:
    if not back:
        return ""
    if step is current:
        return "now"
    if step.back is None:
        return "waits"
    return f"{step.missing} missing" if step.missing else "back"


def next_step(steps: tuple[Step, ...]) -> Step | None:
    """The step to play back now: the last that is not back yet."""
    return next((step for step in reversed(steps) if step.back is None), None)


def strip_echo(session: JobSession, text: str, back: bool) -> EntryEcho:
    """What a line is understood as."""
    if not text.strip():
        if back:
            return EntryEcho("Enter: all of it is back. A number: so many. left 1 screw.", False)
        return EntryEcho("Count, kind, place: 4 long M4 stand. + repeats the last step.", False)
    if back:
        return EntryEcho("", False)
    try:
        event = read_step(text)
    except BadEntryError as error:
        return EntryEcho(f"{error.message} {error.hint}", True)
    return EntryEcho(f"{Step(0, event).words}  ({event.group})", False)


def enter(session: JobSession, text: str, back: bool) -> Notice:
    """Enter at the line: a step more, or a step back."""
    if back:
        return _put_back(session, text)
    if text.strip() == "+":
        if not session.state.steps:
            return Notice("There is no step to repeat yet.", "problem")
        event = session.state.steps[-1].event
    else:
        try:
            event = read_step(text)
        except BadEntryError as error:
            return Notice(f"{error.message} {error.hint}", "problem")
    session.record(event)
    caution = CAUTIONS.get(event.group, "")
    return Notice(f"{Step(0, event).words}." + (f" {caution}." if caution else ""))


def _put_back(session: JobSession, text: str) -> Notice:
    words = text.strip()
    if words.lower().startswith("left "):
        try:
            item = read_step(words[5:])
        except BadEntryError as error:
            return Notice(f"{error.message} {error.hint}", "problem")
        session.record(ev.LeftOver(item.count, item.kind_words))
        return Notice(f"Left over: {item.count} {item.kind_words}.")
    step = next_step(session.state.steps)
    if step is None:
        return Notice("Every step has been played back.")
    if words and not words.isdigit():
        return Notice("Type how many went back, or nothing for all of them.", "problem")
    count = int(words) if words else step.event.count
    if count > step.event.count:
        return Notice(
            f"Only {step.event.count} came off at step {step.number}: left over elsewhere?",
            "problem",
        )
    session.record(ev.PutBack(step.number, count))
    short = step.event.count - count
    return Notice(f"Step {step.number} back" + (f", {short} missing." if short else "."))
