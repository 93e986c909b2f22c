"""One photograph or two side by side, zoomed and moved together, with the marked points."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QWidget

from loose_rail.screens.shared import theme

MOST_ZOOM = 12.0
ZOOM_STEP = 1.25
MOVE_SHARE = 0.06
CROSS = 11


Shown = tuple[QImage, str, tuple[tuple[float, float, str], ...]]
"""A picture with its title and its points (x, y, words)."""


class PhotoCanvas(QWidget):
    """Shows what `show_images` got; `look_at` is the point in the middle, in shares."""

    pointed = pyqtSignal(float, float)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Photograph")
        self.setMinimumSize(320, 240)
        self._images: list[Shown] = []
        self.empty_words = "Drop photographs here, paste one with Ctrl+V, or choose files with F5."
        self.zoom = 1.0
        self.middle = QPointF(0.5, 0.5)
        self.cross = QPointF(0.5, 0.5)

    def show_images(self, images: list[Shown]) -> None:
        """One or two images with a title and their points (x, y, words)."""
        self._images = images
        self.update()

    def zoom_by(self, factor: float) -> None:
        """Closer or farther, about the cross."""
        self.zoom = min(max(self.zoom * factor, 1.0), MOST_ZOOM)
        self.middle = QPointF(self.cross) if self.zoom > 1.0 else QPointF(0.5, 0.5)
        self.update()

    def move_by(self, x: int, y: int) -> None:
        """Move the cross; the picture follows while it is enlarged."""
        step = MOVE_SHARE / self.zoom
        self.cross = QPointF(
            min(max(self.cross.x() + x * step, 0.0), 1.0),
            min(max(self.cross.y() + y * step, 0.0), 1.0),
        )
        if self.zoom > 1.0:
            self.middle = QPointF(self.cross)
        self.pointed.emit(self.cross.x(), self.cross.y())
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """The wheel zooms."""
        assert event is not None
        self.zoom_by(ZOOM_STEP if event.angleDelta().y() > 0 else 1 / ZOOM_STEP)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A click puts the cross."""
        assert event is not None
        for number, box in enumerate(self._boxes()):
            target = self._target(number, box)
            if box.contains(event.position()) and target.width() > 0:
                x = (event.position().x() - target.x()) / target.width()
                y = (event.position().y() - target.y()) / target.height()
                self.cross = QPointF(min(max(x, 0.0), 1.0), min(max(y, 0.0), 1.0))
                self.pointed.emit(self.cross.x(), self.cross.y())
                self.update()
                return

    def _boxes(self) -> list[QRectF]:
        count = max(1, len(self._images))
        width = (self.width() - 8 * (count - 1)) / count
        return [QRectF(k * (width + 8), 0, width, self.height()) for k in range(count)]

    def _target(self, number: int, box: QRectF) -> QRectF:
        """Where the whole image would stand: fitted, enlarged, moved."""
        image = self._images[number][0] if number < len(self._images) else QImage()
        if image.isNull():
            return QRectF()
        scale = min(box.width() / image.width(), box.height() / image.height()) * self.zoom
        width, height = image.width() * scale, image.height() * scale
        centre = box.center()
        x = centre.x() - self.middle.x() * width
        y = centre.y() - self.middle.y() * height
        return QRectF(x, y, width, height)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw the images, their points and the cross."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.color("card"))
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.setFont(theme.font("text"))
        if not self._images:
            painter.setPen(theme.color("quiet"))
            painter.drawText(
                self.rect(),
                Qt.AlignmentFlag.AlignCenter,
                self.empty_words,
            )
            return
        for number, box in enumerate(self._boxes()):
            painter.save()
            painter.setClipRect(box)
            image, title, points = self._images[number]
            target = self._target(number, box)
            painter.drawImage(target, image)
            for x, y, words in points:
                self._draw_point(painter, target, x, y, words)
            if number == 0:
                self._draw_cross(painter, target)
            self._draw_title(painter, box, title)
            painter.restore()

    def _draw_point(
        self, painter: QPainter, target: QRectF, x: float, y: float, words: str
    ) -> None:
        spot = QPointF(target.x() + x * target.width(), target.y() + y * target.height())
        painter.setPen(QPen(theme.color("card"), 4))
        painter.drawEllipse(spot, 9, 9)
        painter.setPen(QPen(theme.color("action"), 2))
        painter.drawEllipse(spot, 9, 9)
        box = painter.fontMetrics().boundingRect(words)
        frame = QRectF(spot.x() + 14, spot.y() - 10, box.width() + 12, 20)
        painter.fillRect(frame, theme.color("card"))
        painter.setPen(theme.color("ink"))
        painter.drawText(frame, Qt.AlignmentFlag.AlignCenter, words)

    def _draw_cross(self, painter: QPainter, target: QRectF) -> None:
        x = target.x() + self.cross.x() * target.width()
        y = target.y() + self.cross.y() * target.height()
        strokes: tuple[tuple[float, theme.Role], ...] = ((4, "card"), (1.6, "action"))
        for width, role in strokes:
            painter.setPen(QPen(theme.color(role), width))
            painter.drawLine(QPointF(x - CROSS, y), QPointF(x + CROSS, y))
            painter.drawLine(QPointF(x, y - CROSS), QPointF(x, y + CROSS))

    def _draw_title(self, painter: QPainter, box: QRectF, title: str) -> None:
        width = painter.fontMetrics().horizontalAdvance(title) + 16
        frame = QRectF(box.x() + 8, box.bottom() - 32, width, 24)
        painter.fillRect(frame, theme.color("card"))
        painter.setPen(theme.color("ink"))
        painter.drawText(frame, Qt.AlignmentFlag.AlignCenter, title)
