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
    """The parameters of many junctions, each of shape `(n_junctions,)`."""

    saturation: Floats
    slope_volts: Floats
    series: Floats
    breakdown: Floats

    @staticmethod
    def of(junctions: Sequence[Junction]) -> JunctionArray:
        """Gather the parameters of the junctions in order."""
        return JunctionArray(
            np.array([j.saturation_amps for j in junctions], dtype=float),
            np.array([j.emission * THERMAL_VOLTS for j in junctions], dtype=float),
            np.array([j.series_ohms for j in junctions], dtype=float),
            np.array([j.breakdown_volts for j in junctions], dtype=float),
        )

    def some(self, numbers: NDArray[np.intp]) -> JunctionArray:
        """The junctions with these numbers."""
        return JunctionArray(
            self.saturation[numbers],
            self.slope_volts[numbers],
            self.series[numbers],
            self.breakdown[numbers],
        )

    def law(self, volts: Floats) -> tuple[Floats, Floats]:
        """Current in amps and slope in siemens at `volts` of shape `(..., n_junctions)`."""
        current, slope = _forward(volts, self.saturation, self.slope_volts, self.series)
        breaks = np.isfinite(self.breakdown)
        if breaks.any():
            reverse = -volts[..., breaks] - self.breakdown[breaks]
            scale, series = self.slope_volts[breaks], self.series[breaks]
            back, back_slope = _forward(reverse, self.saturation[breaks], scale, series)
            current[..., breaks] -= back + self.saturation[breaks]
            slope[..., breaks] += back_slope
        return current, slope


def _forward(
    volts: Floats, saturation: Floats, slope_volts: Floats, series: Floats
) -> tuple[Floats, Floats]:
    drop = saturation * series
    omega = wrightomega(np.log(drop / slope_volts) + (volts + drop) / slope_volts)
    current = slope_volts / series * omega - saturation
    return current, omega / (series * (1.0 + omega))
