"""What the pages after the bench share: a picture at the left, a side with the one action."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from loose_rail.screens.shared.card.view import NextProbeCard
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.widgets import button, clear_layout, label, scrolled

SIDE_WIDTH, CARD_WIDTH = 392, 432
LEAST_SIDE = 300
"""So narrow a side becomes where the window is: the picture beside it needs the rest of 1024."""

LEAST_CARD = 400
"""Two buttons of the card beside each other, with their keys."""


class Side(QFrame):
    """The right side of a page: as wide as it is meant, narrower where there is no room."""

    def __init__(self, width: int = SIDE_WIDTH, least: int = LEAST_SIDE) -> None:
        super().__init__()
        self._width = width
        self.setObjectName("side")
        self.setMinimumWidth(least)
        self.setMaximumWidth(width)

    def sizeHint(self) -> QSize:
        """Its meant width."""
        return QSize(self._width, super().sizeHint().height())


class StagePage(QWidget):
    """What every page of a job can do."""

    @property
    def card(self) -> NextProbeCard | None:
        """The card on it, if it has one."""
        return None

    def attach(self, host: JobHost) -> None:
        """The page belongs to a job: its signals lead to the job's commands."""

    def show_state(self, state: Any) -> None:
        """Draw another moment."""

    def focus_work(self) -> None:
        """Put the focus where the work is."""
        if self.card is not None:
            self.card.entry.setFocus()

    def restyle(self) -> None:
        """The theme changed."""


class SidedPage(StagePage):
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
        frame = Side()
        outer = QVBoxLayout(frame)
        outer.setContentsMargins(18, 16, 18, 16)
        self.side = QVBoxLayout()
        self.side.setSpacing(6)
        outer.addLayout(self.side)
        outer.addStretch(1)
        self._outer = outer
        self.action = button("Go on", "Enter", "action")
        self.action.clicked.connect(self.went_on)
        outer.addWidget(self.action)
        row.addWidget(frame)

    def set_action(self, words: str, enabled: bool = True) -> None:
        """What Enter does here."""
        self.action.setText(f"{words}   Enter")
        self.action.setAccessibleName(words)
        self.action.setEnabled(enabled)

    def scrolled_side(self) -> QVBoxLayout:
        """A column in the side that takes all the room above the buttons, and scrolls where it has
        more to tell: without it a page grows the window."""
        told = QWidget()
        column = QVBoxLayout(told)
        column.setContentsMargins(0, 0, 0, 0)
        column.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.side.addWidget(scrolled(told), 1)
        self.stretch_side()
        return column

    def stretch_side(self) -> None:
        """The side takes all the room above the action: something in it scrolls."""
        for at, share in enumerate((1, 0)):
            self._outer.setStretch(at, share)

    def fill_side(self, blocks: Iterable[tuple[str, str]]) -> None:
        """Show lines in the side: (role, text)."""
        clear_layout(self.side)
        for role, text in blocks:
            self.side.addWidget(label(text, role, wrap=True))

    def focus_work(self) -> None:
        """Put the focus where the work is."""
        self.action.setFocus()


class FrontPage(SidedPage):
    """A page that stands in front of a stage: `left` goes back to it."""

    left = pyqtSignal()
    said = pyqtSignal(object)

    def draw_again(self) -> None:
        """Something of the job changed while it stands in front."""
