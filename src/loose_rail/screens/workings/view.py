"""The workings: a list at the left, the drawing of the one in front with its inputs on it, results,
formula and source at the right."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QApplication,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from loose_rail.app.session import JobSession
from loose_rail.screens.area_page import AreaPage
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.plots import new_grid, styled
from loose_rail.screens.shared.widgets import WordsLine, clear_layout, label, set_role
from loose_rail.screens.workings.marks import MarkDrawing
from loose_rail.screens.workings.present import (
    WorkingsDesk,
    code_lines,
    code_title,
    copied,
    marks_of,
)
from loose_rail.screens.workings.state import WorkingState
from loose_rail.screens.workplace import Workplace

LIST_WIDTH = 230
ACROSS = 3
"""Inputs beside each other."""


class Drawing(QWidget):
    """The result along one input, with a mark where the inputs are."""

    def __init__(self) -> None:
        super().__init__()
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Drawing of the working")

    def show_state(self, state: WorkingState) -> None:
        """Draw it. pyqtgraph is imported when it is first shown."""
        import pyqtgraph as pg

        self.setAccessibleDescription(f"{state.heights_title} against {state.across_title}")
        plot = styled(new_grid(self._layout).addPlot(), state.heights_title, state.across_title)
        plot.plot(state.across, state.heights, pen=pg.mkPen(theme.color("ink"), width=2.2))
        plot.plot(
            [state.at[0]],
            [state.at[1]],
            pen=None,
            symbol="o",
            symbolSize=12,
            symbolBrush=pg.mkBrush(theme.color("action")),
            symbolPen=pg.mkPen(theme.color("card"), width=2),
        )


class WorkingsView(AreaPage):
    """Letters find a working; a marking typed in the same line is read."""

    def __init__(self, dispatcher: Dispatcher) -> None:
        super().__init__()
        self._desk = WorkingsDesk()
        self._fields: list[QLineEdit] = []
        row = QHBoxLayout()
        row.setSpacing(18)
        column = QVBoxLayout()
        column.addWidget(label("Workings", "title"))
        self.code = WordsLine("A marking on a part", "104K, 4.7 kΩ, legs 32 0.48")
        self.code.textChanged.connect(lambda _: self._show())
        self.rows = QListWidget()
        self.rows.setAccessibleName("Workings")
        self.rows.addItems(self._desk.titles)
        self.rows.currentRowChanged.connect(self._turn)
        for widget in (self.code, self.rows):
            widget.setFixedWidth(LIST_WIDTH)
            column.addWidget(widget)
        row.addLayout(column)
        middle = QVBoxLayout()
        self._title = label(role="title")
        self._inputs = QGridLayout()
        self._inputs.setHorizontalSpacing(14)
        self._inputs.setVerticalSpacing(2)
        self._drawing = Drawing()
        self._problem = label(role="hot", wrap=True)
        self._caution = label(role="hot", wrap=True)
        middle.addWidget(self._title)
        middle.addLayout(self._inputs)
        middle.addWidget(self._problem)
        middle.addWidget(self._drawing, 1)
        middle.addWidget(self._caution)
        row.addLayout(middle, 1)
        self.main.addLayout(row, 1)
        self._results = self.scrolled_side()
        self._keys = PageKeys("workings", {"copy": self.copy, "code": self.code.setFocus})
        self.side.addWidget(self._keys.button("copy"))
        self.set_action("Back to the bench")
        self.went_on.connect(self.left)
        self.rows.setCurrentRow(0)

    def begin(self, workplace: Workplace) -> None:
        """The page comes to the front."""
        self.rows.setFocus()

    def heed(self, session: JobSession, meant: str = "") -> None:
        """A job is open: the working of the number that was looked at, else the one that its stage
        asks for, with the values of its board."""
        self._desk.heed(session, meant)
        self.code.clear()
        self.rows.setCurrentRow(self._desk.number)
        self._make_fields()
        self._show()

    def copy(self) -> None:
        """The working as text to the clipboard."""
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(copied(self._desk.state()))

    def _turn(self, number: int) -> None:
        if number >= 0:
            self._desk.number = number
            self._make_fields()
            self._show()

    def _make_fields(self) -> None:
        state = self._desk.state()
        clear_layout(self._inputs)
        self._fields = []
        for number, item in enumerate(state.inputs):
            field = QLineEdit(item.text)
            field.setAccessibleName(item.title)
            field.installEventFilter(self)
            field.textEdited.connect(lambda text, key=item.key: self._typed(key, text))
            line, place = divmod(number, ACROSS)
            self._inputs.addWidget(label(item.title, "quiet"), 2 * line, place)
            self._inputs.addWidget(field, 2 * line + 1, place)
            self._fields.append(field)

    def _typed(self, key: str, text: str) -> None:
        self._desk.typed(key, text)
        self._show()

    def _show(self) -> None:
        state = self._desk.state()
        self._title.setText(state.title)
        for field, item in zip(self._fields, state.inputs, strict=False):
            set_role(field, "bad" if item.problem else "")
        self._problem.setText(state.problem)
        self._problem.setVisible(bool(state.problem))
        self._caution.setText(state.caution)
        self._caution.setVisible(bool(state.caution))
        self._drawing.setVisible(bool(state.lines))
        if state.lines:
            self._drawing.show_state(state)
        clear_layout(self._results)
        if self.code.text().strip():
            self._results.addWidget(label(code_title(self.code.text()), "strong"))
            drawing = MarkDrawing()
            self._results.addWidget(drawing)
            drawing.show_marks(marks_of(self.code.text()))
            for words, steps in code_lines(self.code.text()):
                self._results.addWidget(label(words or steps, "" if words else "hot", wrap=True))
                if words and steps:
                    self._results.addWidget(label(steps, "quiet", wrap=True))
            self._results.addWidget(label(state.title, "strong"))
        for title, value, note in state.lines:
            self._results.addWidget(label(title, "quiet", wrap=True))
            self._results.addWidget(label(value, "strong"))
            if note:
                self._results.addWidget(label(note, "quiet", wrap=True))
        self._results.addWidget(label(state.formula, wrap=True))
        self._results.addWidget(label(state.source, "quiet", wrap=True))

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter goes to the next input."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if not enter or source not in self._fields:
            return super().eventFilter(source, event)
        following = self._fields[(self._fields.index(source) + 1) % len(self._fields)]
        following.setFocus()
        following.selectAll()
        return True

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """The keys of the page."""
        if event is not None and not self._keys.press(event):
            super().keyPressEvent(event)

    def restyle(self) -> None:
        """The theme changed."""
        self._show()
