"""A series of meter readings reduced to what is said of it: steady, ticking, rising, wandering.

Electrical reference section 4, in short form: range first, then regular crossings of the middle
with hysteresis, then a monotone trend (Mann–Kendall). A record too short says only its value.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from loose_rail.kernel.observation import Form, Observation, open_circuit, ticking, value

STEADY_SHARE = 0.01
STEADY_VOLTS = 0.03
LEAST_SAMPLES = 12
LEAST_CROSSINGS = 3
INTERVAL_SCATTER = 0.4
MONOTONE_Z = 3.0
HYSTERESIS_SHARE = 0.15


def summarise(seconds: Sequence[float], values: Sequence[float], unit: str) -> Observation:
    """One observation for a series of samples (seconds, SI values; +inf is overload).

    Raises ValueError for an empty series.
    """
    if not values:
        raise ValueError("no samples")
    y = np.array(values, dtype=float)
    if np.isinf(y).mean() > 0.5:
        return open_circuit(unit)
    keep = np.isfinite(y)
    t, y = np.array(seconds, dtype=float)[keep], y[keep]
    low, high = float(y.min()), float(y.max())
    middle = float(np.median(y))
    if len(y) < LEAST_SAMPLES or high - low <= max(STEADY_SHARE * abs(middle), STEADY_VOLTS):
        return value(middle, unit)
    hertz = _tick_rate(t, y)
    if hertz is not None:
        return ticking(low, high, unit, hertz)
    if abs(_mann_kendall(y)) > MONOTONE_Z:
        return Observation(Form.RISING if y[-1] > y[0] else Form.FALLING, low, high, unit)
    return Observation(Form.RANGE, low, high, unit)


def _mann_kendall(y: np.ndarray) -> float:
    n = len(y)
    s = float(np.sign(y[None, :] - y[:, None])[np.triu_indices(n, 1)].sum())
    variance = n * (n - 1) * (2 * n + 5) / 18.0
    return (s - math.copysign(1.0, s)) / math.sqrt(variance) if s else 0.0


def _tick_rate(t: np.ndarray, y: np.ndarray) -> float | None:
    """Rate of regular upward crossings of the middle, None where they are few or irregular."""
    low, high = float(y.min()), float(y.max())
    middle, margin = 0.5 * (low + high), HYSTERESIS_SHARE * (high - low)
    crossings: list[float] = []
    armed = bool(y[0] < middle - margin)
    for k in range(1, len(y)):
        if armed and y[k] > middle + margin:
            crossings.append(float(t[k]))
            armed = False
        elif y[k] < middle - margin:
            armed = True
    if len(crossings) < LEAST_CROSSINGS:
        return None
    gaps = np.diff(crossings)
    if gaps.std() > INTERVAL_SCATTER * gaps.mean():
        return None
    return float(1.0 / gaps.mean())
