"""The preferred values of parts (IEC 60063) and the nearest one to a value."""

from __future__ import annotations

import math
from functools import cache

E24 = (
    *(1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0),
    *(3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1),
)
"""Historic roundings, not 10^(k/24)."""
SERIES = ("E3", "E6", "E12", "E24", "E48", "E96", "E192")
OF_TOLERANCE = ((20.0, "E6"), (10.0, "E12"), (2.0, "E24"), (1.0, "E96"), (0.0, "E192"))
"""The coarsest series that goes with a tolerance of at least so many per cent."""
SAME = 1e-6


@cache
def values_of(series: str) -> tuple[float, ...]:
    """The values of a series in one decade from 1. Raises KeyError for an unknown name."""
    if series not in SERIES:
        raise KeyError(series)
    count = int(series[1:])
    if count <= 24:
        return E24[:: 24 // count]
    found = [round(10 ** (k / count), 2) for k in range(count)]
    return tuple(9.20 if one == 9.19 else one for one in found)  # the exception of the standard


def nearest(value: float, series: str) -> float:
    """The value of a series with the least ratio to a value above zero."""
    decade = math.floor(math.log10(value))
    near = [one * 10.0 ** (decade + shift) for shift in (-1, 0, 1) for one in values_of(series)]
    return float(f"{min(near, key=lambda one: abs(math.log(value / one))):.4g}")


def is_of(value: float, series: str) -> bool:
    """Whether a value stands in a series."""
    return value > 0 and abs(math.log(value / nearest(value, series))) < SAME


def is_usual(value: float, percent: float | None) -> bool:
    """Whether parts of this tolerance are made with this value: its series, or one it grew from."""
    if value == 0:
        return True
    name = next(name for least, name in OF_TOLERANCE if (percent or 5.0) >= least)
    return is_of(value, name) or is_of(value, "E24") or (percent == 5.0 and is_of(value, "E24"))
