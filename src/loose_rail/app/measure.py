"""Taking a reading from a connected meter: samples until it has settled, then one observation."""

from __future__ import annotations

import time
from collections.abc import Callable

from loose_rail.app.ports import Meter
from loose_rail.judgement.steadiness import summarise
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.meter_mode import MeterMode

LIVE_SAMPLES = 26
"""Enough for five periods of a one-hertz restart at five readings a second (n ≥ 20, ≥ 3 cycles)."""
COLD_SAMPLES = 3
TAIL_SAMPLES = 10
"""Two seconds at five readings a second: longer than two periods of a restart."""
OVERSHOOT_TIMES = 1.05
"""What a rail may stand above its level while it comes up [E]."""

Sampled = Callable[[int, int, float], None]


def take_series(
    meter: Meter,
    mode: MeterMode,
    live: bool,
    cancelled: Callable[[], bool],
    sampled: Sampled | None = None,
    clock: Callable[[], float] = time.monotonic,
) -> Observation | None:
    """Read a series and reduce it; None where it was cancelled. Raises MeterError.

    `sampled` is told the number of the sample, how many there will be, and the value.
    """
    total = LIVE_SAMPLES if live else COLD_SAMPLES
    start = clock()
    seconds: list[float] = []
    values: list[float] = []
    for number in range(total):
        if cancelled():
            return None
        values.append(meter.read(mode))
        seconds.append(clock() - start)
        if sampled is not None:
            sampled(number + 1, total, values[-1])
    if not live:
        seconds, values = seconds[-1:], values[-1:]
    return _settled(seconds, values, mode.unit)


def _settled(seconds: list[float], values: list[float], unit: str) -> Observation:
    """The series as one observation. A rail that was still coming up when the first samples were
    taken is what it came up to; one that was there before and fell is told as it was."""
    whole = summarise(seconds, values, unit)
    if whole.form not in (Form.RANGE, Form.RISING) or len(values) <= TAIL_SAMPLES:
        return whole
    tail = summarise(seconds[-TAIL_SAMPLES:], values[-TAIL_SAMPLES:], unit)
    before = max(abs(one) for one in values[:-TAIL_SAMPLES])
    came_up = tail.form is Form.VALUE and before <= OVERSHOOT_TIMES * abs(tail.low)
    return tail if came_up else whole
