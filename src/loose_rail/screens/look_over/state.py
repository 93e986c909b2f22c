"""Looking over: what the page draws."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.screens.shared.rail_map.state import RailMapState
from loose_rail.screens.shared.rows import BoardShare, SuspectRow


@dataclass(frozen=True, slots=True)
class SurveyRow:
    """A part of the survey; `seen` is empty while it was not looked at."""

    ref: str
    words: str
    seen: str
    share: float
    odd: bool


@dataclass(frozen=True, slots=True)
class SurveyState:
    """Looking over: the part to look at now, what can be seen on it, and all parts."""

    title: str
    part: str
    part_words: str
    hint: str
    options: tuple[tuple[str, str], ...]
    chosen: str
    rows: tuple[SurveyRow, ...]
    selected: int
    rail_map: RailMapState
    boards: tuple[BoardShare, ...]
    suspects: tuple[SuspectRow, ...]
    done: str
    action: str
    can_be_named: bool = False
    """Whether the board is composed: what is printed beside a part can be said."""
