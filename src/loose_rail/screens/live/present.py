"""The live meters of a job: what is asked of them, what they show, what they hold.

Meter A follows the card; meter B, where there is one, stays clipped across the bulk and is only
watched. All of this runs on the main thread at the pace of the meters.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

from loose_rail.app.live_meter import LiveMeter, Phase
from loose_rail.app.trace import Trace
from loose_rail.judgement.decay import seen_to_drain, stands_low
from loose_rail.judgement.series import Character, SeriesFinding
from loose_rail.kernel.observation import Observation
from loose_rail.kernel.observation import value as steady
from loose_rail.kernel.quantities import engineering, fixed
from loose_rail.screens.card.present import BULK
from loose_rail.screens.shared.notice import Notice
from loose_rail.vocabulary.meter_mode import MeterMode

PHASE_WORDS = {
    Phase.IDLE: "nothing is asked",
    Phase.LIFT: "held: take the probes to the next point",
    Phase.TOUCH: "waiting for the probes",
    Phase.SETTLING: "settling",
    Phase.HELD: "held",
}
SHOWN_SECONDS = 12.0
WATCH_KEY = "watch"
COMING = "coming:"
WATCHED = 1500
"""Samples of meter B that are looked at: five minutes at five a second."""


@dataclass(frozen=True, slots=True)
class Wanted:
    """What meter A should read: the key of the point, setting, whether powered, sound value."""

    key: str
    mode: MeterMode
    live: bool
    nominal: float | None
    band: tuple[float, float] | None


@dataclass(frozen=True, slots=True)
class LiveState:
    """What the live panel draws. `trace` is seconds and values, `band` the sound range."""

    on: bool
    name: str = ""
    reading: str = ""
    unit: str = ""
    phase: str = ""
    phase_words: str = ""
    statistics: str = ""
    character: str = ""
    trouble: str = ""
    seconds: tuple[float, ...] = ()
    values: tuple[float, ...] = ()
    band: tuple[float, float] | None = None
    watched: str = ""


class Bench(Protocol):
    """What the desk needs of the job's presenter."""

    def wanted_reading(self) -> Wanted | None: ...
    def meter_reading(
        self, key: str, seen: Observation, name: str, proved: bool = False
    ) -> Notice: ...
    def needs_drained(self) -> bool: ...
    def bulk_farads(self) -> float: ...
    def coming_reading(self) -> MeterMode | None: ...


class LiveDesk:
    """Both live meters. `lift` tells the simulated hands that the probes move on."""

    def __init__(self, bench: Bench, lift: Callable[[], None], has_second: bool) -> None:
        self._bench = bench
        self._lift = lift
        self.has_second = has_second
        self.on = False
        self.name = ""
        self.trouble = ""
        self.meter, self.watch = LiveMeter(), LiveMeter()
        self.trace = Trace()
        self._start: float | None = None
        self._wanted: Wanted | None = None
        self._doubted = False

    @property
    def watching(self) -> tuple[str, MeterMode]:
        """What meter B is asked for, always."""
        return WATCH_KEY, MeterMode.DC_VOLTS

    # ---- switching -------------------------------------------------------------------------

    def turn(self) -> Notice:
        """On or off."""
        self.on = not self.on
        self.trouble = ""
        if not self.on:
            self.meter, self.watch = LiveMeter(), LiveMeter()
            self._wanted = None
            return Notice("The live meter is off: type readings, or Space for one.")
        words = " Meter B watches the bulk." if self.has_second else ""
        return Notice(f"Live: a reading is taken when it has settled.{words}")

    def asked(self) -> tuple[str, MeterMode] | None:
        """What meter A is to read now; moves on when the card does."""
        if not self.on:
            return None
        wanted = self._bench.wanted_reading()
        if wanted is None:
            self.meter.rest()
            self._wanted = None
            coming = self._bench.coming_reading()
            return (f"{COMING}{coming.words}", coming) if coming is not None else None
        if self._wanted is None or wanted.key != self._wanted.key:
            self._wanted = wanted
            self.meter.ask(wanted.key, wanted.mode, wanted.live, wanted.nominal)
            self._lift()
        return wanted.key, wanted.mode

    # ---- samples ---------------------------------------------------------------------------

    def sample(self, key: str, seconds: float, value: float) -> Notice | None:
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
        wanted = self._wanted
        if wanted is None or wanted.key != key:
            return None
        self.trace.channel(f"Meter A, {wanted.mode.words}", wanted.mode.unit).add(at, value)
        seen = self.meter.feed(seconds, value)
        return self._take(seen) if seen is not None else None

    def hold(self) -> Notice:
        """Space or the foot switch: what stands on the display is the reading."""
        seen = self.meter.hold_now()
        if seen is None or self._wanted is None:
            return Notice("There is nothing to hold.", "problem")
        return self._take(seen)

    def _take(self, seen: Observation) -> Notice:
        if self._wanted is None:
            return Notice("Nothing is being asked for now.", "problem")
        key, name = self._wanted.key, self.name or "meter"
        self._wanted = None  # the next card arms it anew, also where it asks for the same point
        return self._bench.meter_reading(key, seen, name)

    def _drained(self) -> Notice | None:
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
            return self._bench.meter_reading(BULK, steady(values[-1], "V"), "Meter B", proved=True)
        if self._doubted:
            return None
        self._doubted = True
        return Notice(
            f"Meter B shows {engineering(abs(values[-1]), 'V')}, but it did not see the bulk "
            "drain: a clip that came off shows the same. Look at both clips, then type what you "
            "read.",
            "problem",
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

    # ---- what is shown ---------------------------------------------------------------------

    def state(self) -> LiveState:
        """The panel as it stands."""
        if not self.on:
            return LiveState(False)
        wanted, value = self._wanted, self.meter.value
        unit = self.meter.mode.unit
        seconds, values = self.meter.recent(SHOWN_SECONDS)
        found = self.meter.finding() if self.meter.phase in (Phase.SETTLING, Phase.HELD) else None
        return LiveState(
            True,
            self.name or "opening the meter",
            "" if value is None else shown(value, unit),
            unit,
            str(self.meter.phase),
            PHASE_WORDS[self.meter.phase],
            self._statistics(unit),
            character_words(found, unit) if found else "",
            self.trouble,
            tuple(seconds),
            tuple(values),
            wanted.band if wanted else None,
            self._watched(),
        )

    def _statistics(self, unit: str) -> str:
        found = self.meter.statistics()
        if found is None or self.meter.phase not in (Phase.SETTLING, Phase.HELD):
            return ""
        return (
            f"min {shown(found.least, unit)} · max {shown(found.greatest, unit)} · "
            f"mean {shown(found.mean, unit)}"
        )

    def _watched(self) -> str:
        value = self.watch.value
        return "" if value is None else f"{shown(value, 'V')} (meter B)"


def shown(value: float, unit: str) -> str:
    """A sample as a display shows it: four digits, or OL."""
    return "OL" if math.isinf(value) else engineering(value, unit, 4)


def character_words(found: SeriesFinding, unit: str) -> str:
    """What the stream does, in words with its numbers."""
    kind = found.character
    if kind is Character.TOO_SHORT:
        return ""
    if found.hertz is not None:
        span = f"{shown(found.low, unit)} to {shown(found.high, unit)}"
        return f"{kind}, {fixed(found.hertz, 2)} a second, {span}"
    if kind in (Character.RISING, Character.SAGGING, Character.DRIFTING):
        return f"{kind}, {fixed(100 * found.share_per_minute, 2)} % a minute"
    if kind is Character.STEPPING:
        return f"{kind} between {' and '.join(shown(v, unit) for v in found.levels)}"
    if kind is Character.FROZEN:
        return "not one digit moves: is the display held?"
    return str(kind)
