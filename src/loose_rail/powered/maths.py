"""One source, two back-ends: the model's arithmetic on plain floats or on arrays.

A single board runs on floats, ten to twenty times faster than on arrays of one; many variants run
on arrays `(n,)`. These functions take either; conditions are `bool` or boolean arrays. They are
called a hundred times a step, so what a single board asks for comes first.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

Value = Any
"""A float, or an array `(n,)` of floats."""
Flag = Any
"""A bool, or an array `(n,)` of bools."""


MOST_BOUNDS = 256
"""Limits kept so; a model has some fifty, and what varies is none."""
_BOUNDS: dict[float, Value] = {}
"""Limits as arrays without a dimension, which meet an array in half the time of a float."""


def _bound(limit: Value) -> Value:
    if limit.__class__ is not float:
        return limit
    known = _BOUNDS.get(limit)
    if known is not None:
        return known
    if len(_BOUNDS) < MOST_BOUNDS:
        _BOUNDS[limit] = np.array(limit)
    return limit


def where(flag: Flag, then: Value, other: Value) -> Value:
    """`then` where the flag holds, else `other`."""
    if flag is True:
        return then
    if flag is False:
        return other
    return np.where(flag, _bound(then), _bound(other))


def any_of(flag: Flag) -> bool:
    """Whether a flag holds in any column."""
    if flag is False or flag is True:
        return bool(flag)
    return bool(np.count_nonzero(flag)) if isinstance(flag, np.ndarray) else bool(flag)


def logical_not(flag: Flag) -> Flag:
    """The flag turned round."""
    if flag is True or flag is False:
        return not flag
    return ~flag


def minimum(a: Value, b: Value) -> Value:
    """The smaller of two."""
    if a.__class__ is float and b.__class__ is float:
        return a if a < b else b
    if isinstance(a, np.ndarray) or isinstance(b, np.ndarray):
        return np.minimum(_bound(a), _bound(b))
    return a if a < b else b


def maximum(a: Value, b: Value) -> Value:
    """The larger of two."""
    if a.__class__ is float and b.__class__ is float:
        return a if a > b else b
    if isinstance(a, np.ndarray) or isinstance(b, np.ndarray):
        return np.maximum(_bound(a), _bound(b))
    return a if a > b else b


def clip(value: Value, low: Value, high: Value) -> Value:
    """The value, kept within two limits."""
    if value.__class__ is float and low.__class__ is float and high.__class__ is float:
        return low if value < low else high if value > high else value
    if isinstance(value, np.ndarray):
        return value.clip(_bound(low), _bound(high))
    return minimum(maximum(value, low), high)


def sqrt(value: Value) -> Value:
    """Square root."""
    return np.sqrt(value) if isinstance(value, np.ndarray) else math.sqrt(value)


def arcsin(value: Value) -> Value:
    """Arc sine, in radians."""
    return np.arcsin(value) if isinstance(value, np.ndarray) else math.asin(value)


def sin(value: Value) -> Value:
    """Sine of radians."""
    return np.sin(value) if isinstance(value, np.ndarray) else math.sin(value)


def finite(value: Value) -> Flag:
    """Whether a value is a number."""
    return np.isfinite(value) if isinstance(value, np.ndarray) else math.isfinite(value)


def zeros(like: Value) -> Value:
    """Zero in the shape of another value."""
    return np.zeros_like(like, dtype=float) if isinstance(like, np.ndarray) else 0.0


def all_false(like: Value) -> Flag:
    """A flag that nowhere holds, in the shape of a value."""
    return np.zeros_like(like, dtype=bool) if isinstance(like, np.ndarray) else False


def all_true(like: Value) -> Flag:
    """A flag that holds everywhere, in the shape of a value."""
    return np.ones_like(like, dtype=bool) if isinstance(like, np.ndarray) else True
