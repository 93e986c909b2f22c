"""Before and after a repair on number lines."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from loose_rail.screens.shared import theme
from loose_rail.screens.shared.pairs import PairView
from loose_rail.vocabulary.mark import Mark


class PairLines(QWidget):
    """Before and after on one short number line each."""

    def __init__(self) -> None:
        super().__init__()
        self._pairs: tuple[PairView, ...] = ()
        self.setAccessibleName("Before and after")

    def show_state(self, pairs: tuple[PairView, ...]) -> None:
        """Show these pairs."""
        self._pairs = pairs
        self.setMinimumHeight(64 * len(pairs))
        self.setAccessibleDescription(
            "; ".join(
                f"{p.title}: before {p.before}, after {p.after}"
                + ("" if p.good else ", not repaired")
                for p in pairs
            )
        )
        self.update()

    def words_at(self, point: QPointF) -> str:
        """The pair at a point, in words."""
        number = int(point.y() // 64)
        if not 0 <= number < len(self._pairs):
            return ""
        pair = self._pairs[number]
        left = point.x() < self.width() / 2
        return f"{pair.before if left else pair.after} · {pair.title} · {pair.expected}"

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw each pair."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for number, pair in enumerate(self._pairs):
            self._pair(painter, pair, number * 64.0)
        painter.end()

    def _pair(self, painter: QPainter, pair: PairView, top: float) -> None:
        painter.setFont(theme.font("small"))
        painter.setPen(theme.color("quiet"))
        words = f"{pair.title} · expected {pair.expected}"
        room = QFontMetricsF(theme.font("small"))
        painter.drawText(
            QPointF(0, top + 13),
            room.elidedText(words, Qt.TextElideMode.ElideMiddle, self.width()),
        )
        left, right = 4.0, self.width() - 4.0
        finite = [v for v in (*pair.before_span, *pair.after_span) if v == v and abs(v) < 1e9]
        most = 1.15 * max([*finite, pair.expected_span[1], 1e-9])

        def at(value: float) -> float:
            return left + (right - left) * min(max(value / most, 0.0), 1.0)

        after = Mark.AGREES if pair.good else Mark.DISAGREES
        y = top + 27
        low, high = pair.expected_span
        painter.fillRect(QRectF(at(low), y - 8, at(high) - at(low), 16), theme.color("cold_ground"))
        painter.setPen(QPen(theme.color("line"), 2))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        for ends, role, width in (
            (pair.before_span, Mark.DISAGREES, 5),
            (pair.after_span, after, 9),
        ):
            if ends[0] != ends[0] or abs(ends[1]) > 1e9:
                continue
            painter.setPen(QPen(theme.color(role), width))
            a, b = at(ends[0]), at(ends[1])
            painter.drawLine(QPointF(a - 1, y), QPointF(max(b, a + 2), y))
        painter.setFont(theme.font("text", True))
        painter.setPen(theme.color("disagrees"))
        painter.drawText(QPointF(0, top + 53), f"before {pair.before}")
        painter.setPen(theme.color(after))
        painter.drawText(
            QRectF(0, top + 38, self.width(), 20),
            Qt.AlignmentFlag.AlignRight,
            f"after {pair.after}{'' if pair.good else ' · not repaired'}",
        )
