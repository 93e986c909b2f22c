"""Handing back: what the page draws."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.screens.shared.pairs import PairView


@dataclass(frozen=True, slots=True)
class PointView:
    """A point of the final list: its number and words, what was said or is asked, and how it stands
    (done, open, bad)."""

    number: int
    words: str
    said: str
    status: str
    caution: str = ""


@dataclass(frozen=True, slots=True)
class HandBackState:
    """The sheet as it will print, and what is left to do."""

    html: str
    proof: str
    price: str
    open_points: tuple[str, ...]
    handed_back: bool
    action: str
    pairs: tuple[PairView, ...]
    failed: str = ""
    points: tuple[PointView, ...] = ()
    cost: str = ""
    proposed_price: str = ""
    came_back: str = ""
    """How many sets that were proved as far have come back."""
