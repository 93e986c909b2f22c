"""The board of the open job in front of its stage: bind a part, mend a label, go on."""

from __future__ import annotations

from loose_rail.app.outcome import Outcome
from loose_rail.screens.own_board.panel import BoardPanel, fill_side
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import FrontPage


class JobBoardView(FrontPage):
    """What is typed here holds for every job of the board; readings that were taken are judged
    anew."""

    def __init__(self, host: JobHost) -> None:
        super().__init__()
        self._host = host
        self.panel = BoardPanel(host.desks.board.line)
        self.panel.left.connect(self.left)
        self.panel.said.connect(self._said)
        self.main.addWidget(self.panel, 1)
        self._about = self.scrolled_side()
        self.set_action("Back to the job")
        self.action.setText("Back to the job   Esc")
        self.action.clicked.disconnect()
        self.action.clicked.connect(self.left)

    def draw_again(self) -> None:
        """Draw the board as it stands."""
        self.panel.show_desk(self._host.desks.board.desk())
        fill_side(self._about, self.panel.state)

    def _said(self, outcome: Outcome) -> None:
        self.said.emit(outcome)

    def focus_work(self) -> None:
        """The line."""
        self.panel.entry.setFocus()
