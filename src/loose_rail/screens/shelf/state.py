"""The shelf: what it lists."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class ShelfRow:
    """A job on the shelf; `position` is its stage from 0 to 9."""

    job: int
    ticket: str
    set_text: str
    complaint: str
    waits_for: str
    next_step: str
    position: int
    age: str
    handed_back: bool = False


@dataclass(frozen=True, slots=True)
class ShelfState:
    """All jobs, the one to pick next on top."""

    shop: str
    rows: tuple[ShelfRow, ...]
    summary: str
