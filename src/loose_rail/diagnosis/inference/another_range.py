"""Ohms through a junction hang on the current that the meter drives, and so on its range.

A short that leaves one junction in the way reads 4 k on one range and 30 k on the next: which one a
meter settles on is its own, and no reading of it speaks against the short.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.spread import student4
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]

RANGES_LOG, RANGE_SPREAD_LOG = 2.05, 0.4
"""From one range to the next a junction's ohms go up by 8 to 9, not by 10: its volts fall with the
logarithm of the current (60 to 90 mV a decade; textbook). How far meters differ in it [E]."""
ON_ANOTHER_RANGE = 0.3
"""How often a meter is on another range there than the one that is worked out with [E]."""
FROM_OHMS, BELOW_LOG = 1e3, 1.5
"""A prediction from here up, and so far below a sound board's (natural logarithm), is of a short
with a junction in its way [E]."""


def through_a_junction(table: PredictionTable, number: int) -> NDArray[np.bool_]:
    """Rows `(n_rows,)` that are read through a junction at a candidate of the dead board in place;
    none at other candidates, and where a sound board reads little itself."""
    probe = table.candidates[number].probe
    low = np.nan_to_num(table.low[:, number], nan=0.0, posinf=0.0)
    if probe.live or not probe.in_place or probe.mode is not MeterMode.OHMS:
        return np.zeros(len(low), dtype=bool)
    sound = table.low[0, number]
    return np.asarray((low > FROM_OHMS) & (low < sound * np.exp(-BELOW_LOG)))


def on_another_range(y: float, predicted: Floats, sigma: Floats) -> Floats:
    """Density `(n_rows,)` of a reading `y` by a meter on the range above or below the one that
    `predicted` is worked out with, all in natural logarithms of ohms."""
    wide = np.hypot(sigma, RANGE_SPREAD_LOG)
    above = student4((y - predicted - RANGES_LOG) / wide) / wide
    below = student4((y - predicted + RANGES_LOG) / wide) / wide
    return np.asarray(0.5 * (above + below))
