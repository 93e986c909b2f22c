"""What a sound board read becomes what the next one of its number is judged by."""

from __future__ import annotations

from loose_rail.app.session import JobSession
from loose_rail.kernel.observation import Form
from loose_rail.vocabulary.lamp_pattern import LampPattern

FEWEST_READINGS = 3
"""Fewer say little of a board [E]."""


def sound_readings(session: JobSession) -> dict[str, float]:
    """Steady values read on the board as it is now, in SI units by candidate, the last of each.
    None where a lamp drew: such a board is not sound."""
    state = session.state
    if set(state.lamps) & {LampPattern.BRIGHT, LampPattern.GLOWS, LampPattern.PULSES}:
        return {}
    return {
        reading.candidate: reading.observation.low
        for reading in state.readings_in(state.round)
        if reading.observation.form is Form.VALUE
    }


def refusal_to_learn(session: JobSession, readings: dict[str, float]) -> str:
    """Why nothing is learned from this board, empty where it may be."""
    if len(readings) < FEWEST_READINGS:
        return (
            f"{len(readings)} steady readings of the board as it is now: take at least "
            f"{FEWEST_READINGS}, then it can be learned."
        )
    return ""
