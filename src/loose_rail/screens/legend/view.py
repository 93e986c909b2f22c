"""Draws a connector's legend: pins in one or two rows, label, volts asleep and awake."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from loose_rail.app.legend import LINES, LegendPin, LegendState
from loose_rail.screens.shared import theme

PIN = 18.0
ROW_HEIGHT = 78.0
MOST_COLUMN = 92.0
HEADS = 64.0


class LegendView(QWidget):
    """`show_state` draws another legend; its words are read by a screen reader."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Pinout as printed")
        self._state = LegendState("", (), "")

    def sizeHint(self) -> QSize:
        """Room for two rows."""
        return QSize(360, round(2 * ROW_HEIGHT + 26))

    def show_state(self, state: LegendState) -> None:
        """Draw a legend."""
        self._state = state
        pins = [pin for row in state.rows for pin in row if pin.label]
        words = "; ".join(f"pin {p.number} {p.label} {p.standby} then {p.awake}" for p in pins)
        self.setAccessibleDescription(words)
        self.setFixedHeight(round(len(state.rows) * ROW_HEIGHT + 26) if state.rows else 0)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Title above, pins in the middle, labels away from them."""
        if not self._state.rows:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font("small"))
        painter.setPen(theme.color("quiet"))
        painter.drawText(QRectF(0, 0, self.width(), 20), 0, self._state.title)
        count = max(len(row) for row in self._state.rows)
        column = min(MOST_COLUMN, (self.width() - HEADS) / count)
        for number, row in enumerate(self._state.rows):
            top = 24 + number * ROW_HEIGHT
            above = number == 0 and len(self._state.rows) == 2
            for place, pin in enumerate(row):
                box = QRectF(HEADS + place * column, top, column, ROW_HEIGHT)
                self._draw(painter, pin, box, above)
            self._heads(painter, top if above else top + PIN + 6)

    def _heads(self, painter: QPainter, start: float) -> None:
        """What the three lines of a pin say, at the left of them."""
        painter.setPen(theme.color("quiet"))
        for number, words in enumerate(LINES):
            painter.drawText(QRectF(0, start + 16 * number, HEADS, 16), 0, words)

    def _draw(self, painter: QPainter, pin: LegendPin, box: QRectF, above: bool) -> None:
        y = box.bottom() - PIN - 3 if above else box.top() + 3
        square = QRectF(box.center().x() - PIN / 2, y, PIN, PIN)
        first = pin.number == 1
        if pin.marked:
            painter.setPen(QPen(theme.color("action"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(square.adjusted(-5, -5, 5, 5), 4, 4)
        painter.setPen(QPen(theme.color("ink"), 2 if first else 1))
        painter.setBrush(theme.color("card") if pin.label else theme.color("panel"))
        painter.drawRect(square)
        painter.setPen(theme.color("ink"))
        painter.drawText(square, Qt.AlignmentFlag.AlignCenter, str(pin.number))
        lines: tuple[tuple[str, theme.Role], ...] = (
            (pin.label, "ink"),
            (pin.standby, "quiet"),
            (pin.awake, "cold"),
        )
        start = box.top() if above else y + PIN + 3
        for number, (text, role) in enumerate(lines):
            painter.setPen(theme.color(role))
            line = QRectF(box.x() + 1, start + 16 * number, box.width() - 2, 16)
            metrics = painter.fontMetrics()
            short = metrics.elidedText(text, Qt.TextElideMode.ElideRight, int(line.width()))
            painter.drawText(line, Qt.AlignmentFlag.AlignCenter, short)
