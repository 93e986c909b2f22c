"""The one table of limits: value, unit, reason and source, read from data/limits.json."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from importlib import resources

import msgspec


@dataclass(frozen=True, slots=True)
class Limit:
    """A limit with the reason that is shown when it is asked for."""

    value: float
    unit: str
    reason: str
    source: str


@cache
def limits() -> dict[str, Limit]:
    """Every limit by name."""
    data = resources.files("loose_rail.judgement").joinpath("data/limits.json").read_bytes()
    return msgspec.json.decode(data, type=dict[str, Limit])


def limit(name: str) -> float:
    """The value of one limit, in its own unit. Raises KeyError for an unknown name."""
    return limits()[name].value
