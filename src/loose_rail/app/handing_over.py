"""Handing over: the final list, what is still open on it, and what keeps a set here.

A typed line ticks points: `2`, `insulation 20M`, `earth none`, `inputs skip because no source`,
`rest` for all that want no figure.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from loose_rail.app.disassembling import next_step
from loose_rail.app.outcome import Outcome
from loose_rail.app.proving import proof
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.proof.standing import ProofStatus
from loose_rail.jobs import events as ev
from loose_rail.jobs.disassembly import account_of
from loose_rail.judgement.final_list import FinalItem, final_items
from loose_rail.kernel.quantities import nominal, parse_quantity

LEAST_REASON = 2
NONE, REST = "none", "rest"
_SKIP = re.compile(r"skip\s+because\s+(.*\S)", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Point:
    """A point of the final list as it stands: settled or not, what was said or measured, and why it
    keeps the set here where it was measured and is not good."""

    item: FinalItem
    settled: bool
    words: str
    bad: str = ""

    @property
    def status(self) -> str:
        """Done, open or bad."""
        return "bad" if self.bad else "done" if self.settled else "open"

    @property
    def good(self) -> bool:
        """Whether it need not keep the set here."""
        return self.settled and not self.bad


def final_points(session: JobSession) -> tuple[Point, ...]:
    """The points that this set is asked for."""
    repaired = proof(session).status is ProofStatus.SHOWN
    return tuple(
        _point(session, item)
        for item in final_items()
        if (item.safety or repaired) and _asked(session, item)
    )


def _asked(session: JobSession, item: FinalItem) -> bool:
    """Whether it makes sense for this set: something came off, or the mains goes into it."""
    if item.counted:
        return bool(session.state.steps)
    if item.returned:
        return session.state.detail("follows_as") == "came_back"
    return not (item.on_mains and session.board.adapter_fed)


def keeps_it_here(session: JobSession) -> str:
    """What has to be settled before the set leaves; empty where nothing has."""
    open_points = [one for one in final_points(session) if not one.good]
    if not open_points:
        return ""
    bad = next((one for one in open_points if one.bad), None)
    if bad is not None:
        return f"{bad.item.words}: {bad.bad}."
    first = open_points[0]
    how = first.item.hint or str(_number(session, first.item))
    if first.item.counted:
        how = "F9 at strip down plays it back"
    more = f", and {len(open_points) - 1} more" if len(open_points) > 1 else ""
    return f"Not yet on the final list: {first.item.words} ({how}){more}."


def enter_final_line(session: JobSession, text: str) -> Outcome:
    """A typed line of the hand-back page."""
    words = text.strip()
    if words.lower() == REST:
        return _tick_the_rest(session)
    name, _, rest = words.partition(" ")
    item = _item(session, name)
    if item is None:
        known = ", ".join(one.item.key for one in final_points(session))
        return Outcome.refused(f"“{name}” is no point of the list: {known}, or a number.")
    if match := _SKIP.fullmatch(rest.strip()):
        if len(match[1].split()) < LEAST_REASON:
            return Outcome.refused("Say in a few words why it is left out.")
        session.record(ev.ItemTicked(item.key, False, match[1]))
        return Outcome.warned(f"{item.words}: left out, because {match[1]}.")
    return _tick(session, item, rest.strip())


def _tick(session: JobSession, item: FinalItem, rest: str) -> Outcome:
    if item.counted:
        return Outcome.refused("That is counted: play the strip down back (F9 there).")
    if item.answers:
        if rest.lower() not in item.answers:
            return Outcome.refused(f"{item.words} Answer {' or '.join(item.answers)}.")
        session.record(ev.ItemTicked(item.key, True, rest.lower()))
        return Outcome(f"{item.words} {rest.capitalize()}.")
    if not item.unit:
        done = any(one.item == item.key and one.done for one in session.state.ticked)
        session.record(ev.ItemTicked(item.key, not done, rest))
        return Outcome(f"{item.words}: {'not yet' if done else 'done'}.")
    if rest.lower() == NONE and item.none:
        session.record(ev.ItemTicked(item.key, True, NONE))
        return Outcome(f"{item.words}: {item.none}.")
    found = parse_quantity(rest)
    if found is None or found.unit not in ("", item.unit) or found.value < 0:
        return Outcome.refused(f"{item.words} wants its figure: {item.hint}.")
    session.record(ev.ItemTicked(item.key, True, f"{found.value:g}"))
    bad = _point(session, item).bad
    shown = f"{item.words}: {nominal(found.value, item.unit)}"
    return Outcome.refused(f"{shown}. {bad}.") if bad else Outcome(f"{shown}.")


def _tick_the_rest(session: JobSession) -> Outcome:
    plain = [
        one.item
        for one in final_points(session)
        if not (one.settled or one.item.unit or one.item.counted or one.item.answers)
    ]
    for item in plain:
        session.record(ev.ItemTicked(item.key, True))
    left = keeps_it_here(session)
    return Outcome(f"{len(plain)} points done. {left}".strip())


def _point(session: JobSession, item: FinalItem) -> Point:
    said = next((one for one in session.state.ticked if one.item == item.key), None)
    if said is not None and not said.done:
        return Point(item, True, f"left out, because {said.words}")
    if item.counted:
        return _rungs(session, item)
    if said is None:
        return Point(item, False, item.hint)
    if not item.unit:
        return Point(item, True, said.words or "done")
    if said.words == NONE:
        return Point(item, True, item.none)
    value = float(said.words)
    shown = nominal(value, item.unit)
    least = item.least_earthed if item.least_earthed and _earthed(session) else item.least
    if value < least:
        return Point(item, True, shown, f"{shown} is below {nominal(least, item.unit)}")
    if value > item.most:
        return Point(item, True, shown, f"{shown} is above {nominal(item.most, item.unit)}")
    return Point(item, True, shown)


def _earthed(session: JobSession) -> bool:
    """Whether a protective conductor was measured."""
    return any(
        one.item == "earth" and one.done and one.words != NONE for one in session.state.ticked
    )


def _rungs(session: JobSession, item: FinalItem) -> Point:
    """What came off and has not gone back."""
    steps = session.state.steps
    ahead = [step for step in steps if step.back is None]
    account = account_of(steps, session.state.left_over)
    if next_step(steps) is not None:
        return Point(item, False, f"{len(ahead)} of {len(steps)} steps not played back")
    if account:
        return Point(item, False, "; ".join(account))
    return Point(item, True, f"{len(steps)} steps played back, nothing missing")


def _item(session: JobSession, name: str) -> FinalItem | None:
    points = final_points(session)
    if name.isdecimal() and 1 <= int(name) <= len(points):
        return points[int(name) - 1].item
    return next((one.item for one in points if one.item.key == name.lower()), None)


def _number(session: JobSession, item: FinalItem) -> int:
    return 1 + [one.item.key for one in final_points(session)].index(item.key)
