"""How parts and points are called in an answer."""

from __future__ import annotations

import re

from loose_rail.app.job_file.board_of import CaseBoard
from loose_rail.boards.faults import kind_words

_PIN = re.compile(r"\b([A-Z]{1,3}\d{1,4})(?:-| pin )(\d{1,2})\b(?:, ground)?")
_REF = re.compile(r"\b[A-Z]{1,3}\d{1,4}\b")
_TWICE = re.compile(r"\b([\w][\w ]{3,}), \1\b")


class Names:
    """Parts by designator, or by what they do where the board is known by its topology only.

    Boards behind connectors are always called by what they are.
    """

    def __init__(self, case: CaseBoard) -> None:
        self.board = case.board
        self.generic = case.generic
        self._loads = {part.ref for part in case.board.components if part.kind == "load"}
        self._refs = {part.ref for part in case.board.components}
        self._labels = {
            (connector.ref, str(pin.number)): pin.label
            for connector in case.board.connectors
            for pin in connector.pins
        }

    def __call__(self, ref: str) -> str:
        part = self.board.component(ref)
        duty = part.duty or kind_words(part.kind)
        if self.generic:
            duty = _REF.sub(self._plain_duty, duty)
        if part.kind == "load":
            return duty
        if self.generic:
            return f"connector {duty}" if part.kind == "connector" else duty
        return f"{ref} ({duty})" if part.duty else ref

    def text(self, text: str) -> str:
        """Words in which designators of the example are replaced where they mean nothing."""
        if self.generic:
            text = _PIN.sub(self._pin, text)
        known = self._refs if self.generic else self._loads
        text = re.sub(
            r"\b[A-Z]{1,3}\d{0,4}\b", lambda m: self(m[0]) if m[0] in known else m[0], text
        )
        return _TWICE.sub(r"\1", text)

    def _plain_duty(self, match: re.Match[str]) -> str:
        """What a part that is named in another's duty does."""
        if match[0] not in self._refs:
            return match[0]
        part = self.board.component(match[0])
        return f"the {part.duty or kind_words(part.kind)}"

    def _pin(self, match: re.Match[str]) -> str:
        label = self._labels.get((match[1], match[2]))
        return f"the {label} pin" if label else match[0]
