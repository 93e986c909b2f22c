"""Look over: the rail map with the part to look at, one key for what is seen, all parts below."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QGridLayout

from loose_rail.screens.look_over.state import SurveyRow, SurveyState
from loose_rail.screens.shared.board_shares import BoardShares
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import SidedPage
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.rail_map.view import RailMap
from loose_rail.screens.shared.table_rows import Cell, show_rows
from loose_rail.screens.shared.theme import Role
from loose_rail.screens.shared.widgets import (
    WordsLine,
    button,
    clear_layout,
    label,
    plain_table,
)

COLUMNS = ("Part", "What it does", "Bad, chance", "Seen")
NUMBER_COLUMN = 2


def _cells(row: SurveyRow) -> tuple[Cell, ...]:
    share = f"{100 * row.share:.0f} %" if row.share >= 0.005 else "< 1 %"
    role: Role = "disagrees" if row.odd else "quiet" if row.seen else "ink"
    texts = (row.ref, row.words, share, f"  {row.seen or '–'}")
    return tuple(Cell(text, role, place == NUMBER_COLUMN) for place, text in enumerate(texts))


class SurveyView(SidedPage):
    """The look-over page: 1 to 9 note what is seen, 0 nothing; up and down choose the part."""

    noted = pyqtSignal(int)
    moved = pyqtSignal(int)
    rest_clean = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.rail_map = RailMap()
        self.table = plain_table(COLUMNS, "Parts in order of suspicion", 3)
        self.table.cellClicked.connect(lambda row, _: self.moved.emit(row - self._selected))
        self.main.setContentsMargins(0, 0, 0, 0)
        self.side.setSpacing(3)
        self.main.addWidget(self.rail_map, 13)
        self.main.addWidget(self.table, 9)
        self._part = label(role="title", wrap=True)
        self._hint = label(role="quiet", wrap=True)
        self._options = QGridLayout()
        self._options.setSpacing(2)
        self._done = label(role="quiet", wrap=True)
        self._keys = PageKeys("look_over", {"rest": self.rest_clean.emit, "name": self.ask_name})
        self.name = WordsLine("What is printed beside the part", "=C952 1000u 25V")
        self.name.installEventFilter(self)
        self.name.hide()
        self._name_it = self._keys.button("name", "Its printed name")
        self.rest = self._keys.button("rest", "nor on the rest")
        self.rest.setAccessibleName("Nothing to be seen on all the rest")
        self._boards = BoardShares()
        self._selected = 0
        self._count = 0
        self._in_front = ""
        for widget in (self._part, self._hint):
            self.side.addWidget(widget)
        self.side.addLayout(self._options)
        self.side.addWidget(self._name_it)
        self.side.addWidget(self.name)
        self.side.addWidget(self._done)
        self.side.addWidget(self._boards)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Survey of the parts: a number notes what is seen, arrows move on")

    def attach(self, host: JobHost) -> None:
        """Keys lead to the survey."""
        self._host = host
        first = host.desks.first
        self.went_on.connect(host.go_on)
        self.noted.connect(lambda number: host.tell(first.note_finding(number)))
        self.moved.connect(first.move_survey)
        self.rest_clean.connect(lambda: host.tell(first.rest_is_clean()))

    def show_state(self, state: SurveyState) -> None:
        """Draw another moment of the survey."""
        self.setAccessibleDescription(f"{state.part}: {state.part_words}. {state.hint}")
        self.rail_map.show_state(state.rail_map)
        self._selected, self._count = state.selected, len(state.options)
        self._in_front = state.part
        self._name_it.setVisible(state.can_be_named and not self.name.isVisible())
        self._part.setText(f"{state.part} · {state.part_words}")
        self._hint.setText(state.hint)
        self._done.setText(state.done)
        self._show_options(state)
        self._show_rows(state)
        self._boards.show_state(state.boards)
        self.setAccessibleName(f"Look at {state.part}, {state.part_words}. {state.hint}")
        self.set_action(state.action)

    def _show_options(self, state: SurveyState) -> None:
        self._options.removeWidget(self.rest)
        clear_layout(self._options)
        last = len(state.options) - 1
        for number, (key, words) in enumerate(state.options):
            chosen = key == state.chosen
            sign = "0" if number == last else str(number + 1)
            made = button(f"{words} ✓" if chosen else words, sign, "chosen" if chosen else "")
            made.setAccessibleName(words)
            made.clicked.connect(lambda _, n=number: self.noted.emit(n))
            self._options.addWidget(made, number, 0, 1, 1 if number == last else 2)
        self._options.addWidget(self.rest, last, 1)

    def _show_rows(self, state: SurveyState) -> None:
        show_rows(self.table, [_cells(row) for row in state.rows])
        self.table.selectRow(state.selected)
        self.table.scrollToItem(self.table.item(state.selected, 0))

    def ask_name(self) -> None:
        """The line for what is printed beside the part in front."""
        self._name_it.hide()
        self.name.show()
        self.name.setText("=")
        self.name.setFocus()

    def _leave_name(self) -> None:
        self.name.clear()
        self.name.hide()
        self._name_it.show()
        self.setFocus()

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter names the part in front, Escape leaves its line."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                outcome = self._host.desks.board.name_part(self.name.text(), self._in_front)
                self._host.tell(outcome)
                if outcome.taken:
                    self._leave_name()
                return True
            if event.key() == Qt.Key.Key_Escape:
                self._leave_name()
                return True
        return super().eventFilter(source, event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Digits note, arrows move, A clears the rest, Enter goes on."""
        assert event is not None
        text = event.text()
        if text.isdecimal():
            number = self._count - 1 if text == "0" else int(text) - 1
            self.noted.emit(number if number < self._count else self._count)
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.moved.emit(-1 if event.key() == Qt.Key.Key_Up else 1)
        elif not self._keys.press(event):
            super().keyPressEvent(event)

    def focus_work(self) -> None:
        """The page itself takes the keys."""
        self.setFocus()
