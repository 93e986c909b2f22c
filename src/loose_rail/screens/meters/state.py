"""The meters page: what it draws."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class MeterRow:
    """A place in the list; `role` says whether it is meter A or B."""

    address: str
    words: str
    role: str
    answers: bool


@dataclass(frozen=True, slots=True)
class MetersState:
    """The page: places, the two roles, how each setting stands that a key turns, the foot key."""

    rows: tuple[MeterRow, ...]
    chosen: tuple[tuple[str, str], ...]
    choices: Mapping[str, str]
    speech_words: str
    foot_key: str
    profiles: tuple[str, ...]
