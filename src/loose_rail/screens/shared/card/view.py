"""The next-probe card: the biggest thing on the screen, with the entry line."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QProgressBar,
    QVBoxLayout,
    QWidget,
)

from loose_rail.app.outcome import Echo
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.card.state import CardState
from loose_rail.screens.shared.keys import keys_of
from loose_rail.screens.shared.widgets import button, label, set_role
from loose_rail.vocabulary.phase import Phase

HELD = {
    "state": "confirm the board state first (B)",
    "acknowledge": "read it, then B",
}
LONGEST_NUMBER = 14
"""Letters that fit the line in its large size: “0.6..3.9@1.1Hz”."""
SEEN = (Phase.LAMP, Phase.LIGHT)
"""Phases in which eyes answer, with a number."""
CONFIRMED = (Phase.STATE, Phase.ACKNOWLEDGE)
"""Phases that B answers."""
LETTERS: dict[int, str] = {
    QKeySequence(key.sequence)[0].key().value: key.action
    for key in keys_of("bench")
    if key.action not in ("enter", "name_part")
}
"""What the single keys do at the empty line."""


class EntryLine(QLineEdit):
    """The entry line. With nothing typed, the single keys of the bench act at once.

    B confirms the state only while a state is asked for; otherwise it starts the word beep.
    """

    commanded = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("entry")
        self.setAccessibleName("Reading")
        self.asks_for_state = False
        self.textChanged.connect(self._fit)

    def _fit(self, text: str) -> None:
        """A number stands large; a course in words, or a number with its print, is read whole,
        smaller."""
        words = len(text) > LONGEST_NUMBER or len(text.split()) > 2
        set_role(self, "words" if words else "number", "length")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Single keys first, then ordinary typing."""
        assert event is not None
        plain = event.modifiers() in (
            Qt.KeyboardModifier.NoModifier,
            Qt.KeyboardModifier.KeypadModifier,
        )
        command = LETTERS.get(event.key(), "")
        acts = bool(command) and (command != "confirm" or self.asks_for_state)
        if plain and acts and not self.text():
            self.commanded.emit(command)
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.commanded.emit("enter")
            return
        super().keyPressEvent(event)

    def event(self, event: QEvent | None) -> bool:
        """Leave Ctrl+Z to the job: undo takes the last reading back, not the last letter."""
        if event is not None and event.type() == QEvent.Type.ShortcutOverride:
            assert isinstance(event, QKeyEvent)
            if event.modifiers() & Qt.KeyboardModifier.ControlModifier and not self.text():
                event.ignore()
                return False
        return super().event(event)


class Leads(QWidget):
    """Where red and black go, and what the meter is set to. Its labels stay: to make them anew for
    every card took five passes over the page."""

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        self._swatches = {"disagrees": QLabel(), "ink": QLabel()}
        self._words = [label(), label()]
        for swatch, words in zip(self._swatches.values(), self._words, strict=True):
            swatch.setFixedSize(18, 6)
            row = QHBoxLayout()
            row.setSpacing(8)
            row.addWidget(swatch)
            row.addWidget(words, 1)
            column.addLayout(row)
        self._setting = label(role="quiet")
        column.addWidget(self._setting)
        self._theme = ""

    def show_leads(self, red: str, black: str, setting: str) -> None:
        """Show them; nothing where no reading is asked for."""
        self.setVisible(bool(red))
        for shown, words in zip(self._words, (red, black), strict=True):
            shown.setText(words)
        self._setting.setText(setting)
        used = theme.current()
        if self._theme != used.name:
            self._theme = used.name
            for role, swatch in self._swatches.items():
                colour = getattr(used, role)
                swatch.setStyleSheet(f"background: {colour}; border-radius: 3px;")


class NextProbeCard(QFrame):
    """Draws a `CardState` and takes the entry; every key it gets is passed on as a command."""

    commanded = pyqtSignal(str)
    typed = pyqtSignal(str)
    other_chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("card")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 12, 18, 12)
        layout.setSpacing(6)
        self._header = label(role="quiet")
        self._title = label(role="title", wrap=True)
        layout.addWidget(self._header)
        layout.addWidget(self._title)
        self._leads = Leads()
        layout.addWidget(self._leads)
        self._todo = label(role="strong", wrap=True)
        self._caution = label(role="hot", wrap=True)
        layout.addWidget(self._todo)
        layout.addWidget(self._caution)
        layout.addWidget(self._entry_frame())
        self._echo = label(wrap=True)
        self._echo.setMinimumHeight(18)
        layout.addWidget(self._echo)
        self._why = label(wrap=True)
        layout.addWidget(self._why)
        self._branch = label(role="quiet", wrap=True)
        self._branch.setAccessibleName("Where the reading leads")
        layout.addWidget(self._branch)
        self._progress = QProgressBar()
        self._progress.setTextVisible(False)
        self._progress.setRange(0, 100)
        layout.addWidget(self._progress)
        layout.addLayout(self._buttons())
        self._others = QListWidget()
        self._others.setAccessibleName("Other probes")
        self._others.setMaximumHeight(190)
        self._others.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._others.hide()
        self._others.installEventFilter(self)
        self._other_keys: tuple[str, ...] = ()
        self._state = CardState(Phase.WAITING, "", "")
        layout.addWidget(self._others)

    def _entry_frame(self) -> QWidget:
        self._frame = QFrame()
        self._frame.setObjectName("entryFrame")
        row = QHBoxLayout(self._frame)
        row.setContentsMargins(12, 4, 10, 4)
        self.entry = EntryLine()
        self.entry.setMinimumWidth(150)
        self.entry.commanded.connect(self._command)
        self.entry.textChanged.connect(self.typed)
        row.addWidget(self.entry, 1)
        self._unit = label(role="title")
        row.addWidget(self._unit)
        column = QVBoxLayout()
        column.setSpacing(0)
        self._expect = label(role="quiet")
        self._replace = label(role="quiet")
        for item in (self._expect, self._replace):
            item.setAlignment(Qt.AlignmentFlag.AlignRight)
            column.addWidget(item)
        row.addLayout(column)
        return self._frame

    def _buttons(self) -> QVBoxLayout:
        """What is done most in the first row, the ways out in the second."""
        self._action = button("Take reading", "Enter", "action")
        self._meter = button("Meter", "Space")
        self._skip = button("Can't reach", "N")
        self._other = button("Other probe", "O")
        self._action.clicked.connect(lambda: self._command("go"))
        self._meter.clicked.connect(lambda: self.commanded.emit("meter"))
        self._skip.clicked.connect(lambda: self.commanded.emit("skip"))
        self._other.clicked.connect(lambda: self.commanded.emit("other"))
        rows = QVBoxLayout()
        rows.setSpacing(8)
        for items in ((self._action, self._meter), (self._skip, self._other)):
            row = QHBoxLayout()
            row.setSpacing(8)
            for item in items:
                row.addWidget(item, 1)
            rows.addLayout(row)
        return rows

    # ---- state -----------------------------------------------------------------------------

    def spoken(self) -> str:
        """The card in a sentence for the ear: what, where red, where black, which setting."""
        state = self._state
        parts = (state.title, state.red, state.black, state.setting)
        return ". ".join(part for part in parts if part)

    @property
    def words_asked(self) -> str:
        """What is expected, and of what."""
        return f"{self._state.expect} · {self._state.title} · {self._state.setting}"

    @property
    def phase(self) -> str:
        """What the card asks for now."""
        return self._state.phase

    def show_state(self, state: CardState, has_meter: bool) -> None:
        """Draw another card. What is being typed stays while the card asks for the same thing."""
        self._state = state
        asks = state.phase in (Phase.READING, Phase.RESERVOIR, *SEEN)
        self._header.setText(state.header)
        self._title.setText(state.title)
        set_role(self._header, "alarm" if state.alarm else "quiet")
        set_role(self._title, "alarmTitle" if state.alarm else "title")
        self._leads.show_leads(state.red, state.black, state.setting)
        self._todo.setText(_todo_text(state))
        self._todo.setVisible(bool(state.todo))
        self._caution.setText(state.caution)
        self._caution.setVisible(bool(state.caution))
        self._frame.setVisible(state.phase not in (Phase.NOTHING, Phase.WAITING, Phase.FAILED))
        set_role(self._frame, "false" if asks else "true", "held")
        self.entry.asks_for_state = state.phase in CONFIRMED
        self.entry.setReadOnly(not asks)
        self._unit.setText(state.unit if asks else "")
        self._expect.setText(state.expect if asks else HELD.get(state.phase, ""))
        self._replace.setText(state.replace if asks else state.expect)
        self._why.setText(state.why)
        branch = state.branch if state.phase is Phase.READING else ()
        self._branch.setText("\n".join(branch))
        self._branch.setVisible(bool(branch))
        self._show_buttons(state, asks, has_meter)
        self._progress.setVisible(state.phase is Phase.WAITING)

    def _show_buttons(self, state: CardState, asks: bool, has_meter: bool) -> None:
        key = "B" if state.phase in CONFIRMED else "Enter"
        self._action.setText(f"{state.action}   {key}" if state.action else "")
        self._action.setAccessibleName(state.action)
        self._action.setVisible(bool(state.action))
        self._meter.setVisible(asks and has_meter and state.phase not in SEEN)
        self._skip.setVisible(state.phase in (Phase.READING, Phase.STATE))
        offers = state.phase in (Phase.READING, Phase.STATE, Phase.NOTHING)
        self._other.setVisible(offers and not state.alarm)

    def show_echo(self, echo: Echo) -> None:
        """What was understood so far."""
        self._unit.setVisible(bool(self.entry.text()) or not self.entry.placeholderText())
        self._echo.setText(echo.text)
        set_role(self._echo, "bad" if echo.error else "good")

    def show_progress(self, share: float, words: str) -> None:
        """How far the predictions are."""
        self._progress.setValue(round(100 * share))
        self._why.setText(words)

    def show_measuring(self, words: str) -> None:
        """The meter is being read."""
        self._echo.setText(words)
        set_role(self._echo, "quiet")

    def show_live(self, reading: str, words: str) -> None:
        """What the live meter shows stands in the empty entry line."""
        self.entry.setPlaceholderText(reading)
        self._unit.setVisible(not reading or bool(self.entry.text()))
        if not self.entry.text():
            self._echo.setText(words)
            set_role(self._echo, "quiet")

    def clear_entry(self) -> None:
        """The reading was taken."""
        self.entry.clear()

    def offer_others(self, others: tuple[tuple[str, str], ...]) -> None:
        """List other probes; 1 to 9 or Enter choose, L goes on to type OL, Escape closes."""
        self._others.clear()
        self._other_keys = tuple(key for key, _ in others)
        for number, (_, words) in enumerate(others, start=1):
            self._others.addItem(f"{number}  {words}")
        self._others.setCurrentRow(0)
        self._others.show()
        self._others.setFocus()

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Keys of the list of other probes."""
        if (
            source is self._others
            and isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.KeyPress
        ):
            return self._other_key(event)
        return super().eventFilter(source, event)

    def _other_key(self, event: QKeyEvent) -> bool:
        number = event.key() - Qt.Key.Key_1
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            number = self._others.currentRow()
        if 0 <= number < len(self._other_keys):
            self._close_others()
            self.other_chosen.emit(self._other_keys[number])
            return True
        if event.key() in (Qt.Key.Key_Escape, Qt.Key.Key_L):
            self._close_others()
            if event.key() == Qt.Key.Key_L:
                self.entry.setText("OL")
            return True
        return False

    def _close_others(self) -> None:
        self._others.hide()
        self.entry.setFocus()

    def _command(self, command: str) -> None:
        if command == "go":
            command = "confirm" if self._state.phase in CONFIRMED else "enter"
        self.commanded.emit(command)


def _todo_text(state: CardState) -> str:
    """What comes first, as a sentence; a list of answers stays as it is."""
    if not state.todo or state.phase in SEEN:
        return "\n".join(state.todo)
    first = "" if state.phase is Phase.ACKNOWLEDGE else "First: "
    return f"{first}{'; '.join(state.todo)}."
