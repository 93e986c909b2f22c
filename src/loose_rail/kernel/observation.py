"""What was seen at a probe: one frozen value for every form a reading can take.

A reading is a number, a wandering range, an open or a short, or a trend. The unit is SI.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache

from loose_rail.kernel.quantities import engineering, span

MOST_TEXTS = 4096
"""Readings whose words are kept: a ledger is worded anew with every entry."""


class Form(StrEnum):
    """The form of an observation."""

    VALUE = "value"
    RANGE = "range"
    TICKING = "ticking"
    OPEN = "open"
    SHORT = "short"
    ABOVE = "above"
    RISING = "rising"
    FALLING = "falling"


@dataclass(frozen=True, slots=True)
class Observation:
    """One reading. `low` and `high` are SI values (equal for a single value).

    OPEN carries +inf, SHORT carries 0, ABOVE carries the limit as `low` and +inf as `high`.
    RISING and FALLING may carry the first and last values seen, or NaN where only the trend was
    noted, and `seconds` is how long that took, None where nobody timed it.
    `hertz` is the repetition rate of a ticking reading, None where it was not counted.
    `printed` is what stands on the part that was read, in the same unit, None where nobody told it.
    """

    form: Form
    low: float
    high: float
    unit: str
    hertz: float | None = None
    printed: float | None = None
    seconds: float | None = None

    def __eq__(self, other: object) -> bool:
        """Equal where the same was noted; an end that was not noted is no number, and equals
        another that was not."""
        if self is other:
            return True
        return (
            isinstance(other, Observation)
            and self.form is other.form
            and _same_end(self.low, other.low)
            and _same_end(self.high, other.high)
            and (self.unit, self.hertz, self.printed, self.seconds)
            == (other.unit, other.hertz, other.printed, other.seconds)
        )

    def __hash__(self) -> int:
        return hash((None if math.isnan(self.low) else self.low, self.unit))

    @property
    def centre(self) -> float:
        """A single number that stands for the reading: the value, or the middle of the range."""
        if math.isinf(self.high):
            return self.low
        return 0.5 * (self.low + self.high)

    @lru_cache(MOST_TEXTS)  # noqa: B019 - readings are small, and their number is bounded
    def text(self, digits: int = 3) -> str:
        """The reading in words and units, as the ledger and the report show it."""
        if self.printed is not None:
            bare = replace(self, printed=None).text(digits)
            return f"{bare} of {engineering(self.printed, self.unit, digits)}"
        plain = {
            Form.OPEN: "open (OL)",
            Form.SHORT: "short (beeps)",
            Form.ABOVE: f"> {engineering(self.low, self.unit, digits)}",
        }
        if self.form in plain:
            return plain[self.form]
        if self.form is Form.VALUE:
            return engineering(self.low, self.unit, digits)
        if self.form in (Form.RISING, Form.FALLING):
            return self._trend_text(digits)
        words = span(self.low, self.high, self.unit, max(2, digits - 1))  # edges move
        if self.form is Form.RANGE:
            return f"{words} wandering"
        if self.hertz is None:
            return f"{words} pulsing"
        return f"{words} pulsing {engineering(self.hertz, 'Hz', 2)}"

    def _trend_text(self, digits: int) -> str:
        took = "" if self.seconds is None else f" in {engineering(self.seconds, 's', 2)}"
        word = f"{self.form}"
        if math.isnan(self.low):
            return f"{word}{took}"
        if self.form is Form.RISING and math.isinf(self.high):
            return f"> {engineering(self.low, self.unit, digits)}, rising{took}"
        first, last = (self.low, self.high) if self.form is Form.RISING else (self.high, self.low)
        start, end = engineering(first, self.unit, digits), engineering(last, self.unit, digits)
        return f"{word} {start} to {end}{took}"


def _same_end(one: float, other: float) -> bool:
    return one == other or (math.isnan(one) and math.isnan(other))


def value(number: float, unit: str) -> Observation:
    """A single steady number."""
    return Observation(Form.VALUE, number, number, unit)


def open_circuit(unit: str) -> Observation:
    """Out of the meter's range: open."""
    return Observation(Form.OPEN, math.inf, math.inf, unit)


def short_circuit(unit: str) -> Observation:
    """Beeps or reads the leads only."""
    return Observation(Form.SHORT, 0.0, 0.0, unit)


def ticking(low: float, high: float, unit: str, hertz: float | None) -> Observation:
    """Wanders between two values at a rate."""
    return Observation(Form.TICKING, low, high, unit, hertz)
