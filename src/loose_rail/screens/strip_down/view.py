"""Strip down: one line a step, the ledger below; F9 plays it back in reverse."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QVBoxLayout

from loose_rail.app.outcome import Echo
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import SidedPage
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.table_rows import Cell, show_rows
from loose_rail.screens.shared.theme import Role
from loose_rail.screens.shared.widgets import (
    WordsLine,
    clear_layout,
    label,
    plain_table,
    set_role,
)
from loose_rail.screens.strip_down.state import StripRow, StripState

COLUMNS = ("#", "What came off", "Kind", "Reassembly")


def _cells(row: StripRow) -> tuple[Cell, ...]:
    gone = "missing" in row.status
    role: Role = "disagrees" if gone else "quiet" if row.status == "back" else "ink"
    return tuple(Cell(text, role) for text in (row.number, row.words, row.group, row.status))


class StripView(SidedPage):
    """The strip-down page."""

    typed = pyqtSignal(str)
    entered = pyqtSignal(str)
    turned = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self._title = label(role="title")
        self._now = label(role="strong", wrap=True)
        self._caution = label(role="hot", wrap=True)
        self.entry = WordsLine("Step of the strip-down")
        self.entry.textChanged.connect(self.typed)
        self.entry.installEventFilter(self)
        self._echo = label(wrap=True)
        self._echo.setMinimumHeight(18)
        self.table = plain_table(COLUMNS, "Ledger of the strip-down", 1)
        for widget in (self._title, self._now, self._caution, self.entry, self._echo):
            self.main.addWidget(widget)
        self.main.addWidget(self.table, 1)
        self._keys = PageKeys("strip_down", {"turn": self.turned.emit})
        self.turn = self._keys.button("turn")
        self._side = QVBoxLayout()
        self.side.addLayout(self._side)
        self.side.addWidget(self.turn)
        self._plays = False
        self.action.clicked.disconnect()
        self.action.clicked.connect(self._act)

    def attach(self, host: JobHost) -> None:
        """The line leads to the ledger."""
        first = host.desks.first
        self.went_on.connect(host.go_on)
        self.typed.connect(lambda text: self.show_echo(first.strip_echo(text)))
        self.entered.connect(lambda text: self._enter(host, text))
        self.turned.connect(first.turn_around)

    def _enter(self, host: JobHost, text: str) -> None:
        outcome = host.desks.first.strip_enter(text)
        self.entry.answered(outcome.taken)
        host.tell(outcome)

    def show_state(self, state: StripState) -> None:
        """Draw the ledger; what is being typed stays."""
        self._plays = bool(state.now)
        self._title.setText(state.title)
        self._now.setText(state.now)
        self._now.setVisible(bool(state.now))
        self._caution.setText(state.caution)
        self._caution.setVisible(bool(state.caution))
        words = "Take apart again" if state.back else "Put back, in reverse"
        self.turn.setText(f"{words}   F9")
        self.turn.setAccessibleName(words)
        self._show_rows(state)
        clear_layout(self._side)
        for text in state.warnings:
            self._side.addWidget(label(text, "hot", wrap=True))
        self._side.addWidget(label(state.done, "strong"))
        for kind, count in state.totals[:12]:
            self._side.addWidget(label(f"{count}  {kind}"))
        if state.account:
            self._side.addWidget(label("Account", "strong"))
        for text in state.account:
            role = "good" if state.complete else "bad"
            self._side.addWidget(label(text, role, wrap=True))
        for text in state.notes:
            self._side.addWidget(label(text, "quiet", wrap=True))
        self.set_action(state.action)
        self.typed.emit(self.entry.text())  # what is known may have changed

    def _show_rows(self, state: StripState) -> None:
        show_rows(self.table, [_cells(row) for row in state.rows])
        if state.rows:
            self.table.selectRow(max(0, state.current))
            self.table.scrollToItem(self.table.item(max(0, state.current), 0))

    def _act(self) -> None:
        """The page's action: this step is back, or on to the next stage."""
        self.entered.emit(self.entry.text()) if self._plays else self.went_on.emit()

    def show_echo(self, echo: Echo) -> None:
        """What the line is understood as."""
        self._echo.setText(echo.text)
        set_role(self._echo, "bad" if echo.error else "quiet")

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter takes the line; on an empty one it goes on, or plays a step back; F9 turns."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        if self._keys.press(event):
            return True
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            text = self.entry.text()
            self.entered.emit(text) if text.strip() else self._act()
            return True
        return super().eventFilter(source, event)

    def focus_work(self) -> None:
        """The entry line."""
        self.entry.setFocus()
