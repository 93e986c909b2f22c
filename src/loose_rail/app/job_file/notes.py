"""What was understood of a job file and what was not: nothing is dropped in silence."""

from __future__ import annotations

import json
from dataclasses import dataclass, field


@dataclass(frozen=True, slots=True)
class NotUsed:
    """Something in the file that could not be used, why, and what would help."""

    what: str
    why: str


@dataclass
class Notes:
    """Gathered while a file is read."""

    understood: list[str] = field(default_factory=list)
    not_used: list[NotUsed] = field(default_factory=list)
    warnings: list[str] = field(default_factory=list)

    def leave(self, what: object, why: str) -> None:
        """Note that something was not used."""
        self.not_used.append(NotUsed(shown(what), why))

    def warn(self, words: str) -> None:
        """Note a warning once."""
        if words not in self.warnings:
            self.warnings.append(words)


MOST_SHOWN = 120


def shown(what: object) -> str:
    """Something from the file as a short text."""
    text = what if isinstance(what, str) else json.dumps(what, ensure_ascii=False, default=str)
    return text if len(text) <= MOST_SHOWN else f"{text[: MOST_SHOWN - 1]}…"
