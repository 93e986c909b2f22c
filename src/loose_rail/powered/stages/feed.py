"""How a controller without a supply of its own is fed: from another's, while a signal is given.

A protection that trips makes it wait; losing the feed ends the wait. Where its own capacitor has
dried the supply gives way at each pulse: it stops, recovers and tries again. A short at its supply
pin is seen by the other supply through the transistor that switches it, which gives only so much.
"""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.powered.maths import (
    Flag,
    Value,
    any_of,
    logical_not,
    maximum,
    minimum,
    where,
    zeros,
)
from loose_rail.powered.plant import ConverterParameters

PASS_DROP_VOLTS = 0.3
OFF_VOLTS = 8.5
LEAST_HUNT_VOLTS = 6.0
"""How far its supply falls while a controller stops: there it draws next to nothing [P]."""
HUNT_SECONDS = 1.5
"""From one try to the next of a controller whose supply gives way as it starts [E]."""
SWITCH_OHMS = 100.0
"""A small transistor with the base current that it gets carries a tenth of an ampere or two [E]."""


@dataclass(frozen=True, slots=True)
class _Coefficients:
    parameters: ConverterParameters
    whole: Flag
    stuck: Flag
    any_stuck: bool
    share: Value
    drawn: Value
    any_drawn: bool


class Feed:
    """The fed supply of one converter on `n` boards; `volts` stand at its supply pin, and
    `drawn_siemens` is what a short there takes from the other supply."""

    def __init__(self, parameters: ConverterParameters) -> None:
        self.volts = zeros(parameters.path)
        self.drawn_siemens = zeros(parameters.path)
        self._wait = zeros(parameters.path)
        self._tries = zeros(parameters.path)
        self._gives_way = any_of(parameters.vcc_drop_volts > 0.0)
        self._fixed = self._prepared(parameters)

    @staticmethod
    def _prepared(p: ConverterParameters) -> _Coefficients:
        share = 1.0 / (1.0 + SWITCH_OHMS * p.vcc_siemens)
        drawn = p.vcc_siemens * share
        stuck = p.stuck > 0
        return _Coefficients(
            parameters=p,
            whole=p.path > 0,
            stuck=stuck,
            any_stuck=any_of(stuck),
            share=share,
            drawn=drawn,
            any_drawn=any_of(drawn > 0),
        )

    def step(self, dt: float, p: ConverterParameters, given: Flag, parent_volts: Value) -> Flag:
        """Advance by `dt`; returns where the converter may switch."""
        if self._fixed.parameters is not p:
            self._fixed = self._prepared(p)
            self._gives_way = any_of(p.vcc_drop_volts > 0.0)
            self.drawn_siemens = zeros(p.path)  # a short that is gone draws no more
        fixed = self._fixed
        fed = given | fixed.stuck if fixed.any_stuck else given
        self.volts = maximum(parent_volts - PASS_DROP_VOLTS, 0.0) * fed
        if fixed.any_drawn:
            self.drawn_siemens = fixed.drawn * fed
            self.volts = self.volts * fixed.share
        self._wait = maximum(self._wait - dt, 0.0) * fed
        enough = self.volts - p.vcc_drop_volts > OFF_VOLTS
        if self._gives_way:
            self._hunt(dt, p, fixed.whole & logical_not(enough) & (self.volts > OFF_VOLTS))
        return enough & fixed.whole & (self._wait <= 0.0)

    def _hunt(self, dt: float, p: ConverterParameters, hunts: Flag) -> None:
        """The supply pin of a controller that starts and stops: low for half of each try."""
        later = self._tries + dt
        later = where(later >= HUNT_SECONDS, later - HUNT_SECONDS, later)
        self._tries = where(hunts, later, 0.0)
        low = hunts & (self._tries < 0.5 * HUNT_SECONDS)
        lowest = maximum(self.volts - p.vcc_drop_volts, LEAST_HUNT_VOLTS)
        self.volts = where(low, minimum(self.volts, lowest), self.volts)

    def waits_less_than(self, seconds: float) -> bool:
        """Whether the controller of a single board waits, and not for long any more, or hunts."""
        return bool(0.0 < self._wait <= seconds or self._tries > 0.0)

    def trip(self, trips: Flag) -> None:
        """Hold the drive for the restart time."""
        if any_of(trips):
            self._wait = where(trips, self._fixed.parameters.restart_seconds, self._wait)
