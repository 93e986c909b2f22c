"""What is said after an action, and what the entry line echoes."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class EntryEcho:
    """What an entry was understood as, or why it was not; `error` picks the colour."""

    text: str
    error: bool


@dataclass(frozen=True, slots=True)
class Notice:
    """A sentence for the person; `kind` is info, warning (taken, and bad news) or problem (not
    taken: what was typed stays in its line)."""

    text: str
    kind: str = "info"

    @property
    def taken(self) -> bool:
        """Whether what was typed is in the log."""
        return self.kind != "problem"
