"""The paperwork of a set as a panel of the take-in page: lines that keep themselves."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QApplication,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from loose_rail.app.papers import FIELDS
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.widgets import label
from loose_rail.screens.take_in.state import PapersState


class PapersPanel(QWidget):
    """Every line is kept when the focus leaves it."""

    noted = pyqtSignal(str, str)
    order_asked = pyqtSignal()
    copied = pyqtSignal()
    left = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        grid = QGridLayout()
        grid.setVerticalSpacing(4)
        self.fields: dict[str, QLineEdit] = {}
        self._marks = {}
        for row, (key, title) in enumerate(FIELDS):
            field = QLineEdit()
            field.setObjectName("words")
            field.setAccessibleName(title)
            field.installEventFilter(self)
            field.editingFinished.connect(lambda k=key, f=field: self.noted.emit(k, f.text()))
            self._marks[key] = label(role="quiet")
            grid.addWidget(label(title), row, 0)
            grid.addWidget(field, row, 1)
            grid.addWidget(self._marks[key], row, 2)
            self.fields[key] = field
        column.addLayout(grid)
        row_ = QHBoxLayout()
        self._order = label(role="strong")
        self._keys = PageKeys(
            "papers",
            {"back": self.left.emit, "order": self.order_asked.emit, "copy": self._copy},
        )
        self.order = self._keys.button("order")
        self.copy = self._keys.button("copy")
        row_.addWidget(self._order, 1)
        row_.addWidget(self.order)
        row_.addWidget(self.copy)
        column.addLayout(row_)
        self.seller = QPlainTextEdit()
        self.seller.setReadOnly(True)
        self.seller.setAccessibleName("Text for asking a seller")
        self.seller.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.seller.setMinimumHeight(48)
        column.addWidget(self.seller, 1)

    def show_state(self, state: PapersState) -> None:
        """Draw the paperwork; a line that is being typed stays."""
        for one in state.fields:
            field = self.fields[one.key]
            field.setPlaceholderText(one.hint)
            if not field.hasFocus():
                field.setText(one.text)
            self._marks[one.key].setText("for ordering" if one.orders else "")
        self._order.setText(state.order_words)
        self.seller.setPlainText(state.seller_text)

    def _copy(self) -> None:
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(self.seller.toPlainText())
        self.copied.emit()

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter goes to the next line; the page's keys and Escape act; the line is kept first."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        leaves = event.key() == Qt.Key.Key_Escape
        if not (enter or leaves or self._keys.has(event)):
            return False
        lines = list(self.fields.values())
        for name, field in self.fields.items():
            if field is source:
                self.noted.emit(name, field.text())
        if self._keys.press(event):
            return True
        if leaves or source is lines[-1]:
            self.left.emit()
        elif source in lines:
            lines[lines.index(source) + 1].setFocus()
        return True

    def focus_work(self) -> None:
        """The first empty line."""
        empty = [field for field in self.fields.values() if not field.text()]
        (empty or list(self.fields.values()))[0].setFocus()
