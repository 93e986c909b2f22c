"""The same point before and after the repair, as it is drawn."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class PairView:
    """A before and after pair on its number line (SI values)."""

    title: str
    before: str
    after: str
    expected: str
    unit: str
    before_span: tuple[float, float]
    after_span: tuple[float, float]
    expected_span: tuple[float, float]
    good: bool = True
    """Whether the point reads right now: only then is it drawn as mended."""
