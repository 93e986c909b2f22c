"""Choosing a replacement: for each attribute a number line with the allowed window."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from loose_rail.screens.parts.state import PartsState, WindowLine
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import SidedPage
from loose_rail.screens.shared.widgets import button, clear_layout, label

ROW = 66.0
LEAST_ROW = 50
NAME_WIDTH = 116.0
WORDS_WIDTH = 250.0
FIT_ROLES: dict[str, theme.Role] = {"ok": "agrees", "note": "doubtful", "no": "disagrees"}
FIT_MARKS = {"ok": "fits", "note": "note", "no": "NO"}


class WindowLines(QWidget):
    """The window lines of one candidate."""

    def __init__(self) -> None:
        super().__init__()
        self._lines: tuple[WindowLine, ...] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Window lines")

    def show_state(self, lines: tuple[WindowLine, ...]) -> None:
        """Show these attributes."""
        self._lines = lines
        self.setAccessibleDescription(
            "; ".join(f"{x.name} {x.candidate_text}, {x.window_text}: {x.words}" for x in lines)
        )
        self.setMinimumHeight(int(LEAST_ROW * len(lines)))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw every line."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        row = min(ROW, self.height() / max(len(self._lines), 1))
        for number, line in enumerate(self._lines):
            self._line(painter, line, number * row, row)
        painter.end()

    def _line(self, painter: QPainter, line: WindowLine, top: float, row: float) -> None:
        left, right = NAME_WIDTH, self.width() - WORDS_WIDTH - 20
        y = top + row * 0.5
        role = FIT_ROLES[line.fit]
        painter.setFont(theme.font("text", True))
        painter.setPen(theme.color("ink"))
        painter.drawText(QPointF(0, y + 2), line.name)
        painter.setFont(theme.font("small"))
        painter.setPen(theme.color("quiet"))
        painter.drawText(QPointF(0, y + 18), line.window_text)

        def at(share: float) -> float:
            return left + (right - left) * min(max(share, 0.0), 1.0)

        window = QRectF(at(line.window_low), y - 9, at(line.window_high) - at(line.window_low), 18)
        painter.fillRect(window, theme.color("cold_ground"))
        painter.setPen(QPen(theme.color("cold"), 1))
        painter.drawLine(window.topLeft(), window.bottomLeft())
        painter.drawLine(window.topRight(), window.bottomRight())
        painter.setPen(QPen(theme.color("quiet"), 1.4))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        self._original(painter, at(line.original), y, line.original_text)
        self._candidate(painter, at(line.candidate), y, line.candidate_text, role)
        painter.setFont(theme.font("text", True))
        painter.setPen(theme.color(role))
        painter.drawText(QPointF(right + 20, y - 2), FIT_MARKS[line.fit])
        painter.setFont(theme.font("small"))
        painter.setPen(theme.color("ink"))
        painter.drawText(
            QRectF(right + 20, y + 3, WORDS_WIDTH, 32), Qt.TextFlag.TextWordWrap, line.words
        )

    def _original(self, painter: QPainter, x: float, y: float, text: str) -> None:
        painter.setPen(QPen(theme.color("ink"), 1.6))
        painter.setBrush(theme.color("card"))
        painter.drawEllipse(QPointF(x, y), 6, 6)
        painter.setFont(theme.font("small"))
        painter.setPen(theme.color("quiet"))
        painter.drawText(QRectF(x - 60, y + 11, 120, 16), Qt.AlignmentFlag.AlignHCenter, text)

    def _candidate(
        self, painter: QPainter, x: float, y: float, text: str, role: theme.Role
    ) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.color(role))
        points = [QPointF(x, y - 2), QPointF(x - 7, y - 14), QPointF(x + 7, y - 14)]
        painter.drawPolygon(QPolygonF(points))
        painter.setFont(theme.font("text", True))
        painter.setPen(theme.color(role))
        painter.drawText(QRectF(x - 70, y - 33, 140, 18), Qt.AlignmentFlag.AlignHCenter, text)


class PartsView(SidedPage):
    """The replacement screen; number keys look at another candidate."""

    selected = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self._title = label(role="title", wrap=True)
        self._subtitle = label(role="quiet", wrap=True)
        self._lines = WindowLines()
        self._headline = label(role="strong", wrap=True)
        for widget in (self._title, self._subtitle, self._headline):
            self.main.addWidget(widget)
        self.main.addWidget(self._lines, 1)
        self.main.addWidget(
            label(
                "Shaded: what this place allows. Ring: the part that was there. Arrow: the "
                "candidate. Counterfeits exist: measure capacitance and ESR before fitting.",
                "quiet",
                wrap=True,
            )
        )

    def attach(self, host: JobHost) -> None:
        """Numbers look at another candidate, the action takes it."""
        self.went_on.connect(host.go_on)
        self.selected.connect(host.select_stock)

    def show_state(self, state: PartsState) -> None:
        """Draw the candidate that is looked at."""
        self._title.setText(state.title)
        self._subtitle.setText(state.message or state.subtitle)
        self._headline.setText(state.headline)
        self._lines.show_state(state.lines)
        clear_layout(self.side)
        self.side.addWidget(label("In stock", "strong"))
        for number, row in enumerate(state.stock):
            role = "chosen" if number == state.selected else ""
            item = button(f"{number + 1}  {row.name}", role=role)
            item.setStyleSheet("text-align: left;")
            item.clicked.connect(lambda _=False, n=number: self.selected.emit(n))
            self.side.addWidget(item)
            tone = {"ok": "good", "note": "doubtful", "no": "bad"}[row.fit]
            self.side.addWidget(label(row.words, tone, wrap=True))
        if state.chosen:
            self.side.addWidget(label(f"Chosen: {state.chosen}", "good", wrap=True))
        self.set_action(state.action, state.can_choose or bool(state.message))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """1 to 9 look at a candidate."""
        assert event is not None
        number = event.key() - Qt.Key.Key_1
        if 0 <= number <= 8:
            self.selected.emit(number)
            return
        super().keyPressEvent(event)
