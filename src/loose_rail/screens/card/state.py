"""The next-probe card: what it draws."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class CardState:
    """The next-probe card. `phase` says what the entry takes: reading, bulk, state or nothing."""

    phase: str
    header: str
    title: str
    red: str = ""
    black: str = ""
    setting: str = ""
    todo: tuple[str, ...] = ()
    caution: str = ""
    unit: str = ""
    expect: str = ""
    replace: str = ""
    why: str = ""
    action: str = ""
    drain_seconds: float = 0.0
    drain_words: str = ""
    branch: tuple[str, ...] = ()
    alarm: bool = False
    """Drawn as a warning: the repair has failed, or is not shown."""
