"""The main board as the supply's load: its processor, and the start signal it gives.

It asserts the start signal only when its standby voltage has been good for a while and it has been
asked to switch on. Loads are resistive at these time scales [E].
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from loose_rail.live.plant import Plant

Floats = NDArray[np.float64]

GOOD_STANDBY_VOLTS = 4.6
GOOD_SECONDS = 0.3
START_VOLTS = 3.3
STANDBY_SIEMENS = 0.12 / 5.0
ON_SIEMENS = 0.50 / 5.0
MAIN_SIEMENS = 0.8 / 12.0
LAMP_SIEMENS = 1.2 / 24.0


class MainBoard:
    """State of the main board on `n` sets."""

    def __init__(self, plant: Plant) -> None:
        self.plant = plant
        self.good = np.zeros(plant.width)
        self.start_volts = np.zeros(plant.width)

    def step(self, dt: float, standby_valley: Floats) -> None:
        """Watch the standby voltage and set the start signal."""
        plant = self.plant
        fine = standby_valley > GOOD_STANDBY_VOLTS
        self.good = np.where(fine, self.good + dt, 0.0)
        ready = (self.good > GOOD_SECONDS) & (plant.load_asserts > 0)
        asks = ready & (plant.switched_on > 0) & (plant.cable > 0)
        forced = (plant.forced > 0) & (standby_valley > 1.0)
        self.start_volts = np.where(asks, START_VOLTS, np.where(forced, 0.75 * standby_valley, 0.0))

    @property
    def standby_siemens(self) -> Floats:
        """Load on the standby rail."""
        plant = self.plant
        working = np.where(self.start_volts > 2.0, ON_SIEMENS, STANDBY_SIEMENS)
        return np.asarray(plant.cable * (working + plant.load_drag_siemens))

    @property
    def main_siemens(self) -> Floats:
        """Load on the 12 V rail."""
        return np.asarray(self.plant.cable * MAIN_SIEMENS)

    @property
    def lamp_siemens(self) -> Floats:
        """Load of the lamp strips' driver on the 24 V rail."""
        return np.asarray(self.plant.cable * LAMP_SIEMENS)
