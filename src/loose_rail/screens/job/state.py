"""The frame around every stage of a job: what it draws."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class StageDot:
    """A stop of the stage track; `status` is done, current or ahead."""

    key: str
    title: str
    status: str


@dataclass(frozen=True, slots=True)
class Token:
    """A token of the board-state strip; `role` is solid, plain, warn or todo."""

    text: str
    role: str


@dataclass(frozen=True, slots=True)
class JobFrame:
    """What stands around every stage of a job."""

    ticket: str
    set_text: str
    complaint: str
    right_text: str
    stages: tuple[StageDot, ...]
    tokens: tuple[Token, ...]
    bulk_text: str
    warning: str
    save_problem: str
    undo_words: str
    redo_words: str
    told: str = ""
    """What another window did to this job, or what of it is lost: lasting."""

    @property
    def banner(self) -> str:
        """Everything that lasts until it is mended, in one line; empty where all is well."""
        waiting = f"Not saved yet: {self.save_problem} Trying again." if self.save_problem else ""
        return " ".join(part for part in (waiting, self.told) if part)

    @property
    def foot_text(self) -> str:
        """What undo and redo would do, with their keys."""
        said = []
        if self.undo_words:
            said.append(f"Ctrl+Z takes back: {_short(self.undo_words)}")
        if self.redo_words:
            said.append(f"Ctrl+Shift+Z puts back: {_short(self.redo_words)}")
        return "   ".join(said)


MOST_FOOT = 44


def _short(words: str) -> str:
    return words if len(words) <= MOST_FOOT else f"{words[: MOST_FOOT - 1].rstrip()}…"
