"""The stores: what there is at the left, a line a part; what the open job needs at the right."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHeaderView, QTableWidget, QVBoxLayout

from loose_rail.app.outcome import Kind, Outcome
from loose_rail.app.report_file import write_report
from loose_rail.app.session import JobSession
from loose_rail.app.stores.desk import StoresDesk
from loose_rail.kernel.errors import LooseRailError
from loose_rail.kernel.files import LARGEST_BOARD, read_bounded, write_durably
from loose_rail.screens.area_page import AreaPage
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shared.files import to_open, to_save
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.paper import write_pdf
from loose_rail.screens.shared.table_rows import Cell, show_rows
from loose_rail.screens.shared.widgets import WordsLine, clear_layout, label, set_role
from loose_rail.screens.stores.present import stores_state
from loose_rail.screens.workplace import Workplace

HEADS = ("", "what", "count", "where", "price")
HINT = "12x 1000u 16V 105C low-esr @A3 =0.40 · from North: … =0.35 · -3 · /C21 finds"
TABLE = "CSV (*.csv)"
ORDERS = "PDF (*.pdf);;Web page (*.html);;CSV (*.csv)"
MOST_UNDER_WAY = 6
"""Lines that stand beside the list."""


class StoresView(AreaPage):
    """One line takes goods in, changes and finds them."""

    def __init__(self, dispatcher: Dispatcher) -> None:
        super().__init__()
        self._desk: StoresDesk | None = None
        self._found = ""
        self.main.addWidget(label("Stores", "title"))
        self.line = WordsLine("A line of the stores", HINT)
        self.line.installEventFilter(self)
        self.table = QTableWidget(0, len(HEADS))
        self.table.setHorizontalHeaderLabels(HEADS)
        self.table.setAccessibleName("What is in the stores")
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.table.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        side = self.table.verticalHeader()
        across = self.table.horizontalHeader()
        if side is not None and across is not None:
            side.hide()
            across.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
            across.setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        self._empty = label(
            "Nothing is in the stores yet. Type what lies in a drawer, a line a part: how many, "
            "its ratings, the drawer behind @, the price behind =. Price lists come in with F7.",
            "quiet",
            wrap=True,
        )
        self._notice = label(wrap=True)
        for widget in (self.line, self._notice, self._empty):
            self.main.addWidget(widget)
        self.main.addWidget(self.table, 1)
        self._about = QVBoxLayout()
        self.side.addLayout(self._about)
        self._keys = PageKeys(
            "stores",
            {"take": self.take, "list": self.ask_list, "orders": self.ask_place, "undo": self.undo},
        )
        for action in ("take", "list", "orders", "undo"):
            self.side.addWidget(self._keys.button(action))
        self.set_action("Back to the bench")
        self.went_on.connect(self.left)

    def begin(self, workplace: Workplace) -> None:
        """The page comes to the front."""
        self._desk = workplace.stores_desk()
        self._found = ""
        self._notice.setText(self._desk.trouble)
        self._show()
        self.line.setFocus()

    def heed(self, session: JobSession, meant: str = "") -> None:
        """The open job's list is covered."""
        if self._desk is not None:
            told = self._desk.follow(session)
            if told is not None:
                self._say(told)
            self._show()

    def enter(self, text: str) -> None:
        """A typed line."""
        if self._desk is not None:
            outcome = self._desk.enter(text)
            self.line.answered(outcome.taken)
            self._say(outcome)

    def take(self) -> None:
        """Take the cheapest set for the open job."""
        if self._desk is not None:
            self._say(self._desk.take())

    def undo(self) -> None:
        """Take the last change back."""
        if self._desk is not None:
            self._say(self._desk.undo())

    def ask_list(self) -> None:
        """Ask for a price list; what stands in the line names its columns."""
        path = to_open(self, "A price list or a list of drawers", TABLE)
        if path is not None:
            self.take_file(path)

    def take_file(self, path: Path) -> None:
        """A price list."""
        if self._desk is None:
            return
        try:
            data = read_bounded(path, LARGEST_BOARD)
        except OSError as error:
            self._say(Outcome.refused(f"{path} can't be read: {error.strerror}."))
            return
        self._say(self._desk.take_list(data, path.name, self.line.text()))

    def ask_place(self) -> None:
        """Ask where the order list goes."""
        path = to_save(self, "The order list", "orders.pdf", ORDERS)
        if path is not None:
            self.write_orders(path)

    def write_orders(self, path: Path) -> None:
        """Write what is wanted: on paper, as a web page, or as a table."""
        if self._desk is None:
            return
        if path.suffix.lower() in (".pdf", ".html"):
            page = self._desk.orders_page(date.today().isoformat())
            self._say(write_report(path, page, "Order list", write_pdf))
            return
        try:
            write_durably(path, self._desk.orders_table())
        except OSError as error:
            self._say(Outcome.refused(f"{path} can't be written: {error.strerror}."))
            return
        self._say(Outcome(f"Order list written to {path}."))

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter takes the line; after / it only finds."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        if event.key() not in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            return super().eventFilter(source, event)
        text = self.line.text().strip()
        if not text:
            self.went_on.emit()
        elif text.startswith("/"):
            self._found = text[1:]
            self.line.selectAll()
            self._show()
        else:
            self.enter(text)
        return True

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """The keys of the page."""
        if event is not None and not self._keys.press(event):
            super().keyPressEvent(event)

    def _say(self, outcome: Outcome) -> None:
        self._notice.setText(outcome.text)
        set_role(self._notice, "bad" if outcome.kind is Kind.REFUSED else "good")
        self._show()

    def _show(self) -> None:
        if self._desk is None:
            return
        try:
            state = stores_state(self._desk, self._found)
        except LooseRailError as error:
            self._notice.setText(error.one_line())
            return
        show_rows(
            self.table,
            [
                [Cell(text, right=place in (0, 2, 4)) for place, text in enumerate(row)]
                for row in state.rows
            ],
        )
        self._empty.setVisible(not state.rows and not self._found)
        clear_layout(self._about)
        if state.job:
            self._about.addWidget(label(state.job, "strong"))
            for ref, words, there in state.needs:
                self._about.addWidget(label(f"{ref}: {words}", "" if there else "hot", wrap=True))
            self._about.addWidget(label(state.summary, "quiet", wrap=True))
        if state.orders:
            self._about.addWidget(label("To be ordered", "strong"))
            for words in state.orders:
                self._about.addWidget(label(words, wrap=True))
        if state.under_way:
            self._about.addWidget(label("Set aside or on its way", "strong"))
            for words in state.under_way[:MOST_UNDER_WAY]:
                self._about.addWidget(label(words, wrap=True))
            left = len(state.under_way) - MOST_UNDER_WAY
            if left > 0:
                self._about.addWidget(label(f"and {left} more", "quiet"))
