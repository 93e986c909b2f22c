"""Choosing a replacement: for each attribute a number line with the allowed window."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from loose_rail.screens.parts.state import PartsState, WindowLine
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import SidedPage
from loose_rail.screens.shared.widgets import WordsLine, button, clear_layout, label, set_role, tip

ROW = 66.0
LEAST_ROW = 50
NAME_WIDTH = 116.0
WORDS_WIDTH = 250.0
FIT_ROLES: dict[str, theme.Role] = {"ok": "agrees", "note": "doubtful", "no": "disagrees"}
FIT_MARKS = {"ok": "fits", "note": "note", "no": "NO"}

HINT = "1000u 16V 105C low-esr was 1000u 10V; +C22 same batch; -C22; minimum, batch, rail"
LEGEND = (
    "Shaded: what this place allows. Ring: the part that was there. Arrow: the candidate. "
    "Counterfeits exist: measure it before it is fitted."
)


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

    def words_at(self, point: QPointF) -> str:
        """The window line at a point, in words."""
        row = min(ROW, self.height() / max(len(self._lines), 1))
        number = int(point.y() // row)
        if not 0 <= number < len(self._lines):
            return ""
        line = self._lines[number]
        return f"{line.candidate_text} · {line.name} · {line.window_text} · {line.words}"

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

        if line.window_low is None or line.window_high is None or line.candidate is None:
            self._in_words(painter, line, QRectF(left, y - 10, right - left, 20), role)
        else:
            low, high = at(line.window_low), at(line.window_high)
            window = QRectF(low, y - 9, high - low, 18)
            painter.fillRect(window, theme.color("cold_ground"))
            painter.setPen(QPen(theme.color("cold"), 1))
            painter.drawLine(window.topLeft(), window.bottomLeft())
            painter.drawLine(window.topRight(), window.bottomRight())
            painter.setPen(QPen(theme.color("quiet"), 1.4))
            painter.drawLine(QPointF(left, y), QPointF(right, y))
            if line.original is not None:
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

    def _in_words(self, painter: QPainter, line: WindowLine, box: QRectF, role: theme.Role) -> None:
        """An attribute that is no number: what is offered, and what stood there."""
        painter.setFont(theme.font("text", True))
        painter.setPen(theme.color(role))
        painter.drawText(box, int(Qt.AlignmentFlag.AlignVCenter), f"▼ {line.candidate_text}")
        if line.original_text:
            painter.setFont(theme.font("small"))
            painter.setPen(theme.color("quiet"))
            right = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
            painter.drawText(box, int(right), f"○ {line.original_text}")

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
    """The page of parts: the list of what is replaced at the side, the one in front with what is
    offered for it, and a line. Up and down look at another candidate of the stock."""

    selected = pyqtSignal(int)
    shown = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._title = label(role="title", wrap=True)
        self._subtitle = label(role="quiet", wrap=True)
        self._lines = WindowLines()
        self._headline = label(role="strong", wrap=True)
        self.entry = WordsLine("What is fitted for the part in front, or a part of the list", HINT)
        self.entry.installEventFilter(self)
        self.entry.textChanged.connect(self._typed)
        self._echo = label(role="quiet", wrap=True)
        self._host: JobHost | None = None
        self._stock = self._selected = 0
        for widget in (self._title, self._subtitle, self._headline):
            self.main.addWidget(widget)
        self.main.addWidget(self._lines, 1)
        self.main.addWidget(self.entry)
        self.main.addWidget(self._echo)
        self.main.addWidget(label(LEGEND, "quiet", wrap=True))

    def attach(self, host: JobHost) -> None:
        """Numbers look at another candidate, a line changes the list, the action goes on."""
        self._host = host
        self.went_on.connect(host.go_on)
        self.selected.connect(host.select_stock)
        self.shown.connect(host.show_part)

    def show_state(self, state: PartsState) -> None:
        """Draw the part in front and what is offered for it."""
        self._title.setText(state.title)
        self._subtitle.setText(state.message or state.subtitle)
        self._headline.setText(state.headline)
        self._lines.show_state(state.lines)
        self.entry.setEnabled(not state.message)
        self._stock, self._selected = len(state.stock), state.selected
        clear_layout(self.side)
        self._show_list(state)
        self._show_stock(state)
        self.set_action(state.action, state.can_choose or bool(state.message))

    def _show_list(self, state: PartsState) -> None:
        if state.listed:
            self.side.addWidget(label("What is replaced", "strong"))
        for row in state.listed:
            item = button(f"{row.ref}{row.words}", role="chosen" if row.current else "")
            item.setStyleSheet("text-align: left;")
            item.setToolTip(tip(f"{row.ref}{row.words}: {row.status}"))
            item.clicked.connect(lambda _=False, ref=row.ref: self.shown.emit(ref))
            self.side.addWidget(item)
            if row.current:
                tone = "good" if row.settled else "doubtful"
                self.side.addWidget(label(row.status, tone, wrap=True))
        if len(state.scopes) > 1:
            self.side.addWidget(label("How far, by its word", "strong"))
            for words, current in state.scopes:
                self.side.addWidget(label(words, "good" if current else "quiet", wrap=True))
        if state.companions:
            self.side.addWidget(label("Often with it: read or add", "strong"))
            beside = "; ".join(f"+{ref}{words}" for ref, words in state.companions)
            self.side.addWidget(label(beside, "quiet", wrap=True))

    def _show_stock(self, state: PartsState) -> None:
        if state.stock:
            self.side.addWidget(label("In stock, ↑ and ↓ look at another", "strong"))
        for number, row in enumerate(state.stock):
            here = number == state.selected
            item = button(f"{row.name} · {FIT_MARKS[row.fit]}", role="chosen" if here else "")
            item.setStyleSheet("text-align: left;")
            item.clicked.connect(lambda _=False, n=number: self.selected.emit(n))
            self.side.addWidget(item)
            if here:
                tone = {"ok": "good", "note": "doubtful", "no": "bad"}[row.fit]
                self.side.addWidget(label(row.words, tone, wrap=True))

    def _typed(self, text: str) -> None:
        if self._host is None:
            return
        echo = self._host.type_part(text)
        self._echo.setText(echo.text if text.strip() else "")
        set_role(self._echo, "bad" if echo.error else "quiet")

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter takes the line, or goes on where it is empty; up and down walk the stock."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._enter()
            return True
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if step and self._stock:
            self.selected.emit((self._selected + step) % self._stock)
            return True
        return super().eventFilter(source, event)

    def _enter(self) -> None:
        text = self.entry.text().strip()
        if not text:
            self.went_on.emit()
        elif self._host is not None:
            self.entry.answered(self._host.enter_part(text).taken)

    def focus_work(self) -> None:
        """The line has the keys."""
        self.entry.setFocus() if self.entry.isEnabled() else super().focus_work()
