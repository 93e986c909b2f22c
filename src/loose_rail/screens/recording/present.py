"""The recording as it is drawn, and what a stretch of it shows."""

from __future__ import annotations

from typing import Any

import numpy as np

from loose_rail.app.recording import TraceDesk
from loose_rail.app.series_words import character_words, shown
from loose_rail.judgement.series import LEAST_SAMPLES, examine
from loose_rail.screens.recording.state import Channels, TraceState

MOST_FACTS = 12
OFF_VOLTS = 0.05
"""What a meter shows with its probes in the air."""
NEAR_TIMES = 5.0
"""Channels whose greatest values differ by more than this get scales of their own."""


def trace_state(desk: TraceDesk) -> TraceState:
    """The page as it stands."""
    alike, below, channels = _sorted(desk)
    return TraceState(
        channels=alike,
        below=below,
        markers=tuple((m.seconds, m.words) for m in desk.trace.markers),
        band=desk.band,
        facts=tuple(_facts(desk, channels)),
    )


def _sorted(desk: TraceDesk) -> tuple[Channels, Channels, Channels]:
    """The newest channel with those of its scale, those beside it, and all."""
    channels = tuple((c.name, c.unit, c.seconds, c.values) for c in desk.trace.channels if len(c))
    channels = tuple(sorted(channels, key=lambda c: ("meter B" in c[0], -float(c[2][-1]))))
    same = [c for c in channels if c[1] == channels[0][1]]
    alike = tuple(c for c in same if _near(c[3], same[0][3]))
    below = tuple(c for c in same if not _near(c[3], same[0][3]))
    return alike, below, channels


def _near(values: Any, others: Any) -> bool:
    tops = [float(np.abs(v[np.isfinite(v)]).max(initial=1e-12)) for v in (values, others)]
    return max(tops) <= NEAR_TIMES * min(tops)


def stretch_sentence(desk: TraceDesk, view: tuple[float, float]) -> str:
    """What a stretch of time shows, in words: from its last marker on, as far as there are readings
    after it, once the probes are on."""
    channels = _sorted(desk)[0]
    if not channels:
        return "Nothing recorded yet: M at the bench turns continuous reading on."
    name, unit, seconds, values = channels[0]
    inside = (seconds >= view[0]) & (seconds <= view[1])
    if not inside.any():
        return f"{name}: no reading in what is seen. F5 goes to the newest."
    marked = [m for m in desk.trace.markers if view[0] < m.seconds < view[1]]
    since = marked[-1] if marked else None
    after = inside & (seconds >= since.seconds) if since is not None else inside
    if since is not None and after.sum() >= LEAST_SAMPLES:
        on = after & (np.cumsum(after & (np.abs(values) > OFF_VOLTS)) > 0)
        inside = on if on.any() else after
    else:
        since = None
    what = f"since “{since.words}”" if since is not None else "what is seen"
    part = values[inside]
    found = examine(seconds[inside].tolist(), part.tolist())
    finite = part[np.isfinite(part)]
    if not len(finite):
        return f"{name}: open in all of that."
    words = character_words(found, unit) or "too short a stretch for more than its value"
    low, high = float(finite.min()), float(finite.max())
    ends = f"{shown(low, unit)} to {shown(high, unit)}"
    ends = "" if ends in words else f"{ends}, "
    mean = shown(float(finite.mean()), unit)
    return f"{name}, {what}: {words}; {ends}mean {mean}, {len(part)} readings."


def _facts(desk: TraceDesk, channels: Channels) -> list[str]:
    if desk.log is not None:
        said = [f"{desk.log.name}: type the numbers of its value columns, such as 2 3."]
        for number, head in enumerate(desk.log.heads, start=1):
            mark = "time" if number - 1 == desk.log.time_column else ""
            mark = "shown" if number - 1 in desk.columns else mark
            said.append(f"{number}  {head}{f'  · {mark}' if mark else ''}")
        return said[:MOST_FACTS]
    said = []
    for name, unit, _, values in channels:
        alike = unit == channels[0][1]
        how = "in the CSV" if not alike else "also drawn" if said else "the solid line"
        said.append(f"{name}, {len(values)} readings: {how}")
    return said
