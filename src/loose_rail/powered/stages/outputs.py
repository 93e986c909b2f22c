"""Rails made from other rails: cross-regulated windings, step-down converters, switches.

Each looks at its source's voltage of the last step and tells what it draws from it.
"""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.powered.maths import Flag, Value, clip, maximum, minimum, where, zeros
from loose_rail.powered.plant import RegulatorParameters, WindingParameters
from loose_rail.powered.stages.converter import Converter

WINDING_DIODE_VOLTS = 0.7
"""Forward volts of a slave winding's rectifier [P]."""
WIDENED_SHARE = 0.5
"""Of the ESR over the load's resistance, by which the pulse is wider [T]."""
PULSED_OVER_MEAN = 5.0
"""Peak over mean of a slave winding's current: it takes its share of the pulse [T]."""
LEAST_SOURCE_VOLTS = 1.0
"""Keeps the division by the source defined while there is none."""


class Winding:
    """A rail on a second winding of a converter on `n` boards."""

    def __init__(self, parameters: WindingParameters) -> None:
        self.parameters = parameters
        self.volts = zeros(parameters.ratio)
        self.ripple_volts = zeros(parameters.ratio)

    def reflected_siemens(self, load_siemens: Value) -> Value:
        """What the winding's load looks like at the converter's own output."""
        p = self.parameters
        behind = p.siemens + load_siemens
        return p.ratio * p.ratio * behind / (1.0 + self._ohms(behind) * behind)

    def _ohms(self, drawn_siemens: Value) -> Value:
        """Source resistance: the pulse widens as the ESR grows against the load [T, ngspice]."""
        p = self.parameters
        widened = 1.0 + WIDENED_SHARE * p.esr_ohms * drawn_siemens
        return p.ohms + p.esr_times * p.esr_ohms / widened

    def step(self, dt: float, converter: Converter, load_siemens: Value) -> None:
        """Advance by `dt` behind its converter."""
        p = self.parameters
        drop = converter.parameters.diode_volts
        source = p.ratio * (converter.volts + drop) - WINDING_DIODE_VOLTS
        drawn = p.siemens + load_siemens
        feed = (converter.running & (source > self.volts)) / self._ohms(drawn)
        node = p.farads / dt
        self.volts = (node * self.volts + feed * source) / (node + feed + drawn)
        self.ripple_volts = PULSED_OVER_MEAN * p.esr_ohms * self.volts * drawn


@dataclass(frozen=True, slots=True)
class _Coefficients:
    parameters: RegulatorParameters
    seconds: float
    whole: Flag
    share: Value
    linear: Flag
    stuck: Flag
    per_efficiency: Value

    @staticmethod
    def of(p: RegulatorParameters, seconds: float) -> _Coefficients:
        """What follows from the parameters and the step alone."""
        linear = p.efficiency == 0
        share = seconds / (seconds + p.seconds)
        return _Coefficients(
            parameters=p,
            seconds=seconds,
            whole=p.path > 0,
            share=share,
            linear=linear,
            stuck=p.stuck > 0,
            per_efficiency=1.0 / where(linear, 1.0, p.efficiency),
        )


class Regulator:
    """A rail behind a step-down converter, a linear regulator or a switch on `n` boards."""

    def __init__(self, parameters: RegulatorParameters) -> None:
        like = parameters.path
        self.parameters = parameters
        self.volts = zeros(like)
        self.ripple_volts = zeros(like)
        self.drawn_siemens = zeros(like)
        self._fixed = _Coefficients.of(parameters, 1.0)

    def step(self, dt: float, source: Value, enabled: Flag, load_siemens: Value) -> None:
        """Advance by `dt`; `load_siemens` hangs on the output."""
        p, fixed = self.parameters, self._fixed
        if fixed.parameters is not p or fixed.seconds != dt:
            fixed = self._fixed = _Coefficients.of(p, dt)
        siemens = p.siemens + load_siemens
        able = (enabled | fixed.stuck) & fixed.whole & (source > p.start_volts)
        target = clip(source - p.drop_volts, 0.0, p.set_volts) * able
        limited = minimum(target, p.limit_amps / siemens)
        self.volts = self.volts + fixed.share * (limited - self.volts)
        self.ripple_volts = minimum(p.ripple_volts, self.volts)
        drop = where(fixed.linear, source, self.volts * fixed.per_efficiency)
        above = maximum(source, LEAST_SOURCE_VOLTS)
        self.drawn_siemens = self.volts * siemens * able * drop / (above * above)
