"""Mean and foot of the ripple on a bulk that is charged once or twice a period and drained between.

The capacitor follows the rectified sine |cos πτ| while that falls more slowly than the load drains
it, then gives constant power, dv² = −x·dτ, until the next rise overtakes it; τ in half periods and
x = 2·P·T½/(C·V²) the share of its energy that the load would take in one. Charged in every other
half-cycle alone, the second hump is missing. Stiff line; energy balance (textbook), integrated and
tabulated once over x.
"""

from __future__ import annotations

from bisect import bisect

import numpy as np
from numpy.typing import NDArray

from loose_rail.powered.maths import Value

Floats = NDArray[np.float64]

_SHARES: Floats = np.concatenate([[0.0], np.geomspace(1e-3, 1e3, 121)])
"""Shares x at which the course is worked out; beyond the last the capacitor is as good as none."""
_STEPS = 2001
"""Points of a course."""
LEAST_DRAWN_SHARE = 0.15
"""Of the crest: below it no converter draws its full power any more [P]."""
FULL_WAVE_SHARE = 0.75
"""Share of the half-cycles that charge, above which it is both of a period."""


def _course(hump_missing: bool) -> tuple[Floats, Floats]:
    """Mean and lowest value over a period, of the crest, for every share."""
    end = 2.0 if hump_missing else 1.0
    tau = np.linspace(0.0, end, _STEPS)
    cosine = np.cos(np.pi * tau)
    source = np.maximum(cosine, 0.0) if hump_missing else np.abs(cosine)
    course = np.empty((len(_SHARES), _STEPS))
    course[:, 0] = 1.0
    drained = _SHARES * (tau[1] - tau[0])
    for step in range(1, _STEPS):
        held = np.maximum(course[:, step - 1] ** 2 - drained, LEAST_DRAWN_SHARE**2)
        course[:, step] = np.maximum(np.sqrt(held), source[step])
    return np.asarray(course.mean(axis=1)), np.asarray(course.min(axis=1))


_FULL_MEAN, _FULL_FOOT = _course(False)
_HALF_MEAN, _HALF_FOOT = _course(True)
_FULL_BOTH, _HALF_BOTH = _FULL_MEAN + 1j * _FULL_FOOT, _HALF_MEAN + 1j * _HALF_FOOT
"""Mean and foot in one, so that an array is looked up once for both."""
_SHARES_LIST: list[float] = _SHARES.tolist()
_FULL: tuple[list[float], list[float]] = (_FULL_MEAN.tolist(), _FULL_FOOT.tolist())
_HALF: tuple[list[float], list[float]] = (_HALF_MEAN.tolist(), _HALF_FOOT.tolist())
"""The same tables for a single board, where a list is looked up eight times as fast."""


def energy_share(watts: Value, hertz: Value, farads: Value, crest_volts: Value) -> Value:
    """The share x of a capacitor's energy at the crest that a load takes in a half period."""
    return watts / (hertz * farads * crest_volts * crest_volts)


def mean_and_foot(share: Value, every_half: Value) -> tuple[Value, Value]:
    """Mean and lowest volts, as shares of the crest; `every_half` is 1.0 where each half-cycle
    charges the capacitor, less where every other does."""
    if isinstance(share, np.ndarray):
        both = np.interp(share, _SHARES, _FULL_BOTH)
        half = np.flatnonzero(np.asarray(every_half) <= FULL_WAVE_SHARE)
        if half.size:
            both[half] = np.interp(share[half], _SHARES, _HALF_BOTH)
        return np.ascontiguousarray(both.real), np.ascontiguousarray(both.imag)
    means, feet = _FULL if every_half > FULL_WAVE_SHARE else _HALF
    place = bisect(_SHARES_LIST, share) - 1
    if place >= len(means) - 1:
        return means[-1], feet[-1]
    low = _SHARES_LIST[place]
    part = (share - low) / (_SHARES_LIST[place + 1] - low)
    return (
        means[place] + part * (means[place + 1] - means[place]),
        feet[place] + part * (feet[place + 1] - feet[place]),
    )
