"""Rework: the part drawn with its polarity against the board's mark, the steps beside it."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QEvent, QObject, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from loose_rail.screens.rework.drawing import PartDrawing
from loose_rail.screens.rework.state import MethodView, ReworkState, ReworkStep
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import SidedPage
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.widgets import button, clear_layout, draw_mark, label
from loose_rail.vocabulary.mark import Mark

MOST_METHODS = 3
"""Ways to get a part off that have a key."""


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
    method_chosen = pyqtSignal(str)
    action_turned = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self._title = label(role="title", wrap=True)
        self._part = label(wrap=True)
        self._drawing = PartDrawing()
        methods = {f"method:{k}": partial(self._choose, k) for k in range(MOST_METHODS)}
        self._keys = PageKeys(
            "rework", {"meter": self.meter_asked.emit, "action": self.action_turned.emit, **methods}
        )
        self._methods: tuple[MethodView, ...] = ()
        self._mounting = label(role="quiet", wrap=True)
        self._caution = label(role="hot", wrap=True)
        self.bulk = QLineEdit()
        self.bulk.setPlaceholderText("volts across the bulk, or Space for the meter")
        self.bulk.setAccessibleName("Volts across the bulk")
        self.bulk.installEventFilter(self)
        self.main.addWidget(self._title)
        self.main.addWidget(self._part)
        self.main.addWidget(self._mounting)
        self.main.addWidget(self._drawing, 1)
        self.main.addWidget(self._caution)

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter takes the bulk reading, Space asks the meter."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.bulk.text().strip():
                self.bulk_entered.emit(self.bulk.text())
                return True
            if not self.bulk.text() and self._keys.press(event):
                return True
        return super().eventFilter(source, event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """A number takes a way to get the part off, while that is the step."""
        own = event is not None and (self._methods or event.key() == Qt.Key.Key_F9)
        if event is None or not (own and self._keys.press(event)):
            super().keyPressEvent(event)

    def _choose(self, number: int) -> None:
        if number < len(self._methods):
            self.method_chosen.emit(self._methods[number].name)

    def focus_work(self) -> None:
        """The bulk first, where it is asked for."""
        (self.bulk if self.bulk.isVisibleTo(self) else self.action).setFocus()

    def attach(self, host: JobHost) -> None:
        """Steps and volts lead to the job's commands."""
        self.went_on.connect(host.go_on)
        self.bulk_entered.connect(lambda text: self._enter_volts(host, text))
        self.meter_asked.connect(host.measure)
        self.method_chosen.connect(host.choose_method)
        self.action_turned.connect(lambda: self._turn(host))

    def _turn(self, host: JobHost) -> None:
        host.tell(host.desks.next_action())
        self.focus_work()

    def _enter_volts(self, host: JobHost, text: str) -> None:
        if host.enter_volts(text):
            self.bulk.clear()
        self.focus_work()

    def show_state(self, state: ReworkState) -> None:
        """Draw the part and the steps."""
        self._title.setText(state.title)
        self._part.setText(state.message or state.part_words)
        self._mounting.setText(state.mounting)
        self._caution.setText(state.caution)
        self._caution.setVisible(bool(state.caution))
        self._drawing.show_state(state)
        self._methods = state.methods
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
            if step.status == "current":
                self._show_methods(state)
        self.set_action(state.action)

    def _show_methods(self, state: ReworkState) -> None:
        """How it comes off, a number each; the chosen one says how it is done."""
        if not state.methods:
            return
        row = QHBoxLayout()
        row.setContentsMargins(30, 0, 0, 0)
        for number, method in enumerate(state.methods):
            made = button(method.words, f"{number + 1}", "chosen" if method.chosen else "")
            made.clicked.connect(partial(self._choose, number))
            row.addWidget(made)
        row.addStretch(1)
        self.side.addLayout(row)
        for method in state.methods:
            if method.chosen:
                self.side.addWidget(label(method.step, "quiet", wrap=True))


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
