"""A controller's own supply: start resistor, reservoir, auxiliary winding, lock-out.

Hiccup emerges by itself: the start resistor charges the reservoir to the on level, the converter
runs, and where the auxiliary winding does not take over (or a protection holds the drive) the
reservoir falls to the off level and the cycle starts again: f ≈ I_start/(C·(V_on − V_off)).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from loose_rail.live.plant import SupplyParameters

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]

OFF_AMPS = 20e-6
"""Controller below its on level [E]."""
PROTECTED_AMPS = 1.0e-3
"""Controller held by a protection until it falls to its off level [E]."""
CLAMP_VOLTS = 27.0


class ControllerSupply:
    """VCC of a converter's controller on `n` boards."""

    def __init__(self, parameters: SupplyParameters) -> None:
        n = len(parameters.farads)
        self.parameters = parameters
        self.volts = np.zeros(n)
        self.awake = np.zeros(n, dtype=bool)
        self.tripped = np.zeros(n, dtype=bool)

    def step(self, dt: float, bulk: Floats, output_volts: Floats, switching: Bools) -> None:
        """Advance by `dt`; `output_volts` is what the auxiliary winding mirrors, diode included."""
        p = self.parameters
        drawn = np.where(self.awake, np.where(self.tripped, PROTECTED_AMPS, p.run_amps), OFF_AMPS)
        start = 1.0 / p.start_ohms
        mirror = p.aux_ratio * output_volts
        fed = switching & (mirror > self.volts)
        aux = np.where(fed, 1.0 / p.aux_ohms, 0.0)
        siemens = start + aux + p.leak_siemens
        target = start * bulk + aux * mirror - drawn
        node = p.farads / dt
        self.volts = np.clip((node * self.volts + target) / (node + siemens), 0.0, CLAMP_VOLTS)
        wakes = ~self.awake & (self.volts > p.on_volts) & (p.controller_path > 0)
        sleeps = self.awake & (self.volts < p.off_volts)
        self.tripped &= ~wakes
        self.awake = (self.awake | wakes) & ~sleeps

    def trip(self, where: Bools) -> None:
        """Hold the drive until the supply has fallen to its off level."""
        self.tripped |= where & self.awake

    @property
    def over_voltage(self) -> Bools:
        """Where the controller's own over-voltage sense trips."""
        return np.asarray(self.awake & (self.volts > self.parameters.over_volts))

    @property
    def drives(self) -> Bools:
        """Where the converter is allowed to switch."""
        return np.asarray(self.awake & ~self.tripped)
