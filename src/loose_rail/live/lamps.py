"""What lights a panel: a boost driver with LED strips, and a CCFL inverter with its tubes.

LED driver: with its signal absent its output is the feed less a diode; running it raises the
output until the current flows, or, where a strip is open, until the clamp, and then latches or
tries again. Inverter: strikes for a while, then shuts down where a tube takes no current.
"""

from __future__ import annotations

from loose_rail.live.maths import Flag, Value, least, most, never, no, nothing, where
from loose_rail.live.plant import InverterParameters, LedParameters

PASS_DROP_VOLTS = 0.5
RISE_SECONDS = 0.03
CLAMP_SECONDS = 0.12
DRIVER_EFFICIENCY = 0.9
SHORT_SHARE = 0.6
"""Below this share of the string voltage the driver takes the strip for shorted [E]."""
TUBE_SENSE_VOLTS = 1.2
LEAST_FEED_VOLTS = 8.0
STRIKE_SECONDS = 0.1


class LedDriver:
    """LED drivers of `n` boards."""

    def __init__(self, parameters: LedParameters) -> None:
        like = parameters.path
        self.parameters = parameters
        self.volts = nothing(like)
        self.amps = nothing(like)
        self.drawn_siemens = nothing(like)
        self._held = nothing(like)
        self._strain = nothing(like)
        self.starts = nothing(like)
        """How often it has tried again after a shut-down: what probes an open string by pulses."""

    def step(self, dt: float, source: Value, signal: Flag) -> None:
        """Advance by `dt` with the feed and the lamp signal as they are."""
        p = self.parameters
        was_held = signal & (self._held > 0)
        self._held = where(signal, most(self._held - dt, 0.0), 0.0)
        running = signal & (p.path > 0) & (self._held <= 0) & (source > LEAST_FEED_VOLTS)
        self.starts += running & was_held
        lit = (p.strings_path > 0) & (p.short_siemens < 0.01)
        through = where(p.passes > 0, most(source - PASS_DROP_VOLTS, 0.0), 0.0)
        top = where(lit, least(p.string_volts, p.clamp_volts), p.clamp_volts)
        top = where(p.short_siemens >= 0.01, through * 0.5, top)
        target = where(running, most(top, through), through)
        rate = where(target > self.volts, RISE_SECONDS, p.farads * 2e4)
        self.volts = self.volts + (target - self.volts) * dt / (dt + rate)
        at_top = self.volts > 0.97 * p.string_volts
        self.amps = where(running & lit & at_top, p.amps, 0.0)
        wrong = running & ((self.volts > 0.97 * p.clamp_volts) | (p.short_siemens >= 0.01))
        self._strain = where(wrong, self._strain + dt, 0.0)
        self._held = where(self._strain > CLAMP_SECONDS, p.retry_seconds, self._held)
        watts = self.amps * self.volts / DRIVER_EFFICIENCY
        self.drawn_siemens = watts / most(source, 1.0) ** 2


class Inverter:
    """CCFL inverters of `n` boards. `volts` is the tube-current sense, 0 where dark."""

    def __init__(self, parameters: InverterParameters) -> None:
        like = parameters.path
        self.parameters = parameters
        self.volts = nothing(like)
        self.drawn_siemens = nothing(like)
        self._on = nothing(like)
        self._shut = never(like)

    def step(self, dt: float, source: Value, signal: Flag) -> None:
        """Advance by `dt` with the feed and the lamp signal as they are."""
        p = self.parameters
        self._shut &= signal
        running = signal & (p.path > 0) & no(self._shut) & (source > LEAST_FEED_VOLTS)
        self._on = where(running, least(self._on + dt, p.patience_seconds + STRIKE_SECONDS), 0.0)
        struck = running & (self._on > STRIKE_SECONDS)
        self.volts = where(struck, TUBE_SENSE_VOLTS * p.tubes, 0.0)
        self._shut |= running & (p.tubes < 1.0) & (self._on > p.patience_seconds)
        watts = where(struck, p.watts * most(p.tubes, 0.4), 0.0)
        self.drawn_siemens = watts / most(source, 1.0) ** 2
