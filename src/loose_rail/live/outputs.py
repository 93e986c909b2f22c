"""Rails made from other rails: cross-regulated windings, step-down converters, switches.

Each looks at its source's voltage of the last step and tells what it draws from it.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from loose_rail.live.converter import Converter
from loose_rail.live.plant import RegulatorParameters, WindingParameters

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]

WINDING_DIODE_VOLTS = 0.7


class Winding:
    """A rail on a second winding of a converter on `n` boards."""

    def __init__(self, parameters: WindingParameters) -> None:
        self.parameters = parameters
        self.volts = np.zeros(len(parameters.ratio))

    def reflected_siemens(self, load_siemens: Floats) -> Floats:
        """What the winding's load looks like at the converter's own output."""
        p = self.parameters
        feed = 1.0 / p.ohms
        behind = p.siemens + load_siemens
        return np.asarray(p.ratio**2 * feed * behind / (feed + behind))

    def step(self, dt: float, converter: Converter, load_siemens: Floats) -> None:
        """Advance by `dt` behind its converter."""
        p = self.parameters
        drop = converter.parameters.diode_volts
        source = p.ratio * (converter.volts + drop) - WINDING_DIODE_VOLTS
        feed = np.where(converter.running & (source > self.volts), 1.0 / p.ohms, 0.0)
        node = p.farads / dt
        siemens = feed + p.siemens + load_siemens
        self.volts = (node * self.volts + feed * source) / (node + siemens)


class Regulator:
    """A rail behind a step-down converter, a linear regulator or a switch on `n` boards."""

    def __init__(self, parameters: RegulatorParameters) -> None:
        n = len(parameters.path)
        self.parameters = parameters
        self.volts = np.zeros(n)
        self.drawn_siemens = np.zeros(n)

    def step(self, dt: float, source: Floats, enabled: Bools, load_siemens: Floats) -> None:
        """Advance by `dt`; `load_siemens` hangs on the output."""
        p = self.parameters
        siemens = p.siemens + load_siemens
        able = enabled & (p.path > 0) & (source > p.start_volts)
        target = np.where(able, np.clip(source - p.drop_volts, 0.0, p.set_volts), 0.0)
        limited = np.minimum(target, p.limit_amps / np.maximum(siemens, 1e-9))
        share = dt / (dt + p.seconds)
        self.volts = self.volts + share * (limited - self.volts)
        amps = self.volts * siemens * able
        linear = p.efficiency == 0
        watts = amps * np.where(linear, source, self.volts / np.where(linear, 1.0, p.efficiency))
        self.drawn_siemens = watts / np.maximum(source, 1.0) ** 2
