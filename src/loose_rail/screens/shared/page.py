"""What the pages after the bench share: a picture at the left, a side with the one action."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from loose_rail.screens.shared.widgets import button, clear_layout, label

SIDE_WIDTH = 392


class Page(QWidget):
    """A page with `main` (the picture) and `side`; `went_on` is its one action."""

    went_on = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("page")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        holder = QWidget()
        self.main = QVBoxLayout(holder)
        self.main.setContentsMargins(22, 16, 22, 14)
        self.main.setSpacing(8)
        row.addWidget(holder, 1)
        frame = QFrame()
        frame.setObjectName("side")
        frame.setFixedWidth(SIDE_WIDTH)
        outer = QVBoxLayout(frame)
        outer.setContentsMargins(18, 16, 18, 16)
        self.side = QVBoxLayout()
        self.side.setSpacing(6)
        outer.addLayout(self.side)
        outer.addStretch(1)
        self.action = button("Go on", "Enter", "action")
        self.action.clicked.connect(self.went_on)
        outer.addWidget(self.action)
        row.addWidget(frame)

    def set_action(self, words: str, enabled: bool = True) -> None:
        """What Enter does here."""
        self.action.setText(f"{words}   Enter")
        self.action.setAccessibleName(words)
        self.action.setEnabled(enabled)

    def fill_side(self, blocks: Iterable[tuple[str, str]]) -> None:
        """Show lines in the side: (role, text)."""
        clear_layout(self.side)
        for role, text in blocks:
            self.side.addWidget(label(text, role, wrap=True))

    def focus_work(self) -> None:
        """Put the focus where the work is."""
        self.action.setFocus()
