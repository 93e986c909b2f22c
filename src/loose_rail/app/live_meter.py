"""A meter that is read all the time: when its reading has settled it is held by itself.

A reading is held once for each point: the probes must leave the last point before the next one is
taken. A point that reads open, or next to nothing in volts, looks the same as probes in the air; it
is held only by the person's key. Times and limits are estimates from hand-held use [E].
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from loose_rail.judgement.series import SeriesFinding, examine
from loose_rail.judgement.steadiness import summarise
from loose_rail.kernel.observation import Observation
from loose_rail.vocabulary.meter_mode import MeterMode

RELEASED_VOLTS = 0.05
RELEASED_SECONDS = {True: 1.6, False: 0.4}
"""A ticking rail is near zero for up to a second and a half: longer means the probes are off."""
SETTLED_SHARE = 0.01
COLD_SAMPLES, COLD_MOST_SECONDS = 3, 6.0
STEADY_SAMPLES, STEADY_SECONDS = 8, 1.4
LIVE_SAMPLES, LIVE_SECONDS = 26, 5.0
JUMP_SHARE = 0.2
MOST_KEPT = 6000


class Phase(StrEnum):
    """Where the hold stands."""

    IDLE = "idle"
    LIFT = "lift"
    TOUCH = "touch"
    SETTLING = "settling"
    HELD = "held"


@dataclass(frozen=True, slots=True)
class Statistics:
    """Least, greatest and mean of what was read since the probes touched, SI units."""

    least: float
    greatest: float
    mean: float
    count: int


class LiveMeter:
    """One meter's stream for one point at a time. `feed` returns an observation when it holds."""

    def __init__(self) -> None:
        self.phase = Phase.IDLE
        self.key = ""
        self.mode = MeterMode.DC_VOLTS
        self.live = True
        self.nominal: float | None = None
        self.seconds: list[float] = []
        self.values: list[float] = []
        self._touched = self._asked = 0
        self._away_since: float | None = None
        self._last_held: float | None = None

    # ---- what is asked ---------------------------------------------------------------------

    def ask(self, key: str, mode: MeterMode, live: bool, nominal: float | None) -> None:
        """The next point. Nothing is held before the probes have left the one before."""
        armed = self.phase not in (Phase.IDLE, Phase.HELD)
        if armed and key == self.key and mode is self.mode:
            return
        first = self.phase is Phase.IDLE or self._last_held is None
        self.key, self.mode, self.live, self.nominal = key, mode, live, nominal
        self.phase = Phase.TOUCH if first else Phase.LIFT
        self._away_since = None
        self._touched = self._asked = len(self.values)

    def rest(self) -> None:
        """Nothing is asked: the stream goes on, nothing is held."""
        self.key, self.phase = "", Phase.IDLE

    # ---- the stream ------------------------------------------------------------------------

    @property
    def value(self) -> float | None:
        """The last sample."""
        return self.values[-1] if self.values else None

    def feed(self, seconds: float, value: float) -> Observation | None:
        """One sample (seconds, SI units; +inf is OL). Returns the observation once it holds."""
        self.seconds.append(seconds)
        self.values.append(value)
        self._forget_old()
        if self.phase in (Phase.IDLE, Phase.HELD):
            return None
        away = self._is_away(seconds, value)
        if self.phase is Phase.LIFT:
            if away or self._jumped(value):
                self.phase = Phase.TOUCH
            return None
        if self.phase is Phase.TOUCH:
            if not self._off(value):
                self.phase, self._touched = Phase.SETTLING, len(self.values) - 1
            return None
        if away:
            self.phase = Phase.TOUCH
            return None
        return self._held() if self._settled() else None

    def hold_now(self) -> Observation | None:
        """The person's key: whatever stands on the display is the reading, open and zero too. None
        where nothing came since the point was asked for: what stands there is another setting's."""
        nothing_new = len(self.values) <= self._asked
        if self.phase in (Phase.IDLE, Phase.HELD) or nothing_new:
            return None
        if self.phase is not Phase.SETTLING:
            self._touched = max(0, len(self.values) - COLD_SAMPLES)
        return self._held()

    def statistics(self) -> Statistics | None:
        """Since the probes touched; None while nothing was read."""
        values = [v for v in self.values[self._touched :] if math.isfinite(v)]
        if not values:
            return None
        return Statistics(min(values), max(values), sum(values) / len(values), len(values))

    def finding(self) -> SeriesFinding | None:
        """What the stream does since the probes touched."""
        seconds, values = self.seconds[self._touched :], self.values[self._touched :]
        return examine(seconds, values, self.nominal) if values else None

    def recent(self, span_seconds: float) -> tuple[list[float], list[float]]:
        """Samples of the last seconds, of the point that is asked for."""
        seconds, values = self.seconds[self._asked :], self.values[self._asked :]
        if not seconds:
            return [], []
        start = seconds[-1] - span_seconds
        first = next(k for k, s in enumerate(seconds) if s >= start)
        return seconds[first:], values[first:]

    # ---- inside ----------------------------------------------------------------------------

    def _off(self, value: float) -> bool:
        return (
            abs(value) < RELEASED_VOLTS
            if self.mode.unit == "V" and self.live
            else (not math.isfinite(value))
        )

    def _is_away(self, seconds: float, value: float) -> bool:
        """Whether the display has said for long enough that the probes are in the air."""
        if not self._off(value):
            self._away_since = None
            return False
        if self._away_since is None:
            self._away_since = seconds
        return seconds - self._away_since >= RELEASED_SECONDS[self.live]

    def _jumped(self, value: float) -> bool:
        last = self._last_held
        if last is None or not math.isfinite(value):
            return False
        if not math.isfinite(last):
            return True
        return self._off(value) is False and abs(value - last) > JUMP_SHARE * max(abs(last), 0.1)

    def _settled(self) -> bool:
        seconds, values = self.seconds[self._touched :], self.values[self._touched :]
        length = seconds[-1] - seconds[0]
        if not self.live:
            last = values[-COLD_SAMPLES:]
            still = len(last) == COLD_SAMPLES and _close(last)
            return still or length >= COLD_MOST_SECONDS
        if len(values) >= STEADY_SAMPLES and length >= STEADY_SECONDS and _close(values):
            return True
        return len(values) >= LIVE_SAMPLES and length >= LIVE_SECONDS

    def _held(self) -> Observation:
        seconds, values = self.seconds[self._touched :], self.values[self._touched :]
        if not self.live and len(values) >= COLD_SAMPLES and _close(values[-COLD_SAMPLES:]):
            seconds, values = seconds[-1:], values[-1:]
        self.phase = Phase.HELD
        self._last_held = values[-1]
        start = seconds[0]
        return summarise([s - start for s in seconds], values, self.mode.unit, self.nominal)

    def _forget_old(self) -> None:
        if len(self.values) <= MOST_KEPT:
            return
        drop = len(self.values) - MOST_KEPT // 2
        self.seconds, self.values = self.seconds[drop:], self.values[drop:]
        self._touched = max(0, self._touched - drop)
        self._asked = max(0, self._asked - drop)


def _close(values: list[float]) -> bool:
    if any(not math.isfinite(v) for v in values):
        return False
    middle = sorted(values)[len(values) // 2]
    return max(values) - min(values) <= SETTLED_SHARE * abs(middle) + 1e-12
