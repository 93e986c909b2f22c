"""One board: its connectors as the eye sees them, its parts, and the line that changes it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHeaderView, QStackedWidget, QVBoxLayout, QWidget

from loose_rail.app.board_album import BoardAlbum, SpotFacts
from loose_rail.app.board_desk import BoardDesk, BoardState, PartRow
from loose_rail.app.outcome import Outcome
from loose_rail.kernel.errors import LooseRailError
from loose_rail.screens.legend.view import LegendView
from loose_rail.screens.own_board.photographs import BoardPhotographs
from loose_rail.screens.own_board.present import board_map
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shared.rail_map.view import RailMap
from loose_rail.screens.shared.table_rows import Cell, show_rows
from loose_rail.screens.shared.widgets import (
    WordsLine,
    clear_layout,
    label,
    plain_table,
    scrolled,
    set_role,
)

COLUMNS = ("Printed", "Job", "Value", "How to find it")
LEGEND_ROOM = 208
LOOKED_AT = "This board ships with the program, or was taken in whole: it can be looked at."
LEAST_BELOW = 200
JOB_COLUMN, JOB_WIDTH = 1, 170
NO_SPOT = (
    "Click a point, or bring the cross to it: its probes, what sound boards read there, and what "
    "failed before. Arrows move the cross, + and − zoom."
)
NO_BOARD = BoardState()


def _cells(row: PartRow) -> tuple[Cell, ...]:
    return tuple(Cell(text) for text in (row.ref or "–", row.job, row.value, row.look))


class BoardPanel(QWidget):
    """`show_desk` brings a board; `said` tells what a line did, `left` that Escape was pressed in
    an empty line."""

    said = pyqtSignal(object)
    left = pyqtSignal()

    def __init__(
        self,
        enter: Callable[[str], Outcome] | None = None,
        dispatcher: Dispatcher | None = None,
    ) -> None:
        """`enter` takes a line in place of the desk: a job has lines of its own."""
        super().__init__()
        self._enter = enter
        self.desk: BoardDesk | None = None
        self.state = NO_BOARD
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self._title = label(role="title")
        self._numbers = label(role="quiet", wrap=True)
        self._legends = QVBoxLayout()
        holder = QWidget()
        holder.setObjectName("page")
        holder.setLayout(self._legends)
        self._legends.setContentsMargins(0, 0, 0, 0)
        scroll = scrolled(holder)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._scroll = scroll
        self.entry = WordsLine("What to change on this board", "C952 = 12 V reservoir 1000u 25V")
        self.entry.textChanged.connect(self._echo)
        self.entry.installEventFilter(self)
        self._echo_words = label(role="quiet", wrap=True)
        self.table = plain_table(COLUMNS, "Parts of this board", 3)
        self.table.setWordWrap(True)
        header = self.table.horizontalHeader()
        assert header is not None
        header.setSectionResizeMode(JOB_COLUMN, QHeaderView.ResizeMode.Interactive)
        header.resizeSection(JOB_COLUMN, JOB_WIDTH)
        for widget in (self._title, self._numbers, scroll, self.entry, self._echo_words):
            column.addWidget(widget)
        self.map = RailMap()
        self._below = QStackedWidget()
        self._below.addWidget(self.table)
        self._below.addWidget(self.map)
        self.photographs = BoardPhotographs(dispatcher or Dispatcher())
        self.photographs.said.connect(self.said)
        self._below.addWidget(self.photographs)
        self._below.setMinimumHeight(LEAST_BELOW)  # else its tallest page grows the window
        column.addWidget(self._below, 1)

    def show_desk(self, desk: BoardDesk) -> None:
        """Another board, or the same after a change."""
        self.desk = desk
        try:
            self.state = desk.state()
        except LooseRailError as error:
            self.state = NO_BOARD
            self.said.emit(Outcome.refused(error.one_line()))
        self._draw()
        self._echo()

    def _draw(self) -> None:
        state = self.state
        self._title.setText(state.title)
        self._numbers.setText(state.numbers)
        clear_layout(self._legends)
        tallest = 0
        for legend in state.legends:
            view = LegendView()
            view.show_state(legend)
            tallest += view.sizeHint().height() if not legend.rows else view.height()
            self._legends.addWidget(view)
        self._scroll.setFixedHeight(min(max(tallest, 24) + 4, LEGEND_ROOM))
        show_rows(self.table, [_cells(row) for row in state.parts])
        QTimer.singleShot(0, self.table.resizeRowsToContents)
        self._draw_map()

    @property
    def shows_map(self) -> bool:
        """Whether the rail map stands in place of the list of parts."""
        return self._below.currentWidget() is self.map

    @property
    def shows_photographs(self) -> bool:
        """Whether the photographs stand in place of pins and parts."""
        return self._below.currentWidget() is self.photographs

    def turn_over(self) -> None:
        """The rail map in place of the list of parts, and back."""
        self._bring(self.table if self.shows_map else self.map)
        self._draw_map()

    def show_photographs(self, album: BoardAlbum) -> None:
        """The photographs in place of pins and parts."""
        self.photographs.show_album(album)
        self._bring(self.photographs)

    def hide_photographs(self) -> None:
        """Pins and parts again."""
        self._bring(self.table)

    def _bring(self, widget: QWidget) -> None:
        self._below.setCurrentWidget(widget)
        self._scroll.setVisible(widget is not self.photographs)
        self._echo()

    def _draw_map(self) -> None:
        if self.desk is None or not self.shows_map:
            return
        try:
            self.map.show_state(board_map(self.desk))
        except LooseRailError as error:
            self.said.emit(Outcome.refused(error.one_line()))

    def _echo(self) -> None:
        if self.desk is None:
            return
        album = self.photographs.album if self.shows_photographs else None
        echo = (album or self.desk).echo(self.entry.text())
        typed = bool(self.entry.text().strip())
        self._echo_words.setText(echo.text if typed or self.state.own else LOOKED_AT)
        set_role(self._echo_words, "bad" if echo.error else "good" if typed else "quiet")

    def _take(self) -> None:
        if self.desk is None or not self.entry.text().strip():
            return
        take = self._enter or self.desk.enter
        outcome = (self.photographs.enter if self.shows_photographs else take)(self.entry.text())
        self.entry.answered(outcome.taken)
        self.said.emit(outcome)
        if outcome.taken:
            self.show_desk(self.desk)

    def put_back(self) -> None:
        """Take the last change of this board back."""
        if self.desk is None:
            return
        album = self.photographs.album if self.shows_photographs else None
        outcome = (album or self.desk).put_back()
        self.said.emit(outcome)
        self.show_desk(self.desk)
        self.photographs.draw_again()

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter takes the line; Escape empties it, then leaves; Ctrl+Z in an empty line takes the
        last change back."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        empty = not self.entry.text()
        if self.shows_photographs and self.photographs.press(event, empty):
            return True
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take()
        elif event.key() == Qt.Key.Key_Escape:
            if self.entry.text():
                self.entry.clear()
            else:
                self.left.emit()
        elif (
            event.key() == Qt.Key.Key_Z
            and event.modifiers() & Qt.KeyboardModifier.ControlModifier
            and not self.entry.text()
        ):
            self.put_back()
        else:
            return False
        return True


def fill_with_spot(side: QVBoxLayout, facts: SpotFacts) -> None:
    """What stands beside a photograph: what is known at the chosen point."""
    clear_layout(side)
    side.addWidget(label(facts.title or NO_SPOT, "strong" if facts.title else "quiet", wrap=True))
    for heading, lines in facts.lines:
        if heading:
            side.addWidget(label(heading, "strong"))
        for words in lines:
            side.addWidget(label(f"· {words}" if heading else words, "", wrap=True))


def fill_side(side: QVBoxLayout, state: BoardState) -> None:
    """What stands beside the board: what it is made of, its facts, lines and changes."""
    clear_layout(side)

    def say(role: str, text: str) -> None:
        if text:
            side.addWidget(label(text, role, wrap=True))

    say("strong", "Made of" if state.blocks else "")
    for words in state.blocks:
        say("", f"· {words}")
    for title, words in state.facts:
        say("quiet", f"{title}: {words}")
    say("strong", "Look once more" if state.ask else "")
    for words in state.ask:
        say("", f"· {words[:1].upper()}{words[1:]}.")
    say("strong", "Said of its parts" if state.lines else "")
    for number, words in enumerate(state.lines, start=1):
        say("", f"{number}  {words}")
    say("strong", "Changes" if state.changes else "")
    for words in state.changes:
        say("quiet", words)
