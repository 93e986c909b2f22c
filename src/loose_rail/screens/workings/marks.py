"""Markings drawn as they stand on parts: colour bands, a chip, a disc, a choke."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from loose_rail.screens.shared import theme
from loose_rail.screens.workings.state import MarkView

BAND_COLOURS = {
    **{"bk": "#1B1B1B", "bn": "#7A4A21", "rd": "#C4222C", "or": "#E8761C", "ye": "#F2CE1B"},
    **{"gn": "#2E8B3D", "bu": "#2B5DB8", "vi": "#7D3FA0", "gy": "#8A8D91", "wh": "#F7F7F4"},
    **{"gd": "#C3A24A", "sv": "#BFC4C9", "pk": "#F29BB4"},
}
"""As the eye knows them on a part (IEC 60062 names them, no shades)."""
BODY, CHIP, DISC = "#E6D3AE", "#26292C", "#C98A3A"
ROW, PART_WIDTH = 46, 132.0
LEAD = 14.0


class MarkDrawing(QWidget):
    """A part a row with its marking, and where it is read."""

    def __init__(self) -> None:
        super().__init__()
        self._marks: tuple[MarkView, ...] = ()
        self.setAccessibleName("Markings as they stand on parts")

    def show_marks(self, marks: tuple[MarkView, ...]) -> None:
        """Show these."""
        self._marks = marks
        words = "; ".join(f"{one.words}: {one.code}" for one in marks)
        self.setAccessibleDescription(words)
        self.setFixedHeight(ROW * len(marks))
        self.setVisible(bool(marks))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """One below another."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for number, mark in enumerate(self._marks):
            room = QRectF(LEAD, ROW * number + 8, PART_WIDTH - 2 * LEAD, ROW - 16)
            draw = {"bands": self._bands, "chip": self._chip}.get(mark.shape, self._disc)
            draw(painter, room, mark.code)
            painter.setFont(theme.font("text"))
            painter.setPen(theme.color("ink"))
            beside = QRectF(PART_WIDTH + 10, ROW * number, self.width() - PART_WIDTH - 10, ROW)
            side = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft
            painter.drawText(beside, side, f"{mark.code}\n{mark.words}")
        painter.end()

    def _bands(self, painter: QPainter, room: QRectF, code: str) -> None:
        middle = room.center().y()
        painter.setPen(QPen(theme.color("quiet"), 2))
        painter.drawLine(QPointF(room.left() - LEAD, middle), QPointF(room.right() + LEAD, middle))
        painter.setPen(QPen(theme.color("quiet"), 1))
        painter.setBrush(QColor(BODY))
        painter.drawRoundedRect(room, 9, 9)
        colours = code.split()
        step = (room.width() - 30) / max(len(colours), 1)
        for number, colour in enumerate(colours):
            last = number == len(colours) - 1 and len(colours) > 3  # the tolerance stands apart
            x = room.left() + 14 + step * number + (6 if last else 0)
            painter.fillRect(QRectF(x, room.top() + 1, 8, room.height() - 2), _colour(colour))

    def _chip(self, painter: QPainter, room: QRectF, code: str) -> None:
        painter.setPen(QPen(theme.color("quiet"), 1))
        painter.setBrush(QColor(CHIP))
        painter.drawRect(room)
        for left in (room.left(), room.right() - 10):
            painter.fillRect(QRectF(left, room.top(), 10, room.height()), QColor("#C9CCCF"))
        self._print(painter, room, code, "#F4F1E8")

    def _disc(self, painter: QPainter, room: QRectF, code: str) -> None:
        painter.setPen(QPen(theme.color("quiet"), 1))
        painter.setBrush(QColor(DISC))
        painter.drawEllipse(room)
        self._print(painter, room, code, "#1B1B1B")

    @staticmethod
    def _print(painter: QPainter, room: QRectF, code: str, colour: str) -> None:
        painter.setFont(theme.font("strong", True))
        painter.setPen(QColor(colour))
        painter.drawText(room, Qt.AlignmentFlag.AlignCenter, code)


def _colour(name: str) -> QColor:
    return QColor(BAND_COLOURS.get(name, BODY))
