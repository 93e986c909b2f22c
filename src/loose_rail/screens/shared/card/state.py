"""The next-probe card: what it draws."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.vocabulary.phase import Phase


@dataclass(frozen=True, slots=True)
class CardState:
    """The next-probe card. `phase` says what the entry takes."""

    phase: Phase
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
    branch: tuple[str, ...] = ()
    alarm: bool = False
    """Drawn as a warning: the repair has failed, or is not shown."""
