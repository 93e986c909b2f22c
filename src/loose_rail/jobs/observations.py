"""Readings between the log and the bench: an observation as plain data, and back."""

from __future__ import annotations

import math

from loose_rail.jobs import events as ev
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.board_state import BoardState


def observation_of(event: ev.ReadingTaken) -> Observation:
    """The observation that an event carries; open ends come back as infinities."""
    form = Form(event.form)
    low = math.nan if event.low is None else event.low
    high = math.nan if event.high is None else event.high
    if form is Form.OPEN:
        low = high = math.inf
    elif event.low is not None and event.high is None:
        high = math.inf
    return Observation(form, low, high, event.unit, event.hertz, event.printed, event.seconds)


def reading_event(
    probe: str, state: BoardState, seen: Observation, instrument: str, typed: str
) -> ev.ReadingTaken:
    """The event that carries an observation; infinities and NaN are left out of the JSON."""
    return ev.ReadingTaken(
        probe=probe,
        state=state.key,
        form=str(seen.form),
        unit=seen.unit,
        low=seen.low if math.isfinite(seen.low) else None,
        high=seen.high if math.isfinite(seen.high) else None,
        hertz=seen.hertz,
        printed=seen.printed,
        seconds=seen.seconds,
        instrument=instrument,
        typed=typed,
    )
