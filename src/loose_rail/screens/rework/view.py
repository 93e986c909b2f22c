"""Rework: the part drawn with its polarity against the board's mark, the steps beside it."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QSizePolicy, QVBoxLayout, QWidget

from loose_rail.screens.rework.state import ReworkState, ReworkStep
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import SidedPage
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.widgets import clear_layout, draw_mark, label
from loose_rail.vocabulary.mark import Mark


class PartDrawing(QWidget):
    """The part from above, its stripe and its leads, over the board's mark."""

    def __init__(self) -> None:
        super().__init__()
        self._state: ReworkState | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(260)
        self.setAccessibleName("The part and its polarity")

    def show_state(self, state: ReworkState) -> None:
        """Draw this part."""
        self._state = state
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Can at the left, board at the right, lead to lead."""
        if self._state is None or not self._state.part:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        centre = self.height() * 0.46
        radius = min(86.0, self.height() * 0.3)
        left, right = self.width() * 0.27, self.width() * 0.73
        if self._state.polarised:
            self._can(painter, QPointF(left, centre), radius)
            self._pads(painter, QPointF(right, centre), radius)
            self._leads(painter, left, right, centre, radius)
        else:
            self._plain(painter, QPointF(self.width() / 2, centre), radius)
        painter.end()

    def _can(self, painter: QPainter, point: QPointF, radius: float) -> None:
        assert self._state is not None
        painter.setPen(QPen(theme.color("ink"), 2))
        painter.setBrush(theme.color("card"))
        painter.drawEllipse(point, radius, radius)
        clip = QPainterPath()
        clip.addEllipse(point, radius - 1, radius - 1)
        painter.save()
        painter.setClipPath(clip)
        painter.fillRect(
            QRectF(point.x() - radius, point.y() - radius, radius * 0.55, 2 * radius),
            theme.color("ink"),
        )
        painter.restore()
        painter.setPen(QPen(theme.color("card"), 3))
        x = point.x() - radius * 0.72
        painter.drawLine(QPointF(x - 7, point.y()), QPointF(x + 7, point.y()))
        self._words(
            painter, QPointF(point.x(), point.y() - radius - 62), "the new part, from above"
        )
        text = "stripe: minus"
        self._words(painter, QPointF(point.x() - radius * 0.5, point.y() + radius + 62), text)

    def _pads(self, painter: QPainter, point: QPointF, radius: float) -> None:
        assert self._state is not None
        painter.setPen(QPen(theme.color("ink"), 1.6, Qt.PenStyle.DashLine))
        painter.setBrush(theme.color("cold_ground"))
        painter.drawEllipse(point, radius, radius)
        for side, sign in ((-1, "−"), (1, "+")):
            pad = QPointF(point.x() + side * radius * 0.45, point.y())
            painter.setPen(QPen(theme.color("ink"), 1.6))
            painter.setBrush(theme.color("panel"))
            painter.drawEllipse(pad, 13, 13)
            painter.setFont(theme.font("title", True))
            painter.drawText(
                QRectF(pad.x() - 14, pad.y() - (46 if side < 0 else -18), 28, 28),
                Qt.AlignmentFlag.AlignCenter,
                sign,
            )
        self._words(painter, QPointF(point.x(), point.y() - radius - 62), "the place on the board")
        self._words(
            painter,
            QPointF(point.x(), point.y() + radius + 62),
            f"plus goes to {self._state.plus_words}",
        )

    def _leads(self, painter: QPainter, left: float, right: float, y: float, radius: float) -> None:
        painter.setPen(QPen(theme.color("action"), 2.4))
        for side, way in ((-1, 1), (1, -1)):
            start = QPointF(left + side * radius * 0.45, y + way * 14)
            end = QPointF(right + side * radius * 0.45, y + way * 14)
            path = QPainterPath(start)
            turn = y + way * (radius * 1.5 + 20)
            path.cubicTo(QPointF(start.x(), turn), QPointF(end.x(), turn), end)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(path)
            painter.setBrush(theme.color("action"))
            painter.drawEllipse(start, 4, 4)

    def _plain(self, painter: QPainter, point: QPointF, radius: float) -> None:
        assert self._state is not None
        box = QRectF(point.x() - radius * 1.4, point.y() - radius * 0.5, radius * 2.8, radius)
        painter.setPen(QPen(theme.color("ink"), 2))
        painter.setBrush(theme.color("card"))
        painter.drawRoundedRect(box, 5, 5)
        self._words(painter, point + QPointF(0, 5), self._state.part, "title")
        self._words(painter, point + QPointF(0, radius), "note how it sits before it comes off")

    def _words(self, painter: QPainter, point: QPointF, text: str, size: str = "text") -> None:
        painter.setFont(theme.font(size))
        painter.setPen(theme.color("ink"))
        painter.drawText(
            QRectF(point.x() - 240, point.y() - 13, 480, 26), Qt.AlignmentFlag.AlignCenter, text
        )


class StepMark(QWidget):
    """A disc for a done step, a ring for one ahead."""

    def __init__(self, status: str) -> None:
        super().__init__()
        self._status = status
        self.setFixedSize(22, 22)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw the mark."""
        painter = QPainter(self)
        if self._status == "current":
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(theme.color("action"), 3))
            painter.drawEllipse(QPointF(11, 11), 7, 7)
        else:
            done = self._status == "done"
            draw_mark(painter, QPointF(11, 11), 6, Mark.AGREES if done else Mark.UNREAD)
        painter.end()


class ReworkView(SidedPage):
    """The rework screen; while it is not drained it asks for the bulk first."""

    bulk_entered = pyqtSignal(str)
    meter_asked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self._title = label(role="title", wrap=True)
        self._part = label(wrap=True)
        self._drawing = PartDrawing()
        self._keys = PageKeys("rework", {"meter": self.meter_asked.emit})
        self.bulk = QLineEdit()
        self.bulk.setPlaceholderText("volts across the bulk, or Space for the meter")
        self.bulk.setAccessibleName("Volts across the bulk")
        self.bulk.installEventFilter(self)
        self.main.addWidget(self._title)
        self.main.addWidget(self._part)
        self.main.addWidget(self._drawing, 1)
        self.main.addWidget(
            label(
                "Reversed, an electrolytic vents. Companions of the part were listed with the "
                "verdict: look at them while the iron is hot.",
                "hot",
                wrap=True,
            )
        )

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter takes the bulk reading, Space asks the meter."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.bulk.text().strip():
                self.bulk_entered.emit(self.bulk.text())
                return True
            if not self.bulk.text() and self._keys.press(event):
                return True
        return super().eventFilter(source, event)

    def focus_work(self) -> None:
        """The bulk first, where it is asked for."""
        (self.bulk if self.bulk.isVisibleTo(self) else self.action).setFocus()

    def attach(self, host: JobHost) -> None:
        """Steps and volts lead to the job's commands."""
        self.went_on.connect(host.go_on)
        self.bulk_entered.connect(lambda text: self._enter_volts(host, text))
        self.meter_asked.connect(host.measure)

    def _enter_volts(self, host: JobHost, text: str) -> None:
        if host.enter_volts(text):
            self.bulk.clear()
        self.focus_work()

    def show_state(self, state: ReworkState) -> None:
        """Draw the part and the steps."""
        self._title.setText(state.title)
        self._part.setText(state.message or state.part_words)
        self._drawing.show_state(state)
        self.bulk.setParent(self)
        self.bulk.setVisible(state.asks_bulk)
        clear_layout(self.side)
        if state.safety:
            self.side.addWidget(label(state.safety, "hot", wrap=True))
        if state.asks_bulk:
            self.side.addWidget(self.bulk)
        self.side.addWidget(label("Steps", "strong"))
        for step in state.steps:
            self.side.addWidget(_step_row(step))
        self.set_action(state.action)


def _step_row(step: ReworkStep) -> QWidget:
    holder = QWidget()
    row = QHBoxLayout(holder)
    row.setContentsMargins(0, 4, 0, 4)
    row.addWidget(StepMark(step.status), 0, Qt.AlignmentFlag.AlignTop)
    column = QVBoxLayout()
    column.setSpacing(1)
    column.addWidget(label(step.text, "quiet" if step.status == "done" else "", wrap=True))
    if step.caution and step.status == "current":
        column.addWidget(label(step.caution, "hot", wrap=True))
    row.addLayout(column, 1)
    return holder
