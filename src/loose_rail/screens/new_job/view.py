"""Taking in a set: what is seen of its board, its printed pins, and what they are taken for."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QGridLayout, QLineEdit, QWidget

from loose_rail.app.own_boards import BoardEcho, turned
from loose_rail.app.taking_in import Form, NewJob
from loose_rail.screens.legend.view import LegendView
from loose_rail.screens.new_job.pinouts import PinoutLines
from loose_rail.screens.new_job.tiles import SeenTiles
from loose_rail.screens.shared.page import SidedPage
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.widgets import clear_layout, label

FIELDS = (
    ("set_name", "Set", "name or model, kind and size: Fernlea 43, LED TV 43 inch"),
    ("numbers", "Board numbers", "maker's label first, then sticker and etched: A-1, B-2"),
    ("seen", "Seen on it, 1 to 9", ""),
    ("kind", "More of it", "in words: LED driver 96 V, 3 strings, switch inside the chip"),
    ("connectors", "Printed pins", "CN8/2: 24V, 24V, GND, GND, 12V, 5VSB, PS-ON\n7: GND is pin 7"),
    ("wake", "Start pin", "high, low, none; leave empty where it is not known"),
    ("complaint", "Complaint", "in the customer's words"),
    ("limit", "Spending limit", "an amount, or nothing"),
)
ONLY_UNKNOWN = ("seen", "kind", "connectors", "wake")
WORDS_ABOUT_IT = (
    "No customer's name is asked for. Accessories and photographs can be added in the job; what is "
    "typed here can be mended in it."
)


class NewJobView(SidedPage):
    """The form for a set that comes in."""

    created = pyqtSignal(int)
    left = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.presenter: NewJob | None = None
        self.main.addWidget(label("Take in a set", "title"))
        grid = QGridLayout()
        grid.setVerticalSpacing(8)
        grid.setHorizontalSpacing(14)
        self.tiles = SeenTiles()
        self.fields: dict[str, QLineEdit | PinoutLines] = {}
        self._order: list[QWidget] = []
        self._names = {}
        for row, (key, title, hint) in enumerate(FIELDS):
            self._names[key] = label(title)
            grid.addWidget(self._names[key], row, 0)
            grid.addWidget(self._field(key, title, hint), row, 1)
        self.tiles.changed.connect(self._echo)
        self.main.addLayout(grid)
        self._problem = label(role="bad", wrap=True)
        self.main.addWidget(self._problem)
        self._keys = PageKeys("new_job", {"around": self._turn})
        self._legend = LegendView()
        self._legend_words = label(role="quiet", wrap=True)
        self.main.addWidget(self._legend)
        self.main.addWidget(self._legend_words)
        self.main.addStretch(1)
        self.set_action("Take it in")
        self.went_on.connect(self._create)

    def _field(self, key: str, title: str, hint: str) -> QWidget:
        if key == "seen":
            made: QWidget = self.tiles
        else:
            line: QLineEdit | PinoutLines = PinoutLines() if key == "connectors" else QLineEdit()
            line.setPlaceholderText(hint)
            line.textChanged.connect(self._echo)
            line.cursorPositionChanged.connect(self._echo_legend)
            self.fields[key] = line
            made = line
            made.setObjectName("words")
            made.setAccessibleName(title)
        made.installEventFilter(self)
        self._order.append(made)
        return made

    def begin(self, presenter: NewJob) -> None:
        """An empty form."""
        self.presenter = presenter
        for field in self.fields.values():
            field.clear()
        self.tiles.clear()
        self._problem.setText("")
        self._echo()
        self.focus_work()

    def form(self) -> Form:
        """What stands in the fields."""
        words = {key: field.text() for key, field in self.fields.items()}
        return Form(
            set_name=words["set_name"],
            numbers=words["numbers"],
            kind=words["kind"],
            connectors=words["connectors"],
            wake=words["wake"],
            complaint=words["complaint"],
            limit=words["limit"],
            seen=self.tiles.chosen,
        )

    def _echo(self) -> None:
        """Say what the fields are taken for now."""
        if self.presenter is None:
            return
        form = self.form()
        known = self.presenter.knows(form.numbers)
        for key in ONLY_UNKNOWN:
            (self.tiles if key == "seen" else self.fields[key]).setEnabled(not known)
            self._names[key].setEnabled(not known)
        board = self.presenter.board_echo(form)
        started = bool(form.seen or form.kind.strip() or form.connectors.strip())
        own = self.presenter.own_echo(form) if started and not known else BoardEcho()
        clear_layout(self.side)
        self._say("strong", "The board")
        self._say("bad" if board.error else "good" if known else "", board.text)
        self._say("bad", own.problem)
        for block in own.blocks:
            self._say("", f"· {block}")
        for words in own.assumed:
            self._say("quiet", f"Assumed: {words}.")
        if own.unknown:
            self._say(
                "doubtful",
                f"Says nothing here: {'; '.join(own.unknown)}. No instruction will name it.",
            )
        if own.ask:
            self._say("strong", "Look once more")
        for words in own.ask:
            self._say("", f"· {words[:1].upper()}{words[1:]}.")
        self._say("strong", "What the words say")
        self._say("", self.presenter.words_echo(form).text)
        self._say("quiet", WORDS_ABOUT_IT)
        self._echo_legend()

    def _say(self, role: str, text: str) -> None:
        if text:
            self.side.addWidget(label(text, role, wrap=True))

    def _echo_legend(self) -> None:
        """Draw the connector on whose line the cursor stands."""
        if self.presenter is None:
            return
        lines = self.fields["connectors"]
        assert isinstance(lines, PinoutLines)
        legend = self.presenter.legend(self.form(), lines.line)
        self._legend.show_state(legend)
        turns = " F9 turns the counting." if legend.words and lines.isEnabled() else ""
        self._legend_words.setText(f"{legend.words}{turns}")

    def _turn(self) -> None:
        """Count the pins of this connector the other way."""
        lines = self.fields["connectors"]
        assert isinstance(lines, PinoutLines)
        line = lines.line
        lines.setText(turned(lines.text(), line))
        cursor = lines.textCursor()
        cursor.movePosition(cursor.MoveOperation.Start)
        cursor.movePosition(cursor.MoveOperation.Down, n=line)
        cursor.movePosition(cursor.MoveOperation.EndOfLine)
        lines.setTextCursor(cursor)

    def _create(self) -> None:
        if self.presenter is None:
            return
        answer = self.presenter.create(self.form())
        if isinstance(answer, int):
            self.created.emit(answer)
        else:
            self._problem.setText(answer.text)

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter goes to the next line, from the last one it takes the set in; among the printed
        pins it opens one line more, until one is left empty. Escape leaves."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
            return True
        if self._keys.press(event):
            return True
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if isinstance(source, PinoutLines) and not source.at_empty_line:
                return super().eventFilter(source, event)
            self._go_on(source)
            return True
        return super().eventFilter(source, event)

    def _go_on(self, source: QObject | None) -> None:
        open_fields = [field for field in self._order if field.isEnabled()]
        place = open_fields.index(source) if source in open_fields else 0
        if place + 1 < len(open_fields):
            open_fields[place + 1].setFocus()
        else:
            self._create()

    def focus_work(self) -> None:
        """The first line."""
        self.fields["set_name"].setFocus()
