"""Take in: the customer's words, how they were understood, the checks before opening."""

from __future__ import annotations

from functools import partial
from html import escape

from PyQt6.QtCore import QEvent, QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QApplication,
    QGridLayout,
    QHBoxLayout,
    QListWidget,
    QVBoxLayout,
    QWidget,
)

from loose_rail.app.outcome import Echo
from loose_rail.screens.set_picture.view import SetPicture
from loose_rail.screens.shared.board_shares import BoardShares
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import SidedPage
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.suspects import SuspectList
from loose_rail.screens.shared.widgets import WordsLine, button, clear_layout, label, set_role
from loose_rail.screens.take_in.papers_view import PapersPanel
from loose_rail.screens.take_in.state import IntakeState

CHECKS = 4
"""Answers that have a key of their own."""

ONE_LINE_WIDTH = 1130
"""Pixels of the page from which both checks stand beside each other."""


class IntakeView(SidedPage):
    """The take-in page; the entry line takes the customer's words."""

    typed = pyqtSignal(str)
    confirmed = pyqtSignal(str)
    dropped = pyqtSignal(str)
    checked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._set = label(role="title")
        self._board = label(role="quiet", wrap=True)
        self._complaint = label(role="strong", wrap=True)
        self._complaint.setTextFormat(Qt.TextFormat.RichText)
        self.picture = SetPicture()
        self.picture.left.connect(lambda: self.entry.setFocus())
        self.entry = WordsLine(
            "More in the customer's words",
            "More in the customer's words: what it does, when it began",
        )
        self.entry.textChanged.connect(self.typed)
        self.entry.installEventFilter(self)
        self._echo = label(wrap=True)
        self._noted_title = label("Counts as evidence", "strong")
        self.noted = QListWidget()
        self.noted.setAccessibleName("Counts as evidence; Delete takes one back")
        self.noted.setMinimumHeight(44)
        self.noted.setWordWrap(True)
        self.noted.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.noted.installEventFilter(self)
        self._keys: tuple[str, ...] = ()
        checks = {f"check:{k}": partial(self._answer, k) for k in range(CHECKS)}
        self._page_keys = PageKeys(
            "take_in", {"papers": self.turn_papers, "timer": self.start_timer, **checks}
        )
        self._checks = QGridLayout()
        self._check_keys: tuple[str, ...] = ()
        self._state: IntakeState | None = None
        self._reset_seconds = self._seconds_left = 0
        self._timed = False
        self._timer = QTimer(self)
        self._timer.setInterval(1000)
        self._timer.timeout.connect(self._tick)
        self._notes = QVBoxLayout()
        self.note = button("Write a note", "Ctrl+N")
        head = QHBoxLayout()
        head.addWidget(self._set)
        head.addWidget(self._board, 1)
        self.main.addLayout(head)
        for widget in (self._complaint, self.entry, self._echo):
            self.main.addWidget(widget)
        self._before = QWidget()
        before = QVBoxLayout(self._before)
        before.setContentsMargins(0, 0, 0, 0)
        before.addLayout(self._checks)
        self.main.addWidget(self._before)
        self.papers = PapersPanel()
        self.papers.left.connect(self.show_evidence)
        self._evidence = QWidget()
        column = QVBoxLayout(self._evidence)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.picture, 1)
        column.addLayout(self._notes)
        self.papers.hide()
        self.main.addWidget(self._evidence, 1)
        self.main.addWidget(self.papers, 1)
        row = QHBoxLayout()
        row.addWidget(self.note)
        row.addWidget(self._page_keys.button("papers"))
        row.addStretch(1)
        self.main.addLayout(row)
        self._boards = BoardShares()
        self._suspects = SuspectList()
        self._suspects.setMinimumHeight(64)
        self._worth = QVBoxLayout()
        self.side.addWidget(label("Which board, as it stands", "strong"))
        self.side.addWidget(self._boards)
        self.side.addWidget(label("Worth opening?", "strong"))
        self.side.addLayout(self._worth)
        self.side.addWidget(self._noted_title)
        self.side.addWidget(self.noted)
        self.side.addWidget(self._suspects)

    def attach(self, host: JobHost) -> None:
        """Words, checks and papers lead to the job's commands."""
        first = host.desks.first
        self.went_on.connect(host.go_on)
        self.note.clicked.connect(host.paper.write_note)
        self.typed.connect(lambda text: self.show_echo(first.words_echo(text)))
        self.confirmed.connect(lambda text: self._confirm(host, text))
        self.dropped.connect(lambda key: host.tell(first.drop_noted(key)))
        self.papers.noted.connect(lambda key, text: _note_detail(host, key, text))
        self.papers.order_asked.connect(lambda: host.tell(first.order_by_next()))
        self.papers.copied.connect(lambda: host.say("The text for a seller is copied."))
        self.picture.turned.connect(lambda kind: host.tell(first.turn_answer(kind)))
        self.picture.tapped.connect(lambda hertz: host.tell(first.note_rate(hertz)))
        self.checked.connect(lambda fact: host.tell(first.answer_check(fact)))

    def _confirm(self, host: JobHost, text: str) -> None:
        outcome = host.desks.first.confirm_words(text)
        if outcome.taken:
            self.entry.clear()
        host.tell(outcome)
        self.typed.emit(self.entry.text())

    def show_state(self, state: IntakeState) -> None:
        """Draw the page; what is being typed stays."""
        self._set.setText(state.set_text)
        self._board.setText(f"Board {state.board_text}")
        self._complaint.setText(f"“{_underlined(state.complaint)}”")
        self.picture.show_state(state.picture)
        self._state = state
        self._show_checks(state)
        self._show_noted(state)
        clear_layout(self._notes)
        for at, words in state.notes:
            self._notes.addWidget(
                label(f"{at}  {words}".strip(), "quiet" if at else "strong", wrap=True)
            )
        self.papers.show_state(state.papers)
        self._reset_seconds = state.reset_seconds
        self._boards.show_state(state.boards)
        clear_layout(self._worth)
        for words in state.worth or ("Working out the predictions.",):
            self._worth.addWidget(label(words, wrap=True))
        self._suspects.show_state("Leading suspects", state.suspects)
        self.set_action(state.action)
        self.typed.emit(self.entry.text())  # what is known may have changed

    def _show_checks(self, state: IntakeState) -> None:
        clear_layout(self._checks)
        keys: list[str] = []
        for row, check in enumerate(state.checks):
            line, first = (0, 3 * row) if self._wide else (row, 0)
            self._checks.addWidget(label(check.title), line, first)
            for column, (key, words) in enumerate(check.options, start=first + 1):
                chosen = key == check.chosen
                made = self._page_keys.button(
                    f"check:{len(keys)}", f"{words} ✓" if chosen else words
                )
                set_role(made, "chosen" if chosen else "")
                made.setAccessibleName(f"{check.title}: {words}")
                self._checks.addWidget(made, line, column)
                keys.append(key)
        self._check_keys = tuple(keys)
        self._timer_button = self._page_keys.button("timer")
        self._show_timer()
        last = len(state.checks)
        place = (0, 3 * last) if self._wide else (max(last - 1, 0), 3)
        self._checks.addWidget(self._timer_button, *place)

    @property
    def _wide(self) -> bool:
        """Whether both checks stand in one line."""
        return self.width() >= ONE_LINE_WIDTH

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The checks take one line or two."""
        super().resizeEvent(event)
        before = event.oldSize().width() if event is not None else 0
        if self._state is not None and (before >= ONE_LINE_WIDTH) != self._wide:
            self._show_checks(self._state)

    def _answer(self, number: int) -> None:
        """A check is answered by its place on the page."""
        if number < len(self._check_keys):
            self.checked.emit(self._check_keys[number])

    def start_timer(self) -> None:
        """Count the 30 s down; again to stop."""
        self._seconds_left = 0 if self._timer.isActive() else self._reset_seconds
        self._timer.start() if self._seconds_left else self._timer.stop()
        self._show_timer()

    def _tick(self) -> None:
        self._seconds_left -= 1
        if self._seconds_left <= 0:
            self._timer.stop()
            QApplication.beep()
        self._show_timer()

    def _show_timer(self) -> None:
        if self._timer.isActive():
            words = f"{self._seconds_left} s left"
        elif self._seconds_left < 0 or (self._timed and self._seconds_left == 0):
            words = "30 s are over: try"
        else:
            words = "Time it"
        self._timed = self._timer.isActive() or self._timed
        self._timer_button.setText(f"{words}   F9")
        self._timer_button.setAccessibleName(words)

    def turn_papers(self) -> None:
        """The paperwork in place of the evidence, and again."""
        if self.papers.isVisible():
            self.show_evidence()
        else:
            self._before.hide()
            self._evidence.hide()
            self.papers.show()
            self.papers.focus_work()

    def show_evidence(self) -> None:
        """Back to what counts as evidence."""
        self.papers.hide()
        self._before.show()
        self._evidence.show()
        self.entry.setFocus()

    def _show_noted(self, state: IntakeState) -> None:
        row = self.noted.currentRow()
        self._keys = tuple(item.key for item in state.noted)
        self.noted.clear()
        for item in state.noted:
            rests = f"“{item.rests_on}” → " if item.rests_on else ""
            self.noted.addItem(f"{rests}{item.words}\n      {item.reason}")
        if self._keys and self.noted.hasFocus():
            self.noted.setCurrentRow(min(max(row, 0), len(self._keys) - 1))
        elif not self._keys:
            self.noted.addItem("Nothing yet: type what the customer says; Enter takes it over.")

    def show_echo(self, echo: Echo) -> None:
        """The mapping of what is typed."""
        self._echo.setText(echo.text)
        set_role(self._echo, "quiet" if echo.error else "good")

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter confirms words or goes on; F5 to F8 answer the checks; Delete takes back."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        if self._page_keys.press(event):
            return True
        if source is self.entry:
            return self._entry_key(event)
        if source is self.noted and event.key() in (Qt.Key.Key_Escape, Qt.Key.Key_Return):
            self.noted.clearSelection()
            self.entry.setFocus()
            return True
        if source is self.noted and event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            if 0 <= self.noted.currentRow() < len(self._keys):
                self.dropped.emit(self._keys[self.noted.currentRow()])
            return True
        return super().eventFilter(source, event)

    def _entry_key(self, event: QKeyEvent) -> bool:
        text = self.entry.text()
        if event.text() == "+" and not text:
            self.confirmed.emit("")
            return True
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.confirmed.emit(text) if text.strip() else self.went_on.emit()
            return True
        if event.key() == Qt.Key.Key_Down and self._keys:
            self.noted.setFocus()
            self.noted.setCurrentRow(0)
            return True
        return False

    def focus_work(self) -> None:
        """The entry line."""
        self.entry.setFocus()


def _underlined(pieces: tuple[tuple[str, bool], ...]) -> str:
    """Words as rich text, what was understood underlined; what people type is shown as text."""
    return "".join(f"<u>{escape(text)}</u>" if known else escape(text) for text, known in pieces)


def _note_detail(host: JobHost, key: str, text: str) -> None:
    outcome = host.desks.first.note_detail(key, text)
    if outcome.text:
        host.tell(outcome)
