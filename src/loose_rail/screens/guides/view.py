"""A guide in front of the stage: steps at the top, a table with numbers, one line to type in."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHeaderView, QTableWidgetItem, QVBoxLayout

from loose_rail.screens.shared.page import Page
from loose_rail.screens.shared.suspects import SuspectList
from loose_rail.screens.shared.widgets import WordsLine, clear_layout, label, plain_table


class GuideView(Page):
    """`show_guide` brings a guide to the front; Escape goes back to the card."""

    left = pyqtSignal()
    said = pyqtSignal(object)
    chosen = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.guide: Any = None
        self._title = label(role="title", wrap=True)
        self._intro = QVBoxLayout()
        self._caution = label(role="hot", wrap=True)
        self.table = plain_table(("",), "Choices of the guide", 0)
        self.table.setWordWrap(True)
        self.entry = WordsLine("Number or words for the guide")
        self.entry.installEventFilter(self)
        self._hint = label(role="quiet", wrap=True)
        self.main.addWidget(self._title)
        self.main.addLayout(self._intro)
        self.main.addWidget(self._caution)
        self.main.addWidget(self.entry)
        self.main.addWidget(self._hint)
        self.main.addWidget(self.table, 1)
        self.suspects = SuspectList()
        self.side.addWidget(self.suspects)
        self.set_action("Back to the card")
        self.action.setText("Back to the card   Esc")
        self.action.clicked.disconnect()
        self.action.clicked.connect(self.left)

    def show_guide(self, guide: Any, suspects: Any) -> None:
        """Draw a guide as it stands."""
        self.guide = guide
        state = guide.state()
        self._title.setText(state.title)
        clear_layout(self._intro)
        for words in state.intro:
            self._intro.addWidget(label(words, wrap=True))
        self._caution.setText(state.caution)
        self._caution.setVisible(bool(state.caution))
        self._hint.setText(state.hint)
        self._show_rows(state)
        self.suspects.show_state("Suspects now", suspects)

    def _show_rows(self, state: Any) -> None:
        self.table.setColumnCount(len(state.columns))
        self.table.setHorizontalHeaderLabels(list(state.columns))
        header = self.table.horizontalHeader()
        for column in range(len(state.columns)):
            mode = QHeaderView.ResizeMode.ResizeToContents
            header.setSectionResizeMode(column, mode)
        last = len(state.columns) - 1
        header.setSectionResizeMode(max(state.stretched, 0), QHeaderView.ResizeMode.Stretch)
        if last != state.stretched and last > 2:
            header.setSectionResizeMode(last, QHeaderView.ResizeMode.Stretch)
        self.table.setRowCount(len(state.rows))
        for line, row in enumerate(state.rows):
            for column, text in enumerate(row):
                item = QTableWidgetItem(text)
                item.setToolTip(text)
                self.table.setItem(line, column, item)
        QTimer.singleShot(0, self.table.resizeRowsToContents)

    def _take(self) -> None:
        text = self.entry.text().strip()
        if not text:
            self.left.emit()
            return
        chose = text.isdigit()
        notice = self.guide.choose(int(text)) if chose else self.guide.enter(text)
        self.entry.answered(notice.taken)
        self.said.emit(notice)
        self.chosen.emit()
        if chose and notice.taken and notice.text.startswith("On the card"):
            self.left.emit()

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter takes the line, Escape goes back."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take()
        elif event.key() == Qt.Key.Key_Escape:
            self.entry.clear()
            self.left.emit()
        else:
            return False
        return True

    def focus_work(self) -> None:
        """The line."""
        self.entry.setFocus()
