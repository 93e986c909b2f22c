"""What every guide is to the screen: rows that a number chooses, and a line to type in."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from loose_rail.app.legend import LegendState
from loose_rail.app.outcome import Outcome
from loose_rail.app.set_picture import SetPictureState


@dataclass(frozen=True, slots=True)
class GuideState:
    """A guide as it stands. `columns` head the rows; a row's first cell is its number."""

    title: str
    intro: tuple[str, ...]
    caution: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    hint: str
    stretched: int = 1
    picture: SetPictureState | None = None
    """The set as it is seen and heard, in place of the rows."""
    legend: LegendState | None = None
    """The connector that it speaks of, as it is seen."""


class Guide(Protocol):
    """`choose` takes a row by number from 1; `enter` a typed line. A notice with no text stays."""

    def state(self) -> GuideState: ...
    def choose(self, number: int) -> Outcome: ...
    def enter(self, text: str) -> Outcome: ...
