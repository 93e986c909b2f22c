"""Hand back: the sheet itself, as it will print."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QLineEdit, QTextBrowser

from loose_rail.screens.hand_back.state import HandBackState
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import SidedPage
from loose_rail.screens.shared.pair_lines import PairLines
from loose_rail.screens.shared.widgets import button, clear_layout, label


class HandBackView(SidedPage):
    """The hand-back screen."""

    export_asked = pyqtSignal()
    print_asked = pyqtSignal()
    price_named = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._sheet = QTextBrowser()
        self._sheet.setAccessibleName("The sheet as it will print")
        self._sheet.setOpenLinks(False)
        self.main.addWidget(self._sheet, 1)
        self._html = ""
        self.price = QLineEdit()
        self.price.setPlaceholderText("price, such as 38.50")
        self.price.setAccessibleName("Price")
        self.price.editingFinished.connect(lambda: self.price_named.emit(self.price.text()))

    def attach(self, host: JobHost) -> None:
        """The action hands back."""
        self.went_on.connect(host.go_on)
        self.export_asked.connect(host.ask_export)
        self.print_asked.connect(host.ask_print)
        self.price_named.connect(host.name_price)

    def show_state(self, state: HandBackState) -> None:
        """Show the sheet and what is open."""
        if state.html != self._html:
            self._html = state.html
            self._sheet.setHtml(state.html)
            document = self._sheet.document()
            assert document is not None
            document.setDocumentMargin(22)
        self.price.setParent(self)
        clear_layout(self.side)
        if state.failed:
            self.side.addWidget(label(state.failed, "alarmTitle", wrap=True))
        self.side.addWidget(label("Before and after", "strong"))
        pairs = PairLines()
        pairs.show_state(state.pairs)
        self.side.addWidget(pairs)
        self.side.addWidget(label("Level of proof", "strong"))
        self.side.addWidget(label(state.proof, wrap=True))
        if state.open_points:
            self.side.addWidget(label("Still open", "strong"))
            for point in state.open_points:
                self.side.addWidget(label(point, "hot", wrap=True))
        self.side.addWidget(label("Before it leaves", "strong"))
        for words in (
            "Insulation and protective conductor checked as local rules ask",
            "Ground screws and foil back in place",
            "A second fault gets a job of its own",
        ):
            self.side.addWidget(label(f"· {words}", wrap=True))
        self.side.addWidget(self.price)
        self.price.setEnabled(not state.handed_back)
        self.price.show()
        for title, key, asked in (
            ("Print the report", "Ctrl+P", self.print_asked),
            ("Save it as a file", "Ctrl+S", self.export_asked),
        ):
            one = button(title, key)
            one.clicked.connect(asked)
            self.side.addWidget(one)
        self.set_action(state.action, not state.handed_back)
