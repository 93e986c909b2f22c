"""The meters page: what it draws."""

from __future__ import annotations

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
    """The page: places, the two roles, sound switches, the foot key, and what the bench reads of
    the settings that not every bench has."""

    rows: tuple[MeterRow, ...]
    chosen: tuple[tuple[str, str], ...]
    tones: bool
    speech: bool
    speech_words: str
    foot_key: str
    profiles: tuple[str, ...]
    bench_reads: str
