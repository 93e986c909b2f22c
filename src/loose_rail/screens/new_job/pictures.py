"""What may stand on a board, drawn as the eye sees it from above; 48 by 40 units each."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from loose_rail.screens.shared import theme

Draw = Callable[[QPainter], None]


def draw_block(painter: QPainter, key: str) -> None:
    """Draw one thing; the painter stands at its top left corner."""
    painter.setPen(QPen(theme.color("ink"), 1.4))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    PICTURES[key](painter)


def _transformer(p: QPainter, x: float, y: float, size: float) -> None:
    """A core with its winding: a box, and a band across it."""
    p.drawRect(QRectF(x, y, size, size * 0.8))
    p.drawRect(QRectF(x + size * 0.25, y - 2, size * 0.5, size * 0.8 + 4))


def _can(p: QPainter, x: float, y: float, size: float) -> None:
    """A can from above, with its cross of grooves."""
    p.drawEllipse(QRectF(x, y, size, size))
    middle, reach = QPointF(x + size / 2, y + size / 2), size * 0.22
    p.drawLine(middle - QPointF(reach, 0), middle + QPointF(reach, 0))
    p.drawLine(middle - QPointF(0, reach), middle + QPointF(0, reach))


def _coil(p: QPainter, x: float, y: float, size: float) -> None:
    """A ring core with turns."""
    p.drawEllipse(QRectF(x, y, size, size))
    p.drawEllipse(QRectF(x + size * 0.3, y + size * 0.3, size * 0.4, size * 0.4))
    for dx, dy in ((0, -1), (0, 1), (-1, 0), (1, 0), (0.7, 0.7), (-0.7, -0.7)):
        middle = QPointF(x + size / 2, y + size / 2)
        p.drawLine(
            middle + QPointF(dx, dy) * size * 0.2,
            middle + QPointF(dx, dy) * size * 0.5,
        )


def _switch(p: QPainter, x: float, y: float) -> None:
    """A body with three legs."""
    p.drawRect(QRectF(x, y, 10, 8))
    for leg in (2, 5, 8):
        p.drawLine(QPointF(x + leg, y + 8), QPointF(x + leg, y + 13))


def _plug(p: QPainter, x: float, y: float, pins: int) -> None:
    p.drawRect(QRectF(x, y, 7.0 * pins + 3, 11))
    for pin in range(pins):
        p.drawRect(QRectF(x + 4 + 7 * pin, y + 4, 3, 3))


def _diode(p: QPainter, x: float, y: float) -> None:
    p.drawRect(QRectF(x, y, 13, 7))
    p.drawLine(QPointF(x + 10, y), QPointF(x + 10, y + 7))


def _adapter(p: QPainter) -> None:
    p.drawRect(QRectF(4, 10, 22, 20))
    p.drawEllipse(QRectF(9, 14, 12, 12))
    p.drawEllipse(QRectF(13.5, 18.5, 3, 3))
    p.drawLine(QPointF(26, 20), QPointF(44, 20))


def _boost(p: QPainter) -> None:
    _coil(p, 0, 4, 19)
    _switch(p, 21, 24)
    _diode(p, 18, 4)
    _can(p, 32, 10, 17)


def _single(p: QPainter) -> None:
    _transformer(p, 10, 8, 28)


def _flyback(p: QPainter) -> None:
    _transformer(p, 0, 16, 13)
    _transformer(p, 18, 4, 22)
    _switch(p, 24, 26)


def _resonant(p: QPainter) -> None:
    _transformer(p, 0, 16, 13)
    _transformer(p, 17, 3, 22)
    _switch(p, 15, 26)
    _switch(p, 27, 26)
    p.drawRoundedRect(QRectF(41, 8, 7, 16), 2, 2)


def _led(p: QPainter) -> None:
    _coil(p, 0, 4, 17)
    _diode(p, 20, 8)
    _plug(p, 8, 26, 4)


def _tubes(p: QPainter) -> None:
    for number in range(4):
        p.drawRect(QRectF(2 + 12 * number, 4, 8, 15))
        p.drawRect(QRectF(3 + 12 * number, 24, 6, 9))
        p.drawLine(QPointF(6 + 12 * number, 19), QPointF(6 + 12 * number, 24))


def _step_down(p: QPainter) -> None:
    p.drawRect(QRectF(2, 10, 18, 18))
    p.drawEllipse(QRectF(5, 13, 12, 12))
    p.drawRect(QRectF(26, 12, 14, 14))
    for pin in range(4):
        p.drawLine(QPointF(28 + 3.5 * pin, 8), QPointF(28 + 3.5 * pin, 12))
        p.drawLine(QPointF(28 + 3.5 * pin, 26), QPointF(28 + 3.5 * pin, 30))


def _plasma(p: QPainter) -> None:
    for number, words in enumerate(("VS", "VA")):
        _plug(p, 2 + 24 * number, 26, 2)
        p.drawText(QRectF(24 * number, 8, 22, 14), int(Qt.AlignmentFlag.AlignCenter), words)


PICTURES: dict[str, Draw] = {
    "adapter": _adapter,
    "boost": _boost,
    "single": _single,
    "flyback": _flyback,
    "resonant": _resonant,
    "led": _led,
    "tubes": _tubes,
    "step_down": _step_down,
    "plasma": _plasma,
}
