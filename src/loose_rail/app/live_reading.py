"""The live meters of a job: what is asked of them, what they show, what they hold.

Meter A follows the card; meter B, where there is one, stays clipped across the bulk and is only
watched. All of this runs on the main thread at the pace of the meters.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Protocol

from loose_rail.app.live_meter import LiveMeter
from loose_rail.app.metered_entry import RESERVOIR_KEY, Wanted
from loose_rail.app.outcome import Outcome
from loose_rail.app.trace import Trace
from loose_rail.judgement.decay import seen_to_drain, stands_low
from loose_rail.kernel.observation import Observation, value as steady
from loose_rail.kernel.quantities import engineering
from loose_rail.vocabulary.meter_mode import MeterMode

WATCH_KEY = "watch"
COMING = "coming:"
WATCHED = 1500
"""Samples of meter B that are looked at: five minutes at five a second."""


class MeterUser(Protocol):
    """What the desk needs of the job's presenter."""

    def wanted_reading(self) -> Wanted | None: ...
    def meter_reading(
        self, key: str, seen: Observation, name: str, proved: bool = False
    ) -> Outcome: ...
    def needs_drained(self) -> bool: ...
    def bulk_farads(self) -> float: ...
    def coming_reading(self) -> MeterMode | None: ...


class LiveDesk:
    """Both live meters. `lift` tells the simulated hands that the probes move on."""

    def __init__(self, bench: MeterUser, lift: Callable[[], None], has_second: bool) -> None:
        self._bench = bench
        self._lift = lift
        self.has_second = has_second
        self.on = False
        self.name = ""
        self.trouble = ""
        self.meter, self.watch = LiveMeter(), LiveMeter()
        self.trace = Trace()
        self._start: float | None = None
        self.wanted: Wanted | None = None
        self._doubted = False

    @property
    def watching(self) -> tuple[str, MeterMode]:
        """What meter B is asked for, always."""
        return WATCH_KEY, MeterMode.DC_VOLTS

    # ---- switching -------------------------------------------------------------------------

    def turn(self) -> Outcome:
        """On or off."""
        self.on = not self.on
        self.trouble = ""
        if not self.on:
            self.meter, self.watch = LiveMeter(), LiveMeter()
            self.wanted = None
            return Outcome("Continuous reading is off: type readings, or Space for one.")
        words = " Meter B watches the bulk." if self.has_second else ""
        return Outcome(f"Continuous reading: each is taken when it has settled.{words}")

    def asked(self) -> tuple[str, MeterMode] | None:
        """What meter A is to read now; moves on when the card does."""
        if not self.on:
            return None
        wanted = self._bench.wanted_reading()
        if wanted is None:
            self.meter.rest()
            self.wanted = None
            coming = self._bench.coming_reading()
            return (f"{COMING}{coming.label}", coming) if coming is not None else None
        if self.wanted is None or wanted.key != self.wanted.key:
            self.wanted = wanted
            self.meter.ask(wanted.key, wanted.mode, wanted.live, wanted.nominal)
            self._lift()
        return wanted.key, wanted.mode

    # ---- samples ---------------------------------------------------------------------------

    def sample(self, key: str, seconds: float, value: float) -> Outcome | None:
        """A sample came; returns what was held, if anything."""
        at = self._since(seconds)
        if key == WATCH_KEY:
            self.trace.channel("Bulk, meter B", "V").add(at, value)
            self.watch.feed(seconds, value)
            return self._drained()
        if key.startswith(COMING):
            setting = key.removeprefix(COMING)  # from before the first second, held by nobody
            self.trace.channel(f"Meter A, {setting}", "V").add(at, value)
            self.meter.feed(seconds, value)
            return None
        wanted = self.wanted
        if wanted is None or wanted.key != key:
            return None
        self.trace.channel(f"Meter A, {wanted.mode.label}", wanted.mode.unit).add(at, value)
        seen = self.meter.feed(seconds, value)
        return self._take(seen) if seen is not None else None

    def hold(self) -> Outcome:
        """Space or the foot switch: what stands on the display is the reading."""
        seen = self.meter.hold_now()
        if seen is None or self.wanted is None:
            return Outcome.refused("There is nothing to hold.")
        return self._take(seen)

    def _take(self, seen: Observation) -> Outcome:
        if self.wanted is None:
            return Outcome.refused("Nothing is being asked for now.")
        key, name = self.wanted.key, self.name or "meter"
        self.wanted = None  # the next card arms it anew, also where it asks for the same point
        return self._bench.meter_reading(key, seen, name)

    def _drained(self) -> Outcome | None:
        """Meter B answers the question for the bulk by itself where it saw the capacitor drain; a
        zero that came in one jump, or was there all the time, is asked about once."""
        if not self._bench.needs_drained():
            self._doubted = False
            return None
        seconds, values = self.watch.seconds[-WATCHED:], self.watch.values[-WATCHED:]
        if not stands_low(values):
            return None
        if seen_to_drain(seconds, values, self._bench.bulk_farads()):
            self._doubted = False
            return self._bench.meter_reading(
                RESERVOIR_KEY, steady(values[-1], "V"), "Meter B", proved=True
            )
        if self._doubted:
            return None
        self._doubted = True
        return Outcome.refused(
            f"Meter B shows {engineering(abs(values[-1]), 'V')}, but it did not see the bulk "
            "drain: a clip that came off shows the same. Look at both clips, then type what you "
            "read."
        )

    def _since(self, seconds: float) -> float:
        if self._start is None:
            self._start = seconds
        return seconds - self._start

    def named(self, name: str) -> None:
        """The meter said its name."""
        self.name = name

    def troubled(self, words: str) -> None:
        """The meter dropped out, or answers again (no words)."""
        if words and not self.trouble:
            self.trace.mark(self.trace.end, "meter dropped out")
        self.trouble = words

    def mark(self, words: str) -> None:
        """Name the present moment on the trace."""
        self.trace.mark(self.trace.end, words)
