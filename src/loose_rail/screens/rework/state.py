"""Rework of a part: what the page draws."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class ReworkStep:
    """A step of the rework; `status` is done, current or ahead."""

    key: str
    text: str
    caution: str
    status: str


@dataclass(frozen=True, slots=True)
class LegView:
    """A leg of the part: its name and where it goes on the board; a plug of a board: its name, what
    it is, and what is printed at each of its pins."""

    name: str
    goes_to: str
    pins: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class MethodView:
    """A way to get the part off: its name in the log, what it is called, how it is done."""

    name: str
    words: str
    step: str
    chosen: bool


@dataclass(frozen=True, slots=True)
class ReworkState:
    """Rework of a part, with what its polarity drawing shows: `shape` is can, diode, legs, chip or
    plain."""

    title: str
    part: str
    part_words: str
    steps: tuple[ReworkStep, ...]
    action: str
    shape: str = "plain"
    legs: tuple[LegView, ...] = ()
    mark_words: str = ""
    mounting: str = ""
    caution: str = ""
    methods: tuple[MethodView, ...] = ()
    message: str = ""
    safety: str = ""
    asks_bulk: bool = False
