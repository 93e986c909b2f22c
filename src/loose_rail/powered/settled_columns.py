"""Columns of a simulation that have come to rest, and going on without them.

A board's model is autonomous: where nothing of its state has changed over a look, nothing will.
Many fault variants rest a second or two after plug-in, and the seconds left are stepped for those
that tick, climb or sag. Clocks in the model therefore stop where they no longer matter.
"""

from __future__ import annotations

from dataclasses import fields, is_dataclass
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

Numbers = NDArray[np.intp]

REST_SHARE = 1e-4
"""Change over one look that counts as none: sixteen looks add up to a sixth of a per cent, where
the narrowest spread is two."""
REST_LEAST = 1e-9
"""Smallest change that counts as movement, in the unit of each quantity."""


class Watched(NamedTuple):
    """Values of one quantity `(n,)`, and the share of it that counts as no change over a look."""

    values: NDArray[Any]
    rest_share: float


def state_of(root: object) -> list[Watched]:
    """Copies of every array of the state below an object, or of every number of a single board, in
    a fixed order; no parameters, and not what its class names as `UNWATCHED`: what may creep on
    while all that it moves stands still. A class whose ends are approached slowly names its own
    `REST_SHARE`."""
    found: list[Watched] = []
    seen: set[int] = set()
    waiting: list[tuple[Any, float]] = [(root, REST_SHARE)]
    while waiting:
        item, share = waiting.pop()
        if isinstance(item, np.ndarray):
            found.append(Watched(item.copy(), share))
            continue
        if isinstance(item, bool | float):  # a single board
            found.append(Watched(np.array([item]), share))
            continue
        if id(item) in seen:
            continue
        seen.add(id(item))
        if isinstance(item, dict):
            waiting.extend((value, share) for value in item.values())
        elif isinstance(item, (list, tuple)):
            waiting.extend((value, share) for value in item)
        elif not is_dataclass(item) and hasattr(item, "__dict__"):
            left_out: tuple[str, ...] = getattr(item, "UNWATCHED", ())
            own = float(getattr(item, "REST_SHARE", REST_SHARE))
            waiting.extend((v, own) for name, v in vars(item).items() if name not in left_out)
    return found


def resting(before: list[Watched], after: list[Watched]) -> NDArray[np.bool_]:
    """Columns `(n,)` whose state is the same in two looks."""
    same = np.ones(len(after[0].values), dtype=bool)
    for was, now in zip(before, after, strict=True):
        old, new = was.values, now.values
        if new.dtype == bool:
            same &= old == new
        else:
            with np.errstate(invalid="ignore"):
                near = np.abs(new - old) <= now.rest_share * np.abs(new) + REST_LEAST
            same &= near | (old == new)
    return same


def thinned(item: Any, kept: Numbers, made: dict[int, Any] | None = None) -> Any:
    """The same structure with only some columns.

    Parameters are made anew; objects that hold state are changed in place, so that whoever looks at
    them goes on seeing them. `made` keeps one answer for what is met twice.
    """
    made = {} if made is None else made
    if id(item) in made:
        return made[id(item)][1]
    if isinstance(item, np.ndarray):
        answer: Any = item[kept]
    elif isinstance(item, tuple):
        answer = tuple(thinned(inner, kept, made) for inner in item)
    elif isinstance(item, list):
        answer = [thinned(inner, kept, made) for inner in item]
    elif isinstance(item, dict):
        answer = {key: thinned(inner, kept, made) for key, inner in item.items()}
    elif is_dataclass(item) and not isinstance(item, type):
        parts = {f.name: thinned(getattr(item, f.name), kept, made) for f in fields(item)}
        answer = type(item)(**parts)
    elif hasattr(item, "__dict__"):
        answer = item
        made[id(item)] = (item, item)
        for name, inner in list(vars(item).items()):
            setattr(item, name, thinned(inner, kept, made))
    else:
        answer = item
    made[id(item)] = (item, answer)
    return answer
