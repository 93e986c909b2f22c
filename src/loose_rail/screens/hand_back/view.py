"""Hand back: the sheet itself, as it will print."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QGridLayout, QLineEdit, QTextBrowser, QWidget

from loose_rail.screens.hand_back.state import HandBackState, PointView
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import SidedPage
from loose_rail.screens.shared.pair_lines import PairLines
from loose_rail.screens.shared.widgets import (
    WordsLine,
    button,
    clear_layout,
    draw_mark,
    label,
    tip,
)
from loose_rail.vocabulary.mark import Mark

HINT = "2 ticks · insulation 20M · 4 skip because … · rest · hours 1.2 · warranty … · photos on"


ROW = 24


class PointRow(QWidget):
    """A point of the final list in a line: its mark, its words, what was said of it."""

    def __init__(self, point: PointView) -> None:
        super().__init__()
        self._point = point
        words = f"{point.number}  {point.words}: {point.said}" if point.said else point.words
        self.setAccessibleName(words)
        self.setToolTip(tip(point.caution or words))
        self.setMinimumWidth(160)
        self.setFixedHeight(ROW)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Mark and words; what was said stands at the right."""
        point, painter = self._point, QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        mark = {"done": Mark.AGREES, "bad": Mark.DISAGREES}.get(point.status, Mark.UNREAD)
        draw_mark(painter, QPointF(8, self.height() / 2), 5, mark)
        painter.setFont(theme.font("text"))
        bad = point.status == "bad"
        painter.setPen(theme.color("disagrees" if bad else "ink"))
        metrics = painter.fontMetrics()
        room = self.width() - 24
        said = metrics.elidedText(point.said, Qt.TextElideMode.ElideRight, int(room * 0.5))
        beside = metrics.horizontalAdvance(said) + 12
        words = metrics.elidedText(
            f"{point.number}  {point.words}", Qt.TextElideMode.ElideRight, int(room - beside)
        )
        left = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(22, 0, room, self.height()), left, words)
        painter.setPen(theme.color("disagrees" if bad else "quiet"))
        painter.drawText(QRectF(22, 0, room, self.height()), right, said)
        painter.end()


class HandBackView(SidedPage):
    """The hand-back screen."""

    export_asked = pyqtSignal()
    print_asked = pyqtSignal()
    price_named = pyqtSignal(str)
    ticked = pyqtSignal(str)
    unplugged = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self._sheet = QTextBrowser()
        self._sheet.setAccessibleName("The sheet as it will print")
        self._sheet.setOpenLinks(False)
        self.main.addWidget(self._sheet, 1)
        self._html = ""
        self.main.addWidget(label("Before it leaves", "strong"))
        self._points = QGridLayout()
        self._points.setHorizontalSpacing(24)
        self._points.setVerticalSpacing(0)
        self._points.setColumnStretch(0, 1)
        self._points.setColumnStretch(1, 1)
        self.main.addLayout(self._points)
        self.line = WordsLine("The final list, costs, warranty", HINT)
        self.line.installEventFilter(self)
        self.main.addWidget(self.line)
        self.price = QLineEdit()
        self.price.setPlaceholderText("price, such as 38.50")
        self.price.setAccessibleName("Price")
        self.price.editingFinished.connect(lambda: self.price_named.emit(self.price.text()))

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter takes the line; empty, it is the page's action, and U says that the plug is out."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        if event.key() == Qt.Key.Key_U and not self.line.text():
            self.unplugged.emit()
            return True
        if event.key() not in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            return super().eventFilter(source, event)
        text = self.line.text().strip()
        self.ticked.emit(text) if text else self.went_on.emit()
        return True

    def focus_work(self) -> None:
        """The line."""
        self.line.setFocus()

    def _tick(self, host: JobHost, text: str) -> None:
        outcome = host.final_line(text)
        self.line.answered(outcome.taken)
        host.tell(outcome)

    def attach(self, host: JobHost) -> None:
        """The action hands back."""
        self.unplugged.connect(lambda: host.command("unplugged"))
        self.ticked.connect(lambda text: self._tick(host, text))
        self.went_on.connect(host.go_on)
        self.export_asked.connect(host.paper.ask_export)
        self.print_asked.connect(host.paper.ask_print)
        self.price_named.connect(host.name_price)

    def show_state(self, state: HandBackState) -> None:
        """Show the sheet and what is open."""
        if state.html != self._html:
            self._html = state.html
            self._sheet.setHtml(state.html)
            document = self._sheet.document()
            assert document is not None
            document.setDocumentMargin(22)
        self.price.setParent(self)
        clear_layout(self.side)
        if state.failed:
            self.side.addWidget(label(state.failed, "alarmTitle", wrap=True))
        if state.pairs:
            self.side.addWidget(label("Before and after", "strong"))
        pairs = PairLines()
        pairs.show_state(state.pairs)
        self.side.addWidget(pairs)
        self.side.addWidget(label("Level of proof", "strong"))
        self.side.addWidget(label(state.proof, wrap=True))
        self.side.addWidget(label(state.came_back, "quiet", wrap=True))
        if state.open_points:
            self.side.addWidget(label("Still open", "strong"))
            for words in state.open_points:
                self.side.addWidget(label(words, "hot", wrap=True))
        clear_layout(self._points)
        rows = -(-len(state.points) // 2)
        for number, point in enumerate(state.points):
            self._points.addWidget(PointRow(point), number % rows, number // rows)
        self.side.addWidget(label(state.cost, "quiet", wrap=True))
        self.side.addWidget(self.price)
        self.price.setEnabled(not state.handed_back)
        self.price.setPlaceholderText(f"price, {state.proposed_price} by the above")
        self.price.show()
        for title, key, asked in (
            ("Print the report", "Ctrl+P", self.print_asked),
            ("Save it as a file", "Ctrl+S", self.export_asked),
        ):
            one = button(title, key)
            one.clicked.connect(asked)
            self.side.addWidget(one)
        self.set_action(state.action, not state.handed_back)
