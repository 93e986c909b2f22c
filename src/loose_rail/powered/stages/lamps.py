"""What lights a panel: a boost driver with LED strips, and a CCFL inverter with its tubes.

LED driver: with its signal absent its output is the feed less a diode; running it raises the
output until the current flows, or, where a strip is open, until the clamp, and then latches or
tries again. Inverter: strikes for a while, then shuts down where a tube takes no current.
"""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.powered.maths import (
    Flag,
    Value,
    all_false,
    any_of,
    logical_not,
    maximum,
    minimum,
    where,
    zeros,
)
from loose_rail.powered.plant import InverterParameters, LedParameters

PASS_DROP_VOLTS = 0.5
RISE_SECONDS = 0.03
CLAMP_SECONDS = 0.12
DRIVER_EFFICIENCY = 0.9
"""Below this share of the string voltage the driver takes the strip for shorted [E]."""
TUBE_SENSE_VOLTS = 1.2
SHORT_SIEMENS = 0.01
TOP_SHARE = 0.97
"""Of a voltage that is approached exponentially: near enough to be there."""
LEAST_SOURCE_VOLTS = 1.0
"""Keeps the division by the feed defined while there is none."""
LEAST_FEED_VOLTS = 8.0
"""Below this the driver's chip does not run [P]."""
STRIKE_SECONDS = 0.1
"""From the start to lit tubes [P]."""


@dataclass(frozen=True, slots=True)
class _Coefficients:
    """What follows from the parameters alone; `top` is where the driver lets its output rise."""

    parameters: LedParameters
    whole: Flag
    lit: Flag
    shorted: Flag
    any_shorted: bool
    top: Value
    fall_seconds: Value

    @staticmethod
    def of(p: LedParameters) -> _Coefficients:
        shorted = p.short_siemens >= SHORT_SIEMENS
        lit = (p.strings_path > 0) & logical_not(shorted)
        top = where(lit, minimum(p.string_volts, p.clamp_volts), p.clamp_volts)
        return _Coefficients(
            parameters=p,
            whole=p.path > 0,
            lit=lit,
            shorted=shorted,
            any_shorted=any_of(shorted),
            top=top,
            fall_seconds=p.farads / p.bleed_siemens,
        )


class LedDriver:
    """LED drivers of `n` boards."""

    def __init__(self, parameters: LedParameters) -> None:
        like = parameters.path
        self.parameters = parameters
        self.volts = zeros(like)
        self.amps = zeros(like)
        self.ripple_volts = zeros(like)
        self.drawn_siemens = zeros(like)
        self._held = zeros(like)
        self._strain = zeros(like)
        self.starts = zeros(like)
        """How often it has tried again after a shut-down: what probes an open string by pulses."""
        self._fixed = _Coefficients.of(parameters)

    def step(self, dt: float, source: Value, signal: Flag) -> None:
        """Advance by `dt` with the feed and the lamp signal as they are."""
        p = self.parameters
        if self._fixed.parameters is not p:
            self._fixed = _Coefficients.of(p)
        fixed = self._fixed
        was_held = self._held > 0
        self._held = maximum(self._held - dt, 0.0) * signal
        able = signal & fixed.whole & (source > LEAST_FEED_VOLTS)
        running = able & (self._held <= 0)
        self.starts = self.starts + (running & was_held)
        through = maximum(source - PASS_DROP_VOLTS, 0.0) * p.passes
        top = where(fixed.shorted, 0.5 * through, fixed.top) if fixed.any_shorted else fixed.top
        target = where(running, maximum(top, through), through)
        rate = where(target > self.volts, RISE_SECONDS, fixed.fall_seconds)
        self.volts = self.volts + (target - self.volts) * dt / (dt + rate)
        self.amps = p.amps * (running & fixed.lit & (self.volts > TOP_SHARE * p.string_volts))
        self.ripple_volts = p.ripple_volts * (self.amps > 0)
        crest = self.volts + self.ripple_volts
        wrong = running & (
            (self.volts > TOP_SHARE * p.clamp_volts) | (crest > p.clamp_volts) | fixed.shorted
        )
        self._strain = (self._strain + dt) * wrong
        given_up = self._strain > CLAMP_SECONDS
        if any_of(given_up):
            self._held = where(given_up, p.retry_seconds, self._held)
        above = maximum(source, LEAST_SOURCE_VOLTS)
        self.drawn_siemens = self.amps * self.volts / DRIVER_EFFICIENCY / (above * above)

    def turns_within(self, seconds: float) -> bool:
        """Whether the driver of a single board counts towards giving up, or will try again."""
        return bool(self._strain > 0.0 or 0.0 < self._held <= seconds)


INVERTER_SWING = 1.57
"""Peak to peak over mean of what a push-pull or half bridge takes: half sines, π/2 (textbook)."""


class Inverter:
    """CCFL inverters of `n` boards. `volts` is the tube-current sense, 0 where dark."""

    def __init__(self, parameters: InverterParameters) -> None:
        like = parameters.path
        self.parameters = parameters
        self.volts = zeros(like)
        self.feed_volts = zeros(like)
        self.feed_ripple_volts = zeros(like)
        self.drawn_siemens = zeros(like)
        self._on = zeros(like)
        self._shut = all_false(like)

    def step(self, dt: float, source: Value, signal: Flag) -> None:
        """Advance by `dt` with the feed and the lamp signal as they are."""
        p = self.parameters
        self.feed_volts = source * p.fuse_path
        self._shut &= signal
        running = signal & (p.path > 0) & logical_not(self._shut) & (source > LEAST_FEED_VOLTS)
        self._on = where(running, minimum(self._on + dt, p.patience_seconds + STRIKE_SECONDS), 0.0)
        struck = running & (self._on > STRIKE_SECONDS)
        self.volts = where(struck, TUBE_SENSE_VOLTS * p.tubes, 0.0)
        self._shut |= running & (p.tubes < 1.0) & (self._on > p.patience_seconds)
        watts = where(struck, p.watts * maximum(p.tubes, 0.4), 0.0)
        held = maximum(source, LEAST_SOURCE_VOLTS)
        self.drawn_siemens = watts / held**2
        self.feed_ripple_volts = INVERTER_SWING * p.feed_ohms * watts / held
