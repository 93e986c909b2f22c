"""The law of a junction with series resistance, in closed form.

i = IS·(exp((v − i·RS)/(n·VT)) − 1) solved for i with the Wright omega function:
i = (n·VT/RS)·ω(ln(IS·RS/(n·VT)) + (v + IS·RS)/(n·VT)) − IS, di/dv = ω/(RS·(1 + ω)).
No overflow, no internal node. Breakdown is the mirrored exponential. Source: Shockley's law and
Banwell and Jayakumar's exact solution by Lambert's function (textbook).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.special import wrightomega

from loose_rail.circuit.elements import Junction

Floats = NDArray[np.float64]

THERMAL_VOLTS = 0.025693
"""k·T/q at 25 °C, in volts (CODATA constants)."""

SERIES_BELOW = -20.0
"""exp(−20) squared times 3/2, the first term left out, is 6e-18 of the whole."""
FAR_BELOW = -45.0
"""A junction that many n·VT short of breakdown adds less than a rounding error of its leakage."""


@dataclass(frozen=True, slots=True)
class JunctionArray:
    """The parameters of many junctions, each `(n_junctions,)` or, after `some`, `(n, k)`.

    `offset` is the constant of the closed form; `breaks` tells whether any breaks down.
    """

    saturation: Floats
    slope_volts: Floats
    series: Floats
    breakdown: Floats
    offset: Floats
    breaks: bool

    @staticmethod
    def made(
        saturation: Floats, slope_volts: Floats, series: Floats, breakdown: Floats
    ) -> JunctionArray:
        """From amps, volts, ohms and volts; what follows from them is worked out once."""
        drop = saturation * series
        return JunctionArray(
            saturation=saturation,
            slope_volts=slope_volts,
            series=series,
            breakdown=breakdown,
            offset=np.log(drop / slope_volts) + drop / slope_volts,
            breaks=bool(np.isfinite(breakdown).any()),
        )

    @staticmethod
    def of(junctions: Sequence[Junction]) -> JunctionArray:
        """Gather the parameters of the junctions in order."""
        return JunctionArray.made(
            np.array([j.saturation_amps for j in junctions], dtype=float),
            np.array([j.emission * THERMAL_VOLTS for j in junctions], dtype=float),
            np.array([j.series_ohms for j in junctions], dtype=float),
            np.array([j.breakdown_volts for j in junctions], dtype=float),
        )

    def some(self, numbers: NDArray[np.intp]) -> JunctionArray:
        """The junctions with these numbers, in their shape."""
        return JunctionArray(
            saturation=self.saturation[numbers],
            slope_volts=self.slope_volts[numbers],
            series=self.series[numbers],
            breakdown=self.breakdown[numbers],
            offset=self.offset[numbers],
            breaks=self.breaks,
        )

    def volts_at(self, amps: float) -> Floats:
        """Voltage at which each carries a current in the forward direction."""
        return self.slope_volts * np.log1p(amps / self.saturation) + self.series * amps

    def law(self, volts: Floats) -> tuple[Floats, Floats]:
        """Current in amps and slope in siemens at `volts` of shape `(..., n_junctions)`."""
        current, slope = self._forward(volts)
        if self.breaks:
            beyond = -volts - self.breakdown
            near = beyond > FAR_BELOW * self.slope_volts
            if near.any():
                back, back_slope = self._forward(np.where(near, beyond, 0.0))
                current -= np.where(near, back + self.saturation, 0.0)
                slope += np.where(near, back_slope, 0.0)
        return current, slope

    def _forward(self, volts: Floats) -> tuple[Floats, Floats]:
        omega = omega_of(self.offset + volts / self.slope_volts)
        current = self.slope_volts / self.series * omega - self.saturation
        return current, omega / (self.series * (1.0 + omega))


def omega_of(z: Floats) -> Floats:
    """The Wright omega function, by its series exp(z) − exp(2z) where that is exact to rounding."""
    small = np.exp(np.minimum(z, SERIES_BELOW))
    omega = np.asarray(small - small * small)
    near = z > SERIES_BELOW
    omega[near] = wrightomega(z[near])
    return omega
