"""A job as far as its board knows it: what the log says of parts and points that the board does not
have counts for nothing, and is told.

A board of the shop's own may be mended after a job was begun on it. Pure.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace

from loose_rail.jobs.state import JobState

LAMP = "lamp"
"""The clue whose subject is a state of the board; the subject of every other is a part."""


def known_here(
    state: JobState,
    parts: Collection[str],
    candidates: Collection[str] | None,
    lamp_states: Collection[str] | None,
) -> JobState:
    """The state without what names no part, candidate or state with a lamp of the board; the same
    state where there is no such thing. What is None is not known yet, without predictions.
    A part that was fitted stays: readings before and after it stay apart.
    """
    missing = [r for r in state.readings if not (candidates is None or r.candidate in candidates)]
    readings = [r for r in state.readings if candidates is None or r.candidate in candidates]
    findings = [one for one in state.findings if one.part in parts or not one.part]
    noted = [
        one
        for one in state.noted
        if (
            lamp_states is None or one.event.subject in lamp_states
            if one.event.clue == LAMP
            else one.event.subject in parts
        )
    ]
    verdict = state.verdict if state.verdict is None or state.verdict.part in parts else None
    gone = [f"reading {r.number} ({r.probe})" for r in missing]
    gone += [f"what was seen on {one.part}" for one in state.findings if one not in findings]
    gone += [f"what {one.event.subject} showed" for one in state.noted if one not in noted]
    if verdict is not state.verdict and state.verdict is not None:
        gone.append(f"the verdict on {state.verdict.part}")
    chosen = state.chosen if candidates is None or state.chosen in candidates else ""
    if not gone:
        return state if chosen == state.chosen else replace(state, chosen="")
    told = f"Not on this board as it is now, and counts for nothing: {', '.join(gone)}."
    return replace(
        state,
        readings=tuple(readings),
        findings=tuple(findings),
        noted=tuple(noted),
        verdict=verdict,
        chosen=chosen,
        damaged=(*state.damaged, told),
    )
