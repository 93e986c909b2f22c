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


@dataclass(frozen=True, slots=True)
class JunctionArray:
    """The parameters of many junctions, each `(n_junctions,)` or, after `some`, `(n, k)`.

    `knee` is the voltage from which a junction conducts in earnest, `offset` the constant of the
    closed form.
    """

    saturation: Floats
    slope_volts: Floats
    series: Floats
    breakdown: Floats
    knee: Floats
    offset: Floats

    @staticmethod
    def made(
        saturation: Floats, slope_volts: Floats, series: Floats, breakdown: Floats
    ) -> JunctionArray:
        """From amps, volts, ohms and volts; what follows from them is worked out once."""
        drop = saturation * series
        return JunctionArray(
            saturation,
            slope_volts,
            series,
            breakdown,
            slope_volts * np.log(slope_volts / (np.sqrt(2.0) * saturation)),
            np.log(drop / slope_volts) + drop / slope_volts,
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
            self.saturation[numbers],
            self.slope_volts[numbers],
            self.series[numbers],
            self.breakdown[numbers],
            self.knee[numbers],
            self.offset[numbers],
        )

    def law(self, volts: Floats) -> tuple[Floats, Floats]:
        """Current in amps and slope in siemens at `volts` of shape `(..., n_junctions)`."""
        current, slope = self._forward(volts)
        breaks = np.isfinite(self.breakdown)
        if breaks.any():
            back, back_slope = self._forward(np.where(breaks, -volts - self.breakdown, 0.0))
            current -= np.where(breaks, back + self.saturation, 0.0)
            slope += np.where(breaks, back_slope, 0.0)
        return current, slope

    def _forward(self, volts: Floats) -> tuple[Floats, Floats]:
        omega = wrightomega(self.offset + volts / self.slope_volts)
        current = self.slope_volts / self.series * omega - self.saturation
        return current, omega / (self.series * (1.0 + omega))
