"""How parts and points are called in words: by designator, or by what they do where the board is
known by its topology only."""

from __future__ import annotations

import re

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a, kind_words
from loose_rail.boards.profile import Board

_PIN = re.compile(r"\b([A-Z]{1,3}\d{1,4})(?:-| pin )(\d{1,2})\b(?:, ground)?")
_REF = re.compile(r"\b[A-Z]{1,3}\d{1,4}\b")
_TWICE = re.compile(r"\b([\w][\w ]{3,}), \1\b")


class Names:
    """Names of one board's parts. Boards behind connectors are always called by what they are."""

    def __init__(self, board: Board, by_duty: bool = False) -> None:
        self.board = board
        self.by_duty = by_duty
        self._loads = {part.ref for part in board.components if is_a(part, Trait.BOARD)}
        self.refs = frozenset(part.ref for part in board.components)
        self._labels = {
            (connector.ref, str(pin.number)): pin.label
            for connector in board.connectors
            for pin in connector.pins
        }

    def part(self, ref: str) -> str:
        """A part with what it does."""
        part = self.board.component(ref)
        duty = part.duty or kind_words(part.kind)
        if self.by_duty:
            duty = _REF.sub(self._plain_duty, duty)
        if is_a(part, Trait.BOARD):
            return duty
        if self.by_duty:
            return f"connector {duty}" if is_a(part, Trait.CONNECTOR) else duty
        return f"{ref} ({duty})" if part.duty else ref

    def short(self, ref: str) -> str:
        """A part in one word where it has a designator."""
        if self.by_duty or ref in self._loads:
            return self.part(ref)
        return ref

    def text(self, text: str) -> str:
        """Words in which designators that mean nothing to the reader are replaced."""
        if self.by_duty:
            text = _PIN.sub(self._pin, text)
        known = self.refs if self.by_duty else self._loads
        text = re.sub(
            r"\b[A-Z]{1,3}\d{0,4}\b", lambda m: self.part(m[0]) if m[0] in known else m[0], text
        )
        return _TWICE.sub(r"\1", text)

    def suspect(self, part: str, title: str) -> str:
        """A suspect's title; a connector that is called by its number is called a connector."""
        if part and not self.by_duty and is_a(self.board.component(part), Trait.CONNECTOR):
            title = title.replace(part, f"connector {part}", 1)
        return self.text(title)

    def title(self, text: str) -> str:
        """The same as the title of something."""
        found = self.text(text)
        return found[:1].upper() + found[1:]

    def _plain_duty(self, match: re.Match[str]) -> str:
        """What a part that is named in another's duty does."""
        if match[0] not in self.refs:
            return match[0]
        part = self.board.component(match[0])
        return f"the {part.duty or kind_words(part.kind)}"

    def _pin(self, match: re.Match[str]) -> str:
        label = self._labels.get((match[1], match[2]))
        return f"the {label} pin" if label else match[0]
