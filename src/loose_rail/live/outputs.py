"""Rails made from other rails: cross-regulated windings, step-down converters, switches.

Each looks at its source's voltage of the last step and tells what it draws from it.
"""

from __future__ import annotations

from loose_rail.live.converter import Converter
from loose_rail.live.maths import Flag, Value, between, least, most, nothing, where
from loose_rail.live.plant import RegulatorParameters, WindingParameters

WINDING_DIODE_VOLTS = 0.7


class Winding:
    """A rail on a second winding of a converter on `n` boards."""

    def __init__(self, parameters: WindingParameters) -> None:
        self.parameters = parameters
        self.volts = nothing(parameters.ratio)

    def reflected_siemens(self, load_siemens: Value) -> Value:
        """What the winding's load looks like at the converter's own output."""
        p = self.parameters
        feed = 1.0 / p.ohms
        behind = p.siemens + load_siemens
        return p.ratio**2 * feed * behind / (feed + behind)

    def step(self, dt: float, converter: Converter, load_siemens: Value) -> None:
        """Advance by `dt` behind its converter."""
        p = self.parameters
        drop = converter.parameters.diode_volts
        source = p.ratio * (converter.volts + drop) - WINDING_DIODE_VOLTS
        feed = where(converter.running & (source > self.volts), 1.0 / p.ohms, 0.0)
        node = p.farads / dt
        siemens = feed + p.siemens + load_siemens
        self.volts = (node * self.volts + feed * source) / (node + siemens)


class Regulator:
    """A rail behind a step-down converter, a linear regulator or a switch on `n` boards."""

    def __init__(self, parameters: RegulatorParameters) -> None:
        like = parameters.path
        self.parameters = parameters
        self.volts = nothing(like)
        self.drawn_siemens = nothing(like)

    def step(self, dt: float, source: Value, enabled: Flag, load_siemens: Value) -> None:
        """Advance by `dt`; `load_siemens` hangs on the output."""
        p = self.parameters
        siemens = p.siemens + load_siemens
        able = enabled & (p.path > 0) & (source > p.start_volts)
        target = where(able, between(source - p.drop_volts, 0.0, p.set_volts), 0.0)
        limited = least(target, p.limit_amps / most(siemens, 1e-9))
        share = dt / (dt + p.seconds)
        self.volts = self.volts + share * (limited - self.volts)
        amps = self.volts * siemens * able
        linear = p.efficiency == 0
        watts = amps * where(linear, source, self.volts / where(linear, 1.0, p.efficiency))
        self.drawn_siemens = watts / most(source, 1.0) ** 2
