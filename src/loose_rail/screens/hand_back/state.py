"""Handing back: what the page draws."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.screens.shared.pairs import PairView


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
