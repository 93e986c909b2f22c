"""The part in hand from above, its stripe, band or notch, and where each of its legs goes."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from loose_rail.screens.rework.state import LegView, ReworkState
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.widgets import draw_wrapped

PINS_ACROSS = 8


class PartDrawing(QWidget):
    """The new part, and the place on the board that it goes to."""

    def __init__(self) -> None:
        super().__init__()
        self._state: ReworkState | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(240)
        self.setAccessibleName("The part and its polarity")

    def show_state(self, state: ReworkState) -> None:
        """Draw this part."""
        self._state = state
        legs = "; ".join(f"{leg.name} to {leg.goes_to}" for leg in state.legs)
        self.setAccessibleDescription(f"{state.part}: {state.mark_words}. {legs}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The shape of its kind."""
        state = self._state
        if state is None or not state.part:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if state.shape == "can":
            self._can(painter, state)
        elif state.shape == "board":
            self._board(painter, state)
        elif state.shape in ("legs", "chip"):
            self._legs(painter, state)
        else:
            self._two_ends(painter, state)
        painter.end()

    def _can(self, painter: QPainter, state: ReworkState) -> None:
        y, radius = self.height() * 0.46, min(82.0, self.height() * 0.26)
        left, right = QPointF(self.width() * 0.27, y), QPointF(self.width() * 0.73, y)
        self._stripe(painter, left, radius)
        self._pads(painter, right, radius)
        painter.setPen(QPen(theme.color("action"), 2.4))
        for side, way in ((-1, 1), (1, -1)):
            start = QPointF(left.x() + side * radius * 0.45, y + way * 14)
            end = QPointF(right.x() + side * radius * 0.45, y + way * 14)
            path = QPainterPath(start)
            turn = y + way * (radius * 1.5 + 14)
            path.cubicTo(QPointF(start.x(), turn), QPointF(end.x(), turn), end)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(path)
            painter.setBrush(theme.color("action"))
            painter.drawEllipse(start, 4, 4)
        minus, plus = state.legs[0].goes_to, state.legs[-1].goes_to
        above, below = y - radius - 66, y + radius + 30
        half = self.width() * 0.46
        self._words(painter, QRectF(left.x() - half / 2, above, half, 24), "the new part, above")
        self._words(
            painter, QRectF(right.x() - half / 2, above, half, 24), "the place on the board"
        )
        self._words(
            painter, QRectF(left.x() - half / 2, below, half, 40), f"stripe: minus, {minus}"
        )
        self._words(painter, QRectF(right.x() - half / 2, below, half, 40), f"plus: {plus}")

    def _stripe(self, painter: QPainter, point: QPointF, radius: float) -> None:
        painter.setPen(QPen(theme.color("ink"), 2))
        painter.setBrush(theme.color("card"))
        painter.drawEllipse(point, radius, radius)
        clip = QPainterPath()
        clip.addEllipse(point, radius - 1, radius - 1)
        painter.save()
        painter.setClipPath(clip)
        stripe = QRectF(point.x() - radius, point.y() - radius, radius * 0.55, 2 * radius)
        painter.fillRect(stripe, theme.color("ink"))
        painter.restore()
        painter.setPen(QPen(theme.color("card"), 3))
        x = point.x() - radius * 0.72
        painter.drawLine(QPointF(x - 7, point.y()), QPointF(x + 7, point.y()))

    def _pads(self, painter: QPainter, point: QPointF, radius: float) -> None:
        painter.setPen(QPen(theme.color("ink"), 1.6, Qt.PenStyle.DashLine))
        painter.setBrush(theme.color("cold_ground"))
        painter.drawEllipse(point, radius, radius)
        for side, sign in ((-1, "−"), (1, "+")):
            pad = QPointF(point.x() + side * radius * 0.45, point.y())
            painter.setPen(QPen(theme.color("ink"), 1.6))
            painter.setBrush(theme.color("panel"))
            painter.drawEllipse(pad, 13, 13)
            painter.setFont(theme.font("title", True))
            top = pad.y() - (46 if side < 0 else -18)
            painter.drawText(QRectF(pad.x() - 14, top, 28, 28), Qt.AlignmentFlag.AlignCenter, sign)

    def _legs(self, painter: QPainter, state: ReworkState) -> None:
        """A body with its legs below, each with its name and the place that it goes to."""
        legs = state.legs
        width = min(self.width() * 0.94, 190.0 * max(len(legs), 2))
        left, top = (self.width() - width) / 2, self.height() * 0.12
        body = QRectF(left, top, width, self.height() * 0.26)
        painter.setPen(QPen(theme.color("ink"), 2))
        painter.setBrush(theme.color("card"))
        painter.drawRoundedRect(body, 5, 5)
        self._name(painter, body, state.part)
        if state.shape == "chip":
            painter.setBrush(theme.color("ink"))
            painter.drawEllipse(QPointF(body.left() + 16, body.bottom() - 16), 5, 5)
        step = width / max(len(legs), 1)
        for number, leg in enumerate(legs):
            self._leg(painter, leg, body.left() + step * (number + 0.5), body.bottom(), step)
        bottom = QRectF(10, self.height() - 34, self.width() - 20, 32)
        self._words(painter, bottom, state.mark_words)

    def _board(self, painter: QPainter, state: ReworkState) -> None:
        """The outline of a board with its fixing holes, and its plugs, each with its pins."""
        room = QRectF(self.width() * 0.12, 24, self.width() * 0.76, self.height() - 96)
        painter.setPen(QPen(theme.color("ink"), 2))
        painter.setBrush(theme.color("card"))
        painter.drawRoundedRect(room, 6, 6)
        painter.setBrush(theme.color("panel"))
        for x in (room.left() + 16, room.right() - 16):
            for y in (room.top() + 16, room.bottom() - 16):
                painter.drawEllipse(QPointF(x, y), 6, 6)
        step = (room.height() - 60) / max(len(state.legs), 1)
        for number, plug in enumerate(state.legs):
            top = room.top() + 30 + step * number
            self._plug(painter, plug, QRectF(room.left() + 40, top, room.width() - 80, step))
        bottom = QRectF(10, self.height() - 40, self.width() - 20, 32)
        self._words(painter, bottom, state.mark_words)

    def _plug(self, painter: QPainter, plug: LegView, room: QRectF) -> None:
        """A plug's name and its pins in rows of up to eight, each with what is printed there."""
        painter.setFont(theme.font("strong", True))
        painter.setPen(theme.color("ink"))
        painter.drawText(QPointF(room.left(), room.top() + 18), f"{plug.name}: {plug.goes_to}")
        across = min(PINS_ACROSS, max(len(plug.pins), 1))
        lines = -(-len(plug.pins) // across)
        height = min(30.0, (room.height() - 34) / max(lines, 1))
        width = min(110.0, room.width() / across)
        painter.setFont(theme.font("small"))
        metrics = painter.fontMetrics()
        for number, pin in enumerate(plug.pins):
            x = room.left() + width * (number % across)
            box = QRectF(x, room.top() + 28 + height * (number // across), width, height)
            painter.setPen(QPen(theme.color("line"), 1.4))
            painter.setBrush(theme.color("panel"))
            painter.drawRect(box)
            painter.setPen(theme.color("ink"))
            text = metrics.elidedText(pin, Qt.TextElideMode.ElideRight, int(width - 6))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _leg(self, painter: QPainter, leg: LegView, x: float, y: float, room: float) -> None:
        foot = y + self.height() * 0.16
        painter.setPen(QPen(theme.color("ink"), 3))
        painter.drawLine(QPointF(x, y), QPointF(x, foot))
        painter.setPen(QPen(theme.color("action"), 2))
        painter.setBrush(theme.color("action"))
        painter.drawEllipse(QPointF(x, foot), 4, 4)
        self._words(painter, QRectF(x + 6, y + 4, 60, 22), leg.name, "strong", left=True)
        self._words(painter, QRectF(x - room / 2 + 5, foot + 8, room - 10, 76), leg.goes_to)

    def _two_ends(self, painter: QPainter, state: ReworkState) -> None:
        """A part with two ends: a band at its cathode, or none."""
        y, half = self.height() * 0.42, min(120.0, self.width() * 0.16)
        middle = self.width() / 2
        body = QRectF(middle - half, y - 34, 2 * half, 68)
        legs = state.legs if len(state.legs) == 2 else ()
        if legs:
            painter.setPen(QPen(theme.color("ink"), 3))
            painter.drawLine(QPointF(middle - half - 70, y), QPointF(middle + half + 70, y))
        painter.setPen(QPen(theme.color("ink"), 2))
        painter.setBrush(theme.color("card"))
        painter.drawRoundedRect(body, 5, 5)
        self._name(painter, body, state.part)
        if state.shape == "diode":
            painter.fillRect(QRectF(body.right() - 26, y - 34, 14, 68), theme.color("ink"))
        for leg, side in zip(self._ends(state, legs), (-1, 1), strict=False):
            x = middle + side * (half + 70)
            painter.setPen(QPen(theme.color("action"), 2))
            painter.setBrush(theme.color("action"))
            painter.drawEllipse(QPointF(x, y), 4, 4)
            room = QRectF(x - 95 + side * 70, y + 44, 190, 76)
            named = f"{leg.name}: {leg.goes_to}" if state.shape == "diode" else leg.goes_to
            self._words(painter, room, named)
        self._words(
            painter, QRectF(10, self.height() - 34, self.width() - 20, 32), state.mark_words
        )

    def _name(self, painter: QPainter, body: QRectF, name: str) -> None:
        """The part's name in the middle of its body; a long one in smaller letters."""
        size = "title"
        if QFontMetricsF(theme.font(size)).horizontalAdvance(name) > body.width() - 12:
            size = "text"
        painter.setFont(theme.font(size))
        painter.setPen(theme.color("ink"))
        flags = int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap)
        painter.drawText(body.adjusted(6, 0, -6, 0), flags, name)

    @staticmethod
    def _ends(state: ReworkState, legs: tuple[LegView, ...]) -> tuple[LegView, ...]:
        """The cathode at the right, where the band is drawn."""
        return tuple(sorted(legs, key=lambda leg: leg.name == "K"))

    @staticmethod
    def _words(
        painter: QPainter, room: QRectF, text: str, size: str = "text", left: bool = False
    ) -> None:
        painter.setFont(theme.font(size, size == "strong"))
        painter.setPen(theme.color("ink"))
        draw_wrapped(painter, room, text, left)
