"""Take in, strip down and look over as a record, the first estimate beside it."""

from __future__ import annotations

from PyQt6.QtWidgets import QFrame, QVBoxLayout

from loose_rail.presenters.states import RecordState
from loose_rail.ui.page import Page
from loose_rail.ui.suspects import SuspectList
from loose_rail.ui.widgets import button, clear_layout, label


class RecordView(Page):
    """A stage kept as a record."""

    def __init__(self) -> None:
        super().__init__()
        self._title = label(role="title")
        self._intro = label(role="quiet", wrap=True)
        self._sheet = QFrame()
        self._sheet.setObjectName("sheet")
        self._body = QVBoxLayout(self._sheet)
        self._body.setContentsMargins(18, 14, 18, 14)
        self._body.setSpacing(5)
        self.main.addWidget(self._title)
        self.main.addWidget(self._intro)
        self.main.addWidget(self._sheet)
        self.note = button("Write a note", "Ctrl+N")
        self.main.addWidget(self.note)
        self.main.addStretch(1)
        self._suspects = SuspectList()
        self._suspects.setMinimumHeight(340)

    def show_state(self, state: RecordState) -> None:
        """Show what was recorded."""
        self._title.setText(state.title)
        self._intro.setText(state.intro)
        clear_layout(self._body)
        for name, words in state.facts:
            self._body.addWidget(label(name, "quiet"))
            self._body.addWidget(label(words, "strong", wrap=True))
        for at, words in state.notes:
            self._body.addWidget(label(f"noted {at}", "quiet"))
            self._body.addWidget(label(words, wrap=True))
        if not state.facts and not state.notes:
            self._body.addWidget(label("Nothing was noted here.", "quiet"))
        self._suspects.show_state("The estimate as it stands", state.suspects)
        if self.side.indexOf(self._suspects) < 0:
            self.side.addWidget(self._suspects)
        self.set_action(state.action)
