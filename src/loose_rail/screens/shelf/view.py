"""The shelf: jobs as rows on the track of the ten stages, the one to pick next marked."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QObject, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QSizePolicy, QVBoxLayout, QWidget

from loose_rail.screens.shared import theme
from loose_rail.screens.shared.widgets import WordsLine, button, fill_round, label, scrolled

if TYPE_CHECKING:
    from loose_rail.screens.shelf.state import ShelfRow, ShelfState

ROW = 102.0
GAP = 10.0
STAGES = 10


class ShelfRows(QWidget):
    """Rows that can be walked with the arrow keys and opened with Enter."""

    opened = pyqtSignal(int)
    find_asked = pyqtSignal()
    returned = pyqtSignal(int)
    moved = pyqtSignal(int, int)
    """The marked row's middle and half its height: what must be seen."""

    def __init__(self) -> None:
        super().__init__()
        self._rows: tuple[ShelfRow, ...] = ()
        self._current = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        self.setAccessibleName("Jobs on the shelf")

    def sizeHint(self) -> QSize:
        """One row after another."""
        return QSize(900, int(len(self._rows) * (ROW + GAP)))

    def show_rows(self, rows: tuple[ShelfRow, ...]) -> None:
        """Show these jobs."""
        self._rows = rows
        self._current = min(self._current, max(len(rows) - 1, 0))
        self.setMinimumHeight(int(len(rows) * (ROW + GAP)))
        self.setAccessibleDescription("; ".join(f"{r.ticket} {r.set_text}" for r in rows))
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up, down, Enter."""
        assert event is not None
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if step:
            self._current = min(max(self._current + step, 0), len(self._rows) - 1)
            top = self._current * (ROW + GAP)
            self.moved.emit(int(top + ROW / 2), int(ROW / 2 + GAP))
            self.update()
        elif event.text() == "/":
            self.find_asked.emit()
        elif event.key() == Qt.Key.Key_R and self._rows and self._rows[self._current].handed_back:
            self.returned.emit(self._rows[self._current].job)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._rows:
            self.opened.emit(self._rows[self._current].job)
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A click opens a row."""
        assert event is not None
        number = int(event.position().y() // (ROW + GAP))
        if number < len(self._rows):
            self._current = number
            self.opened.emit(self._rows[number].job)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw the rows that are in sight."""
        assert event is not None
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.color("panel"))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        first = max(0, int(event.rect().top() // (ROW + GAP)))
        last = int(event.rect().bottom() // (ROW + GAP)) + 1
        for number, row in enumerate(self._rows[first:last], start=first):
            self._row(painter, row, number)
        painter.end()

    def _row(self, painter: QPainter, row: ShelfRow, number: int) -> None:
        top = number * (ROW + GAP) + 2
        current = number == self._current
        box = QRectF(2, top, self.width() - 4, ROW)
        line = theme.color("action" if current else "line")
        fill_round(painter, box, theme.color("card"), line, 2.4 if current else 1)
        painter.setFont(theme.font("title", True))
        painter.setPen(theme.color("ink"))
        painter.drawText(QPointF(20, top + 31), row.ticket)
        painter.setFont(theme.font("strong", True))
        painter.drawText(QPointF(100, top + 29), row.set_text)
        painter.setFont(theme.font("text"))
        painter.setPen(theme.color("quiet"))
        painter.drawText(QPointF(100, top + 49), row.complaint)
        right = QRectF(self.width() - 330.0, top + 11, 310, 22)
        painter.drawText(right, Qt.AlignmentFlag.AlignRight, f"taken in {row.age}")
        waits = QRectF(self.width() - 330.0, top + 32, 310, 22)
        painter.setPen(theme.color("ink"))
        painter.drawText(waits, Qt.AlignmentFlag.AlignRight, row.waits_for)
        self._track(painter, row, top + 68)
        painter.setFont(theme.font("text", current))
        painter.setPen(theme.color("action" if current else "quiet"))
        painter.drawText(QPointF(100, top + 92), row.next_step)

    def _track(self, painter: QPainter, row: ShelfRow, y: float) -> None:
        left, right = 104.0, self.width() - 24.0
        step = (right - left) / (STAGES - 1)
        painter.setPen(QPen(theme.color("line"), 3))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        painter.setPen(QPen(theme.color("ink"), 3))
        painter.drawLine(QPointF(left, y), QPointF(left + step * row.position, y))
        for number in range(STAGES):
            point = QPointF(left + step * number, y)
            here = number == row.position
            painter.setPen(QPen(theme.color("ink" if number <= row.position else "unread"), 2))
            role: theme.Role = "action" if here else "ink" if number < row.position else "card"
            painter.setBrush(theme.color(role))
            painter.drawEllipse(point, 7 if here else 5, 7 if here else 5)


class ShelfView(QWidget):
    """The shelf screen."""

    opened = pyqtSignal(int)
    take_in_asked = pyqtSignal()
    find_typed = pyqtSignal(str)
    came_back = pyqtSignal(int, str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("page")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(28, 20, 28, 20)
        layout.setSpacing(8)
        self._title = label("Opening the shop", "title")
        self._summary = label(role="quiet", wrap=True)
        self._summary_words = ""
        self.rows = ShelfRows()
        self.rows.opened.connect(self.opened)
        head = QHBoxLayout()
        head.addWidget(self._title, 1)
        self.take_in = button("Take in a set", "F3", "action")
        self.take_in.clicked.connect(self.take_in_asked)
        head.addWidget(self.take_in)
        layout.addLayout(head)
        self.find_line = QLineEdit()
        self.find_line.setObjectName("words")
        self.find_line.setAccessibleName("Find in all jobs")
        self.find_line.setPlaceholderText(
            "Find in all jobs: words that were said, noted, read, decided"
        )
        self.find_line.textChanged.connect(self.find_typed)
        self.find_line.installEventFilter(self)
        self.find_line.hide()
        self.rows.find_asked.connect(self.begin_find)
        self.again_line = WordsLine(
            "What the set does that came back", "What does it do now? Enter"
        )
        self.again_line.installEventFilter(self)
        self.again_line.hide()
        self._returned = 0
        self.rows.returned.connect(self.begin_again)
        layout.addWidget(self._summary)
        layout.addWidget(self.find_line)
        layout.addWidget(self.again_line)
        area = scrolled(self.rows)
        self.rows.moved.connect(lambda middle, half: area.ensureVisible(0, middle, 0, half))
        layout.addWidget(area, 1)

    def begin_find(self) -> None:
        """/: the line for what to find."""
        self.find_line.show()
        self.find_line.setFocus()

    def begin_again(self, job: int) -> None:
        """R at a set that was handed back: the line for what it does now."""
        self._returned = job
        self.again_line.show()
        self.again_line.setFocus()

    def _again(self, event: QKeyEvent) -> bool:
        """Enter opens the new job; Escape leaves it."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.came_back.emit(self._returned, self.again_line.text())
        elif event.key() != Qt.Key.Key_Escape:
            return False
        self.again_line.clear()
        self.again_line.hide()
        return True

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Escape shows all jobs again; Enter and Down go to the rows."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        if source is self.again_line:
            return self._again(event)
        if event.key() == Qt.Key.Key_Escape:
            self.find_line.clear()
            self.find_line.hide()
            self.rows.setFocus()
            return True
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Down):
            self.rows.setFocus()
            return True
        return super().eventFilter(source, event)

    def show_state(self, state: ShelfState) -> None:
        """Show the shelf."""
        self._title.setText(f"{state.shop}: the shelf")
        self._summary_words = state.summary
        self._summary.setText(state.summary)
        self.rows.show_rows(state.rows)

    def show_wait(self, words: str) -> None:
        """What is waited for in place of the summary; empty for no more."""
        self._summary.setText(words or self._summary_words)

    def show_problem(self, words: str, title: str = "") -> None:
        """A trouble of the shop; `title` stands in place of the shop's own where nothing opened."""
        if title:
            self._title.setText(title)
        self._summary.setText(words)
