"""The list of suspects: percentage, name, what speaks for it, and a bar."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from loose_rail.screens.shared import theme
from loose_rail.screens.shared.rows import SuspectRow, fitting

ROW = 50.0
LEFT = 66.0


class SuspectList(QWidget):
    """Paints suspects; as many as fit, the last row is always everything else."""

    def __init__(self) -> None:
        super().__init__()
        self._title = ""
        self._rows: tuple[SuspectRow, ...] = ()
        self.setObjectName("suspects")
        self.setAccessibleName("Suspects")
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(80)

    def sizeHint(self) -> QSize:
        """Room for the usual six rows."""
        return QSize(420, int(34 + 6 * ROW))

    def show_state(self, title: str, rows: tuple[SuspectRow, ...]) -> None:
        """Show these suspects."""
        if (title, rows) == (self._title, self._rows):
            return
        self._title, self._rows = title, rows
        self.setAccessibleDescription("; ".join(f"{r.title} {r.percent} %" for r in rows))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw the rows that fit."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.color("panel"))
        painter.setFont(theme.font("small"))
        painter.setPen(theme.color("quiet"))
        painter.drawText(QRectF(14, 8, self.width() - 28, 18), 0, self._title)
        room = max(1, int((self.height() - 30) // ROW))
        for number, row in enumerate(fitting(self._rows, room)):
            self._row(painter, row, 30 + number * ROW)
        painter.end()

    def _row(self, painter: QPainter, row: SuspectRow, top: float) -> None:
        width = self.width() - LEFT - 16
        painter.setPen(theme.color("ink"))
        painter.setFont(theme.font("title", True))
        number = QRectF(6, top + 2, LEFT - 18, 34)
        painter.drawText(
            number, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, row.percent
        )
        painter.setFont(theme.font("text"))
        title = QFontMetricsF(theme.font("text")).elidedText(
            row.title, Qt.TextElideMode.ElideRight, width
        )
        painter.drawText(QRectF(LEFT, top + 2, width, 18), 0, title)
        painter.setFont(theme.font("small"))
        painter.setPen(theme.color("quiet"))
        why = QFontMetricsF(theme.font("small")).elidedText(
            row.why, Qt.TextElideMode.ElideRight, width
        )
        painter.drawText(QRectF(LEFT, top + 20, width, 16), 0, why)
        painter.setPen(QPen(theme.color("line"), 4))
        y = top + 41
        painter.drawLine(int(LEFT), int(y), int(LEFT + width), int(y))
        if row.share > 0.004:
            painter.setPen(QPen(theme.color("ink"), 4))
            painter.drawLine(int(LEFT), int(y), int(LEFT + width * row.share), int(y))
