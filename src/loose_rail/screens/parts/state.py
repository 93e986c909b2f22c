"""Choosing a replacement: what the page draws."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class WindowLine:
    """One attribute of a replacement: positions are shares of the line from 0 to 1, or None."""

    name: str
    window_low: float | None
    window_high: float | None
    original: float | None
    candidate: float | None
    original_text: str
    candidate_text: str
    window_text: str
    fit: str
    words: str


@dataclass(frozen=True, slots=True)
class ListRow:
    """A part of the repair: what it is and why it is there, how far it is, whether in front."""

    ref: str
    words: str
    status: str
    current: bool
    settled: bool = False


@dataclass(frozen=True, slots=True)
class StockRow:
    """A candidate in stock with its overall verdict."""

    name: str
    fit: str
    words: str


@dataclass(frozen=True, slots=True)
class PartsState:
    """Choosing the replacement; `message` explains where there is nothing to choose."""

    title: str
    subtitle: str
    stock: tuple[StockRow, ...]
    selected: int
    lines: tuple[WindowLine, ...]
    headline: str
    action: str
    can_choose: bool
    chosen: str
    message: str = ""
    listed: tuple[ListRow, ...] = ()
    companions: tuple[tuple[str, str], ...] = ()
    """Designators of parts that often fail with those of the list, and how."""
    scopes: tuple[tuple[str, bool], ...] = ()
    """How far the repair may go, each in words, and whether the list is that."""
