"""The workings: what the page draws."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class InputView:
    """An input as it stands: its title with its unit, its text, and what is wrong with it."""

    key: str
    title: str
    text: str
    problem: str = ""


@dataclass(frozen=True, slots=True)
class MarkView:
    """A marking as it stands on a part: `shape` is bands, chip, disc or coil."""

    shape: str
    code: str
    words: str


@dataclass(frozen=True, slots=True)
class WorkingState:
    """A calculator as it stands. `lines` are results as title, value with its unit, and note;
    `across` and `heights` the drawing, `at` where the inputs are on it."""

    title: str
    inputs: tuple[InputView, ...]
    lines: tuple[tuple[str, str, str], ...]
    formula: str
    source: str
    caution: str
    problem: str
    across: tuple[float, ...]
    heights: tuple[float, ...]
    at: tuple[float, float]
    across_title: str
    heights_title: str
