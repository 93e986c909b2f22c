"""What a command on a job came to, and what a line is understood as while it is typed."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Kind(StrEnum):
    """How it went."""

    DONE = "info"
    WARNING = "warning"
    """Done, and bad news."""
    REFUSED = "problem"
    """Not done: what was typed stays in its line."""


@dataclass(frozen=True, slots=True)
class Outcome:
    """A sentence for the person, and how it went. `leaves` says that the page in front is done
    with: what was asked for stands on another one."""

    text: str
    kind: Kind = Kind.DONE
    leaves: bool = False

    @property
    def taken(self) -> bool:
        """Whether what was typed or asked for was done."""
        return self.kind is not Kind.REFUSED

    @classmethod
    def refused(cls, text: str) -> Outcome:
        """Not done, and why."""
        return cls(text, Kind.REFUSED)

    @classmethod
    def warned(cls, text: str) -> Outcome:
        """Done, and bad news."""
        return cls(text, Kind.WARNING)


@dataclass(frozen=True, slots=True)
class Echo:
    """What an entry is understood as, or why it is not; `error` picks the colour."""

    text: str
    error: bool = False
