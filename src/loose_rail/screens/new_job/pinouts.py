"""Printed pinouts as lines of text, one connector each."""

from __future__ import annotations

from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtWidgets import QPlainTextEdit

LINES_SHOWN = 3


class PinoutLines(QPlainTextEdit):
    """A small editor with the words of a line: text, setText, and the line of the cursor."""

    def __init__(self) -> None:
        super().__init__()
        self.setTabChangesFocus(True)
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        metrics = QFontMetricsF(self.font())
        self.setFixedHeight(round(metrics.lineSpacing() * LINES_SHOWN + 20))

    def text(self) -> str:
        """What stands in it."""
        return self.toPlainText()

    def setText(self, text: str) -> None:
        """Put another text in."""
        self.setPlainText(text)

    @property
    def line(self) -> int:
        """The line in which the cursor stands, from 0."""
        return self.textCursor().blockNumber()

    @property
    def at_empty_line(self) -> bool:
        """Whether the cursor stands in a line without a word: Enter then goes on."""
        return not self.textCursor().block().text().strip()
