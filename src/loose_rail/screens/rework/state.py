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
class ReworkState:
    """Rework of the accepted part, with what its polarity drawing shows."""

    title: str
    part: str
    part_words: str
    plus_words: str
    minus_words: str
    polarised: bool
    steps: tuple[ReworkStep, ...]
    action: str
    message: str = ""
    safety: str = ""
    asks_bulk: bool = False
