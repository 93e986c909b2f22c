"""The meters page: search the ports, type an address, make one A and one B, sounds, foot switch."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QListWidget, QProgressBar, QVBoxLayout

from loose_rail.app.meters import Found, MeterDesk
from loose_rail.app.outcome import Kind, Outcome
from loose_rail.app.settings import CHOICES, Choice
from loose_rail.screens.area_page import AreaPage
from loose_rail.screens.meters.present import meters_state
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.sounds import Sounds
from loose_rail.screens.shared.widgets import WordsLine, button, clear_layout, label, set_role
from loose_rail.screens.workplace import Workplace

TAKEN = (
    *("Return", "Enter", "Space", "Tab", "Backspace", "Del", "Left", "Right", "Up", "Down"),
    *(f"F{k}" for k in (1, 2, 3, 4, 5, 6, 7, 8, 9, 11, 12)),
)
"""Keys that typing and the pages need: a foot switch can't have them."""

CAUTION = (
    "A bench meter stands on earth: on the hot side use it only behind an isolation transformer, "
    "with leads rated for the mains, and never on inverter or lamp leads."
)


class MetersView(AreaPage):
    """Searching runs on a worker thread."""

    def __init__(self, dispatcher: Dispatcher) -> None:
        super().__init__()
        self._given: MeterDesk | None = None
        self._dispatcher = dispatcher
        self._can_speak = False
        self._learns_foot = False
        self.main.addWidget(label("Meters", "title"))
        self.entry = WordsLine(
            "Address of a meter", "host:port, /dev/ttyUSB0 or a VISA address; Enter asks it"
        )
        self.entry.installEventFilter(self)
        self.main.addWidget(self.entry)
        self._notice = label(wrap=True)
        self._busy = QProgressBar()
        self._busy.setRange(0, 0)
        self._busy.setTextVisible(False)
        self._busy.hide()
        self.main.addWidget(self._notice)
        self.main.addWidget(self._busy)
        self.rows = QListWidget()
        self.rows.setAccessibleName("Places where a meter may be")
        self.rows.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.main.addWidget(self.rows, 1)
        self.main.addWidget(label(CAUTION, "hot", wrap=True))
        self._facts = QVBoxLayout()
        self.side.addLayout(self._facts)
        self._keys = PageKeys(
            "meters",
            {
                "search": self.search,
                "meter": lambda: self._choose("meter"),
                "second_meter": lambda: self._choose("second_meter"),
                **{one.setting: partial(self._turn, one) for one in CHOICES},
            },
        )
        self._buttons = {}
        for action in ("search", "meter", "second_meter", *(one.setting for one in CHOICES)):
            self._buttons[action] = self._keys.button(action)
            self.side.addWidget(self._buttons[action])
        self._foot = button("Foot switch")
        self._foot.clicked.connect(self.learn_foot)
        self._foot.installEventFilter(self)
        self.side.addWidget(self._foot)
        self.set_action("Done")
        self.action.setText("Done   Esc")
        self.action.clicked.disconnect()
        self.action.clicked.connect(self.left)

    @property
    def desk(self) -> MeterDesk:
        """What is worked with; there from `begin` on."""
        assert self._given is not None
        return self._given

    def begin(self, workplace: Workplace) -> None:
        """The page comes to the front."""
        self._given, self._can_speak = workplace.meter_desk(), Sounds().can_speak
        self._say(Outcome("F5 searches serial and USB ports; network meters are typed once."))
        self.draw()
        self.focus_work()

    def draw(self) -> None:
        """Draw the places and the choices."""
        state = meters_state(self.desk, self._can_speak)
        row = max(0, self.rows.currentRow())
        self.rows.clear()
        for item in state.rows:
            mark = f"   · meter {item.role}" if item.role else ""
            self.rows.addItem(f"{item.address}{mark}\n      {item.words}")
        if state.rows:
            self.rows.setCurrentRow(min(row, len(state.rows) - 1))
        clear_layout(self._facts)
        for words, address in state.chosen:
            self._facts.addWidget(label(f"Meter {words}", "strong"))
            self._facts.addWidget(label(address, wrap=True))
        self._facts.addWidget(label(f"Profiles: {', '.join(state.profiles)}", "quiet", wrap=True))
        if state.speech_words:
            self._facts.addWidget(label(state.speech_words, "quiet", wrap=True))
        for one in CHOICES:
            made = self._buttons[one.setting]
            made.setText(f"{state.choices[one.setting]}   {one.key}")
            made.setAccessibleName(made.text())
        words = "Press the foot switch now" if self._learns_foot else "Foot switch sends"
        self._foot.setText(words if self._learns_foot else f"{words} {state.foot_key}: change")
        self._foot.setAccessibleName(self._foot.text())

    def _say(self, notice: Outcome) -> None:
        set_role(self._notice, "" if notice.kind is Kind.DONE else "bad")
        self._notice.setText(notice.text)

    # ---- doing -----------------------------------------------------------------------------

    def search(self) -> None:
        """Ask every port."""
        self._run(lambda task: self.desk.search(), "Asking every port, a second or two each …")

    def _ask(self, text: str) -> None:
        self._run(lambda task: self.desk.ask(text), f"Asking {text} …")

    def _run(self, work: Callable[[object], list[Found]], words: str) -> None:
        self._say(Outcome(words))
        self._busy.show()

        def done(found: list[Found]) -> None:
            self._busy.hide()
            self._say(self.desk.keep(found))
            self.draw()

        def failed(error: Exception) -> None:
            self._busy.hide()
            self._say(Outcome.refused(getattr(error, "one_line", lambda: str(error))()))

        self._dispatcher.run(work, done, failed)

    def _choose(self, role: str) -> None:
        self._say(self.desk.choose(self.rows.currentRow(), role))
        self.draw()

    def _turn(self, choice: Choice) -> None:
        self._say(self.desk.turn(choice))
        self.draw()

    def learn_foot(self) -> None:
        """The next key is the foot switch's."""
        self._learns_foot = True
        self.draw()
        self.entry.setFocus()

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Keys of the page."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        key = event.key()
        if self._learns_foot:
            return self._learn(key)
        if self._keys.press(event):
            return True
        if key == Qt.Key.Key_Escape:
            self.left.emit()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and source is self.entry:
            text = self.entry.text().strip()
            self._ask(text) if text else self.left.emit()
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            step = 1 if key == Qt.Key.Key_Down else -1
            row = min(max(self.rows.currentRow() + step, 0), self.rows.count() - 1)
            self.rows.setCurrentRow(row)
        else:
            return False
        return True

    def _learn(self, key: int) -> bool:
        name = QKeySequence(key).toString()
        if key in (Qt.Key.Key_Shift, Qt.Key.Key_Control, Qt.Key.Key_Alt, Qt.Key.Key_Meta):
            return True
        self._learns_foot = False
        if key != Qt.Key.Key_Escape:
            if len(name) == 1 or name in TAKEN:
                words = (
                    f"{name} is needed for typing: set the switch to a key such as F10 or Pause."
                )
                self._say(Outcome.refused(words))
            else:
                self._say(self.desk.set_foot(name))
                self.settings_changed.emit()
        self.draw()
        return True

    def focus_work(self) -> None:
        """The address line."""
        self.entry.setFocus()
