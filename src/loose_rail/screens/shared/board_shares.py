"""Which board: a bar for each, the likeliest first."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from loose_rail.screens.shared import theme
from loose_rail.screens.shared.rows import BoardShare

ROW = 26.0
NAMES = 204.0
NUMBERS = 52.0


class BoardShares(QWidget):
    """Paints the shares of the boards."""

    def __init__(self) -> None:
        super().__init__()
        self._shares: tuple[BoardShare, ...] = ()
        self.setAccessibleName("Which board")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        """One row for each board."""
        return QSize(340, int(ROW * max(1, len(self._shares)) + 4))

    def show_state(self, shares: tuple[BoardShare, ...]) -> None:
        """Show these boards."""
        self._shares = shares
        self.setAccessibleDescription("; ".join(f"{s.name} {s.percent}" for s in shares))
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Name, bar, number."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font("text"))
        metrics = QFontMetricsF(theme.font("text"))
        reach = self.width() - NAMES - NUMBERS - 8
        for number, share in enumerate(self._shares):
            top = number * ROW
            painter.setPen(theme.color("ink"))
            name = metrics.elidedText(share.name, Qt.TextElideMode.ElideRight, NAMES - 8)
            middle = Qt.AlignmentFlag.AlignVCenter
            painter.drawText(QRectF(0, top, NAMES, ROW), middle, name)
            painter.fillRect(QRectF(NAMES, top + 9, reach, 8), theme.color("line"))
            painter.fillRect(
                QRectF(NAMES, top + 9, max(2.0, reach * share.share), 8), theme.color("ink")
            )
            right = Qt.AlignmentFlag.AlignRight | middle
            painter.drawText(
                QRectF(self.width() - NUMBERS, top, NUMBERS, ROW), right, share.percent
            )
        painter.end()
