"""The standby controller's own supply: start resistor, reservoir, auxiliary winding, lock-out.

Hiccup emerges by itself: the start resistor charges the reservoir to the on level, the converter
runs, and where the auxiliary winding does not take over (or a protection holds the drive) the
reservoir falls to the off level and the cycle starts again: f ≈ I_start/(C·(V_on − V_off)).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from loose_rail.live.plant import Plant

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]

OFF_AMPS = 20e-6
"""Controller below its on level [E]."""
PROTECTED_AMPS = 1.0e-3
"""Controller held by a protection until it falls to its off level [E]."""
CLAMP_VOLTS = 27.0


class ControllerSupply:
    """VCC of the standby controller on `n` boards."""

    def __init__(self, plant: Plant) -> None:
        self.plant = plant
        self.volts = np.zeros(plant.width)
        self.awake = np.zeros(plant.width, dtype=bool)
        self.tripped = np.zeros(plant.width, dtype=bool)

    def step(self, dt: float, bulk: Floats, output_volts: Floats, switching: Bools) -> None:
        """Advance by `dt`; `output_volts` is what the auxiliary winding mirrors, diode included."""
        plant = self.plant
        drawn = np.where(
            self.awake, np.where(self.tripped, PROTECTED_AMPS, plant.run_amps), OFF_AMPS
        )
        start = 1.0 / plant.start_ohms
        mirror = plant.aux_ratio * output_volts
        fed = switching & (mirror > self.volts)
        aux = np.where(fed, 1.0 / plant.aux_ohms, 0.0)
        siemens = start + aux + plant.vcc_leak_siemens
        target = start * bulk + aux * mirror - drawn
        node = plant.vcc_farads / dt
        self.volts = np.clip((node * self.volts + target) / (node + siemens), 0.0, CLAMP_VOLTS)
        wakes = ~self.awake & (self.volts > plant.vcc_on_volts) & (plant.controller_path > 0)
        sleeps = self.awake & (self.volts < plant.vcc_off_volts)
        self.tripped &= ~wakes
        self.awake = (self.awake | wakes) & ~sleeps

    def trip(self, where: Bools) -> None:
        """Hold the drive until the supply has fallen to its off level."""
        self.tripped |= where & self.awake

    @property
    def over_voltage(self) -> Bools:
        """Where the controller's own over-voltage sense trips."""
        return np.asarray(self.awake & (self.volts > self.plant.vcc_over_volts))

    @property
    def drives(self) -> Bools:
        """Where the converter is allowed to switch."""
        return np.asarray(self.awake & ~self.tripped)
