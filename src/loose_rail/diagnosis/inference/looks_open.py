"""A blocking part in place that is noted as OL, though some hundred kilohms stand beside it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.inference.predicted import Predicted
from loose_rail.judgement.spread import FULL_SCALE
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]

LOOKS_OPEN, LOOKS_OPEN_FROM, LOOKS_OPEN_ALL = 0.5, 5e4, 1e6
"""Chance that so many ohms are noted as OL, from how many up to how many: “OL, climbs” is what a
sound switch reads with the bulk behind it, and a hand-set range ends below them [P]."""
NEAR_TOP_SHARE = 0.05
"""So near the top of a diode range a meter's own leak makes a figure of OL, or OL of one [E]."""
BLOCKING = frozenset(
    {
        *("mosfet_n", "mosfet_p", "igbt", "npn", "pnp", "switcher", "diode", "schottky", "film"),
        *("electrolytic", "surge_suppressor"),
    }
)
"""Kinds that conduct nothing one way round when they are sound."""


def looks_open(at: Predicted) -> Floats:
    """Chance `(n_rows,)` that the ohms predicted at a blocking part are noted as OL."""
    kinds = {one.ref: one.kind for one in at.board.components}
    blocks = kinds.get(at.probe.part, "") in BLOCKING
    if at.probe.live or at.probe.mode is not MeterMode.OHMS or not blocks:
        return np.zeros(len(at.low))
    ohms = np.maximum(np.nan_to_num(at.low, nan=0.0, posinf=LOOKS_OPEN_ALL), 1.0)
    up = np.log(ohms / LOOKS_OPEN_FROM) / np.log(LOOKS_OPEN_ALL / LOOKS_OPEN_FROM)
    return np.asarray(LOOKS_OPEN * np.clip(up, 0.0, 1.0))


def at_the_top(at: Predicted, volts: float) -> Floats:
    """Density `(n_rows,)` of a value at the very top of the diode range where OL is predicted."""
    top = FULL_SCALE[MeterMode.DIODE]
    near = at.probe.mode is MeterMode.DIODE and volts > (1.0 - NEAR_TOP_SHARE) * top
    return np.where(at.open & near, 1.0 / (NEAR_TOP_SHARE * top), 0.0)
