"""What is seen on a board as a row of pictures: a digit turns one, Enter goes on."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
)
from PyQt6.QtWidgets import QToolTip, QWidget

from loose_rail.app.own_boards import SeenTile, tiles_of, with_tile
from loose_rail.screens.new_job.pictures import draw_block
from loose_rail.screens.shared import theme

HEIGHT = 100
GAP = 6.0
LEAST_TILE = 66
"""Pixels of the longest word under a tile."""
PICTURE = 48.0


class SeenTiles(QWidget):
    """`changed` is emitted when another thing is seen; `chosen` are the keys of what is."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.chosen: tuple[str, ...] = ()
        self._at = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("What is seen on the board")
        self.setMinimumHeight(HEIGHT)
        self._describe()

    def sizeHint(self) -> QSize:
        """One row."""
        return QSize(700, HEIGHT)

    def clear(self) -> None:
        """Nothing is seen yet."""
        self._set(())

    def turn(self, number: int) -> None:
        """Turn the tile with this number, from 1."""
        self._at = max(number - 1, 0)
        self._set(with_tile(self.chosen, number))

    def _set(self, chosen: tuple[str, ...]) -> None:
        if chosen != self.chosen:
            self.chosen = chosen
            self._describe()
            self.changed.emit()
        self.update()

    def _describe(self) -> None:
        words = [f"{n} {t.title}" for n, t in enumerate(self._tiles, start=1) if t.chosen]
        self.setAccessibleDescription("; ".join(words) or "nothing chosen")

    @property
    def _tiles(self) -> tuple[SeenTile, ...]:
        return tiles_of(self.chosen)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Digits turn a tile; the arrows go along the row, Space turns the one they stand at."""
        if event is None:
            return
        count = len(self._tiles)
        if event.text().isdecimal() and 1 <= int(event.text()) <= count:
            self.turn(int(event.text()))
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            step = 1 if event.key() == Qt.Key.Key_Right else -1
            self._at = (self._at + step) % count
            self.update()
        elif event.key() == Qt.Key.Key_Space:
            self.turn(self._at + 1)
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A click turns a tile."""
        if event is None:
            return
        for number in range(1, len(self._tiles) + 1):
            if self._box(number).contains(event.position()):
                self.turn(number)
                self.setFocus()

    def event(self, event: QEvent | None) -> bool:
        """Where to look, under the mouse."""
        if isinstance(event, QHelpEvent):
            for number, tile in enumerate(self._tiles, start=1):
                if self._box(number).contains(event.pos().toPointF()):
                    QToolTip.showText(event.globalPos(), tile.look, self)
                    return True
        return super().event(event)

    def _box(self, number: int) -> QRectF:
        across = self._across
        row, column = divmod(number - 1, across)
        width = (self.width() - GAP * (across - 1)) / across
        return QRectF(column * (width + GAP), row * (HEIGHT + GAP) + 1, width, HEIGHT - 2)

    @property
    def _across(self) -> int:
        """How many stand in a row: all of them, half of them in a narrow window."""
        count = len(self._tiles)
        return count if self.width() >= LEAST_TILE * count else (count + 1) // 2

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """As high as its rows."""
        rows = -(-len(self._tiles) // self._across)
        self.setFixedHeight(rows * HEIGHT + (rows - 1) * int(GAP))
        super().resizeEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Each tile with its digit, its picture and its title."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for number, tile in enumerate(self._tiles, start=1):
            self._draw(painter, tile, number)

    def _draw(self, painter: QPainter, tile: SeenTile, number: int) -> None:
        box = self._box(number)
        here = self.hasFocus() and number - 1 == self._at
        edge = theme.color("action" if here else "ink" if tile.chosen else "line")
        painter.setPen(QPen(edge, 2.0 if tile.chosen or here else 1.0))
        painter.setBrush(theme.color("cold_ground" if tile.chosen else "card"))
        painter.drawRoundedRect(box.adjusted(1, 1, -1, -1), 4, 4)
        painter.setFont(theme.font("small"))
        painter.setPen(theme.color("ink" if tile.chosen else "quiet"))
        corner = box.adjusted(6, 4, -6, -4)
        painter.drawText(corner, int(Qt.AlignmentFlag.AlignLeft), str(number))
        if tile.chosen:
            painter.drawText(corner, int(Qt.AlignmentFlag.AlignRight), "✓")
        painter.save()
        painter.translate(box.center().x() - PICTURE / 2, box.top() + 14)
        draw_block(painter, tile.key)
        painter.restore()
        painter.setPen(theme.color("ink"))
        foot = QRectF(box.left() + 3, box.bottom() - 38, box.width() - 6, 35)
        flags = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(foot, int(flags | Qt.TextFlag.TextWordWrap), tile.title)
