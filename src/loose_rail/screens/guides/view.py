"""A guide in front of the stage: steps at the top, a table with numbers, one line to type in."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHeaderView, QVBoxLayout

from loose_rail.app.board_desk import OF_A_JOB
from loose_rail.app.guides.guide import Guide, GuideState
from loose_rail.app.legend import LegendState
from loose_rail.screens.legend.view import LegendView
from loose_rail.screens.set_picture.view import SetPicture
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import FrontPage
from loose_rail.screens.shared.suspects import SuspectList
from loose_rail.screens.shared.table_rows import Cell, show_rows
from loose_rail.screens.shared.widgets import WordsLine, clear_layout, label, plain_table


class GuideView(FrontPage):
    """`open_guide` brings a guide to the front; Escape goes back to the card."""

    def __init__(self, host: JobHost) -> None:
        super().__init__()
        self._host = host
        self.guide: Guide | None = None
        self._title = label(role="title", wrap=True)
        self._intro = QVBoxLayout()
        self._caution = label(role="hot", wrap=True)
        self.table = plain_table(("",), "Choices of the guide", 0)
        self.table.setWordWrap(True)
        self.entry = WordsLine("Number or words for the guide")
        self.entry.installEventFilter(self)
        self._hint = label(role="quiet", wrap=True)
        self.main.addWidget(self._title)
        self.main.addLayout(self._intro)
        self._legend = LegendView()
        self.main.addWidget(self._legend)
        self.main.addWidget(self._caution)
        self.main.addWidget(self.entry)
        self.main.addWidget(self._hint)
        self.picture = SetPicture()
        self.picture.turned.connect(self._turn)
        self.picture.tapped.connect(self._tapped)
        self.picture.left.connect(self.entry.setFocus)
        self.main.addWidget(self.picture)
        self.main.addWidget(self.table, 1)
        self.main.addStretch(0)
        self.suspects = SuspectList()
        self.side.addWidget(self.suspects)
        self.set_action("Back to the card")
        self.action.setText("Back to the card   Esc")
        self.action.clicked.disconnect()
        self.action.clicked.connect(self.left)

    def open_guide(self, key: str) -> None:
        """A guide of the registry, by its key."""
        self.guide = self._host.desks.guide(key)

    def draw_again(self) -> None:
        """Draw the guide as it stands."""
        if self.guide is None:
            return
        state = self.guide.state()
        self._title.setText(state.title)
        clear_layout(self._intro)
        for words in state.intro:
            self._intro.addWidget(label(words, wrap=True))
        self._caution.setText(state.caution)
        self._caution.setVisible(bool(state.caution))
        self._hint.setText(state.hint)
        self._legend.show_state(state.legend or LegendState("", (), ""))
        self.picture.setVisible(state.picture is not None)
        self.table.setVisible(state.picture is None)
        if state.picture is not None:
            self.picture.show_state(state.picture)
        self._show_rows(state)
        desks = self._host.desks
        self.suspects.show_state(desks.suspects_title(), desks.suspects())

    def _show_rows(self, state: GuideState) -> None:
        self.table.setColumnCount(len(state.columns))
        self.table.setHorizontalHeaderLabels(list(state.columns))
        header = self.table.horizontalHeader()
        assert header is not None
        for column in range(len(state.columns)):
            mode = QHeaderView.ResizeMode.ResizeToContents
            header.setSectionResizeMode(column, mode)
        last = len(state.columns) - 1
        header.setSectionResizeMode(max(state.stretched, 0), QHeaderView.ResizeMode.Stretch)
        if last != state.stretched and last > 2:
            header.setSectionResizeMode(last, QHeaderView.ResizeMode.Stretch)
        show_rows(self.table, [[Cell(text) for text in row] for row in state.rows])
        QTimer.singleShot(0, self.table.resizeRowsToContents)

    def _turn(self, kind: str) -> None:
        self.said.emit(self._host.desks.first.turn_answer(kind))
        self.draw_again()

    def _tapped(self, hertz: float) -> None:
        self.said.emit(self._host.desks.first.note_rate(hertz))
        self.draw_again()

    def _take(self) -> None:
        text = self.entry.text().strip()
        if not text:
            self.left.emit()
            return
        assert self.guide is not None
        if text.isdecimal():
            outcome = self.guide.choose(int(text))
        elif text.lower() in OF_A_JOB:
            outcome = self._host.desks.board.line(text)
        else:
            outcome = self.guide.enter(text)
        self.entry.answered(outcome.taken)
        self.said.emit(outcome)
        self.draw_again()
        if outcome.leaves:
            self.left.emit()

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter takes the line, Escape goes back."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take()
        elif event.key() == Qt.Key.Key_Escape:
            self.entry.clear()
            self.left.emit()
        else:
            return False
        return True

    def focus_work(self) -> None:
        """The line."""
        self.entry.setFocus()
