"""The meter that follows the card: what its panel draws."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class LiveState:
    """What the panel draws: `band` is the range of a good board at the point."""

    on: bool
    name: str = ""
    reading: str = ""
    unit: str = ""
    phase: str = ""
    phase_words: str = ""
    statistics: str = ""
    character: str = ""
    trouble: str = ""
    seconds: tuple[float, ...] = ()
    values: tuple[float, ...] = ()
    band: tuple[float, float] | None = None
    watched: str = ""
