"""A meter seen from its probes: a Norton source, and for ohms a clamp behind it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.circuit import meters
from loose_rail.circuit.junction import JunctionArray

Floats = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class MeterPort:
    """A meter as a Norton source: `amps` out, `siemens` across, and a clamp junction."""

    amps: float
    siemens: float
    clamp: JunctionArray | None

    @staticmethod
    def ohms(amps: float) -> MeterPort:
        """A current source that gives way near the clamp voltage."""
        slope = 0.05
        saturation = amps * np.exp(-meters.OHMS_CLAMP_VOLTS / slope)
        clamp = JunctionArray.made(
            np.array([saturation]),
            np.array([slope]),
            np.array([0.01 / amps]),
            np.array([np.inf]),
        )
        return MeterPort(amps, 0.0, clamp)

    @staticmethod
    def diode() -> MeterPort:
        """Open voltage behind a resistance."""
        siemens = 1.0 / meters.DIODE_SOURCE_OHMS
        return MeterPort(meters.DIODE_SOURCE_VOLTS * siemens, siemens, None)

    @property
    def largest_amps(self) -> float:
        """The most current that the meter can drive."""
        return self.amps

    @property
    def open_volts(self) -> float:
        """Volts between the probes with nothing between them."""
        if self.clamp is None:
            return self.amps / self.siemens
        return float(self.clamp.volts_at(self.amps)[0])

    def delivered(self, volts: float) -> float:
        """Amps that flow out of the meter at a voltage between its probes."""
        return -float(self.law(np.array([volts]), 1.0)[0][0])

    def law(self, volts: Floats, ramp: float) -> tuple[Floats, Floats]:
        """Current into the meter and slope at `volts` of shape `(n,)`; `ramp` scales the source."""
        current = self.siemens * volts - ramp * self.amps
        slope = np.full_like(volts, self.siemens)
        if self.clamp is not None:
            clamp, clamp_slope = self.clamp.law(volts[:, None])
            current += clamp[:, 0]
            slope += clamp_slope[:, 0]
        return current, slope
