"""Taking in a set: six lines, what they are taken for beside them, Enter through all of them."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QGridLayout, QLineEdit

from loose_rail.app.taking_in import Form, NewJob
from loose_rail.screens.legend.view import LegendView
from loose_rail.screens.shared.page import SidedPage
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.widgets import label, set_role

FIELDS = (
    ("set_name", "Set", "name or model, as on the back"),
    ("numbers", "Board numbers", "maker's label first, then sticker and etched: A-1, B-2"),
    ("topology", "Kind of supply", "standby flyback, PFC, LLC, LED; or adapter; plasma; CCFL"),
    (
        "labels",
        "Printed labels",
        "in the order of the pins: 5VSB, GND, 12V, PS-ON; 7: 24V is pin 7",
    ),
    ("wake", "Start pin", "high, low, none; leave empty where it is not known"),
    ("complaint", "Complaint", "in the customer's words"),
    ("limit", "Spending limit", "an amount, or nothing"),
)
ONLY_UNKNOWN = ("topology", "labels", "wake")


class NewJobView(SidedPage):
    """The form for a set that comes in."""

    created = pyqtSignal(int)
    left = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.presenter: NewJob | None = None
        self.main.addWidget(label("Take in a set", "title"))
        grid = QGridLayout()
        grid.setVerticalSpacing(10)
        grid.setHorizontalSpacing(14)
        self.fields: dict[str, QLineEdit] = {}
        self._names = {}
        for row, (key, title, hint) in enumerate(FIELDS):
            field = QLineEdit()
            field.setObjectName("words")
            field.setAccessibleName(title)
            field.setPlaceholderText(hint)
            field.textChanged.connect(self._echo)
            field.installEventFilter(self)
            self._names[key] = label(title)
            grid.addWidget(self._names[key], row, 0)
            grid.addWidget(field, row, 1)
            self.fields[key] = field
        self.main.addLayout(grid)
        self._problem = label(role="bad", wrap=True)
        self.main.addWidget(self._problem)
        self._around = False
        self._keys = PageKeys("new_job", {"around": self._turn})
        self._legend = LegendView()
        self._legend_words = label(role="quiet", wrap=True)
        self.main.addWidget(self._legend)
        self.main.addWidget(self._legend_words)
        self.main.addStretch(1)
        self._board = label(wrap=True)
        self._words = label(wrap=True)
        self.side.addWidget(label("The board", "strong"))
        self.side.addWidget(self._board)
        self.side.addWidget(label("What the words say", "strong"))
        self.side.addWidget(self._words)
        self.side.addWidget(
            label(
                "No customer's name is asked for. Accessories and photographs can be added in the "
                "job; what is typed here shows at once what it was taken for.",
                "quiet",
                wrap=True,
            )
        )
        self.set_action("Take it in")
        self.went_on.connect(self._create)

    def begin(self, presenter: NewJob) -> None:
        """An empty form."""
        self.presenter = presenter
        for field in self.fields.values():
            field.clear()
        self._problem.setText("")
        self._echo()
        self.focus_work()

    def form(self) -> Form:
        """What stands in the fields."""
        return Form(**{key: field.text() for key, field in self.fields.items()})

    def _echo(self) -> None:
        if self.presenter is None:
            return
        form = self.form()
        known = self.presenter.knows(form.numbers)
        for key in ONLY_UNKNOWN:
            self.fields[key].setEnabled(not known)
            self._names[key].setEnabled(not known)
        board = self.presenter.board_echo(form)
        self._legend.show_state(self.presenter.legend(form, self._around))
        legend_words = self.presenter.legend(form, self._around).words
        self._legend_words.setText(f"{legend_words} F9 turns the counting." if legend_words else "")
        self._board.setText(board.text)
        set_role(self._board, "bad" if board.error else "good")
        self._words.setText(self.presenter.words_echo(form).text)

    def _turn(self) -> None:
        """Count the pins the other way."""
        self._around = not self._around
        self._echo()

    def _create(self) -> None:
        if self.presenter is None:
            return
        answer = self.presenter.create(self.form())
        if isinstance(answer, int):
            self.created.emit(answer)
        else:
            self._problem.setText(answer.text)

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter goes to the next line, from the last one it takes the set in; Escape leaves."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
            return True
        if self._keys.press(event):
            return True
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            open_fields = [field for field in self.fields.values() if field.isEnabled()]
            place = open_fields.index(source) if source in open_fields else 0
            if place + 1 < len(open_fields):
                open_fields[place + 1].setFocus()
            else:
                self._create()
            return True
        return super().eventFilter(source, event)

    def focus_work(self) -> None:
        """The first line."""
        self.fields["set_name"].setFocus()
