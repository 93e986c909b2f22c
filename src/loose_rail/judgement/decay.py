"""Whether a meter that stays clipped across a reservoir saw it drain, or lost its clip.

A capacitor falls by the same share in the same time (RC discharge, textbook). A clip that comes off
falls to nothing at once: faster than any resistor that a hand would use, and out of step with what
came before. What can't be told from that is asked about.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from loose_rail.judgement.limits import limit

SETTLED_SAMPLES = 6
ALIVE_TIMES = 1.5
"""Seen alive: at least so many times the drained limit [E]."""
ON_THE_WAY_SHARE, LEAST_ON_THE_WAY = 0.8, 2
"""Samples between the limit and this share of the highest must have been seen [E]."""
LAST_STEP_TIMES, LAST_STEP_SLACK = 2.5, 0.1
"""How much more, in logarithms, the step below the limit may fall than the one before it [E]."""
NOISE_SHARE = 0.05
"""What a falling voltage may rise between two samples and still fall [E]."""
FLOOR_VOLTS = 0.1
"""Below this a meter's own zero is read [P]."""


def stands_low(values: Sequence[float]) -> bool:
    """Whether the last samples are all below the drained limit."""
    last = values[-SETTLED_SAMPLES:]
    return len(last) == SETTLED_SAMPLES and max(abs(v) for v in last) < limit("drained_volts")


def seen_to_drain(seconds: Sequence[float], values: Sequence[float], farads: float) -> bool:
    """Whether the samples show this capacitor on its way down to the drained limit."""
    low = limit("drained_volts")
    above = [k for k, v in enumerate(values) if abs(v) >= low]
    if not stands_low(values) or not above:
        return False
    last = above[-1]
    way = [abs(v) for v in values[: last + 1]]
    top = max(range(len(way)), key=lambda k: (way[k], k))
    peak = way[top]
    on_the_way = [v for v in way[top + 1 :] if v <= ON_THE_WAY_SHARE * peak]
    if peak < ALIVE_TIMES * low or len(on_the_way) < LEAST_ON_THE_WAY or last < 1:
        return False
    times, fall = seconds[top : last + 2], [*way[top:], abs(values[last + 1])]
    for (t1, v1), (t2, v2) in zip(
        zip(times, fall, strict=True), list(zip(times, fall, strict=True))[1:], strict=False
    ):
        if v2 > v1 * (1 + NOISE_SHARE) or not _slow_enough(t2 - t1, v1, v2, farads):
            return False
    before = math.log(max(way[last - 1], low) / way[last])
    final = math.log(way[last] / max(abs(values[last + 1]), FLOOR_VOLTS))
    return final <= LAST_STEP_TIMES * before + LAST_STEP_SLACK


def _slow_enough(seconds: float, first: float, second: float, farads: float) -> bool:
    """Whether a fall is no faster than through the least resistor that a hand would drain with."""
    if second >= first:
        return True
    share = math.log(first / max(second, FLOOR_VOLTS))
    return seconds >= limit("drain_least_ohms") * farads * share
