"""Looking over: the order of the parts, and what is seen on one."""

from __future__ import annotations

from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Component
from loose_rail.diagnosis.evidence.soft_evidence import findings, history_clue
from loose_rail.diagnosis.evidence.symptoms import Symptom
from loose_rail.diagnosis.inference.posterior import bad_probabilities, posterior
from loose_rail.jobs import events as ev
from loose_rail.vocabulary.both_ends import READ_AT_BOTH_ENDS

NOTHING_SEEN = "nothing_seen"
POWERED_ONLY = ("hot", "stays_cold", *sorted(READ_AT_BOTH_ENDS))
"""Findings that can't be seen on a board without power."""


def survey_order(session: JobSession) -> list[Component]:
    """Parts in order of suspicion before anything was seen: the order stays while looking."""
    parts = [p for p in session.board.components if not is_a(p, Trait.BOARD)]
    if session.engine is None:
        return parts
    table = session.engine.table
    symptoms = [Symptom(s.symptom, s.hertz) for s in session.state.symptoms]
    clues = [history_clue(table, one.fact) for one in session.state.history]
    bad = bad_probabilities(table, posterior(table, [], symptoms, clues))
    return sorted(parts, key=lambda part: (-bad.get(part.ref, 0.0), part.ref))


def options_of(part: Component) -> tuple[tuple[str, str], ...]:
    """What can be seen on a part: key of the finding and words, nothing seen last."""
    found = [
        (key, entry.words)
        for key, entry in findings().items()
        if key != NOTHING_SEEN
        and key not in POWERED_ONLY
        and (not entry.kinds or part.kind in entry.kinds)
    ]
    own = [one for one in found if findings()[one[0]].kinds]
    rest = [one for one in found if not findings()[one[0]].kinds]
    return (*own, *rest, (NOTHING_SEEN, "nothing to be seen"))


def note_finding(session: JobSession, selected: int, number: int) -> Outcome:
    """One key: what is seen on the selected part; the same key again takes it back."""
    part = survey_order(session)[selected]
    options = options_of(part)
    if not 0 <= number < len(options):
        return Outcome.refused(f"There are {len(options)} things to choose from.")
    key, words = options[number]
    event = ev.FindingNoted(part.ref, key)
    if event in session.state.findings:
        session.take_back(event)
        return Outcome(f"{part.ref}: taken back.")
    session.record(event)
    return Outcome(f"{part.ref}: {words}.")


def rest_is_clean(session: JobSession) -> Outcome:
    """Nothing is seen on all parts that were not looked at one by one."""
    event = ev.FindingNoted("", NOTHING_SEEN)
    if event in session.state.findings:
        return Outcome("That is noted already.")
    session.record(event)
    return Outcome("Nothing to be seen on the rest: that clears little, and is noted.")


def next_unseen(session: JobSession, selected: int) -> int:
    """The next part that was not looked at, after this one; the same where there is none."""
    order = survey_order(session)
    seen = {one.part for one in session.state.findings}
    for step in range(1, len(order) + 1):
        number = (selected + step) % len(order)
        if order[number].ref not in seen:
            return number
    return selected
