"""The first power-up: what the page draws."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.screens.shared.card.state import CardState
from loose_rail.screens.shared.pairs import PairView

Points = tuple[tuple[float, ...], tuple[float, ...]]
"""Seconds, and what was read then."""
NO_POINTS: Points = ((), ())


@dataclass(frozen=True, slots=True)
class SoakView:
    """A soak, planned or running: the chance that a fault is left against attended hours, where it
    is now, and looks as hours with whether they were good."""

    hours: tuple[float, ...]
    left: tuple[float, ...]
    done: float
    aim: float
    looks: tuple[tuple[float, bool], ...]
    words: tuple[str, ...]
    running: bool


@dataclass(frozen=True, slots=True)
class PowerUpState:
    """The first power-up: prediction in time, what was seen, readings after the repair."""

    title: str
    sentence: str
    card: CardState
    proof: str
    seconds: tuple[float, ...] = ()
    bulk: tuple[float, ...] = ()
    standby: tuple[float, ...] = ()
    glow: tuple[float, ...] = ()
    faulty_bulk: tuple[float, ...] = ()
    faulty_standby: tuple[float, ...] = ()
    faulty_glow: tuple[float, ...] = ()
    heat: tuple[float, ...] = ()
    """Share of what a resistor in line bears, empty where a lamp or nothing stands there."""
    faulty_heat: tuple[float, ...] = ()
    measured_bulk: Points = NO_POINTS
    """What the meters showed of the last start: seconds and volts."""
    measured_standby: Points = NO_POINTS
    limiters: tuple[tuple[str, str, bool], ...] = ()
    """What can stand in line: as it is typed, how it is called, whether it does."""
    soak: SoakView | None = None
    pull_seconds: float = 0.0
    course: tuple[str, ...] = ()
    patterns: tuple[tuple[str, str, bool], ...] = ()
    seen_words: str = ""
    pairs: tuple[PairView, ...] = ()
    message: str = ""
    has_meter: bool = False
    failed: str = ""
    """Why the repair has failed, empty where it has not: said in red."""
