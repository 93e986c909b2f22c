"""How a rail came up at the first power, out of the meters' recording, against its prediction."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from loose_rail.app.trace import Channel
from loose_rail.kernel.quantities import engineering

Floats = NDArray[np.float64]

DEAD_SHARE, UP_SHARE, READY_SHARE = 0.08, 0.3, 0.95
"""Of the volts that a rail comes to stand at: below the first it is off, above the second it has
begun to rise, from the last on it stands [E]."""
LIKE_SHARE = 0.35
"""A channel that ends further from the prediction than this was on another point [E]."""
OFF_SHARE = 0.08
"""What stands further from its prediction than this is said to [E]."""
SLOW_TIMES, SLOW_SECONDS = 2.0, 1.5
"""A start is slow where it takes so many times as long as predicted, and so much longer: a
display takes up to a second to settle [E]."""


@dataclass(frozen=True, slots=True)
class StartCurve:
    """A rail from the moment it was off: seconds after the plug went in `(n,)`, volts `(n,)`;
    `begin` is when it began to rise, in seconds of the recording."""

    seconds: Floats
    volts: Floats
    begin: float

    @property
    def stands(self) -> float:
        """Where it stands at the end of what was seen."""
        return float(np.median(self.volts[-5:]))

    @property
    def ready_seconds(self) -> float:
        """When it stood."""
        standing = np.flatnonzero(self.volts >= READY_SHARE * self.stands)
        return float(self.seconds[standing[0]]) if len(standing) else float(self.seconds[-1])


def start_curve(channels: Sequence[Channel], final: float, span: float) -> StartCurve | None:
    """The last start that a channel shows, `span` seconds of it, of a rail that comes to stand near
    `final` volts; None where none does."""
    for channel in reversed(channels):
        found = _last_start(channel, final, span)
        if found is not None:
            return found
    return None


def _last_start(channel: Channel, final: float, span: float) -> StartCurve | None:
    seconds, volts = channel.seconds, np.nan_to_num(channel.values, posinf=0.0)
    if channel.unit != "V" or len(seconds) < 3 or final <= 0.0:
        return None
    off = volts < DEAD_SHARE * final
    up = volts > UP_SHARE * final
    rises = [k for k in np.flatnonzero(up).tolist() if off[:k].any()]
    starts = [k for k in rises if off[k - 1] or not up[k - 1]]
    if not starts:
        return None
    begin = int(np.flatnonzero(off[: starts[-1]])[-1])
    inside = (seconds >= seconds[begin]) & (seconds <= seconds[begin] + span)
    inside[:begin] = False
    found = StartCurve(seconds[inside] - seconds[begin], volts[inside], float(seconds[begin]))
    if len(found.seconds) < 3 or abs(found.stands / final - 1.0) > LIKE_SHARE:
        return None
    return found


def after(curve: StartCurve, seconds: float) -> StartCurve:
    """The same curve, begun so many seconds after the plug went in."""
    return replace(curve, seconds=curve.seconds + seconds)


def against(name: str, found: StartCurve, final: float, ready_seconds: float) -> str:
    """What a start shows against its prediction, in words."""
    stands, took = found.stands, found.ready_seconds
    said = f"{name} as measured: {engineering(stands, 'V')} after {took:.1f} s"
    if abs(stands / final - 1.0) > OFF_SHARE:
        return f"{said}, predicted {engineering(final, 'V')}."
    slow = took > SLOW_TIMES * ready_seconds and took > ready_seconds + SLOW_SECONDS
    if slow:
        return f"{said}, slower than the predicted {ready_seconds:.1f} s: a start that drags."
    return f"{said}, as predicted."
