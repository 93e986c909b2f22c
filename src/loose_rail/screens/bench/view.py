"""Cold and live checks: rail map and ledger on the left, card and suspects on the right."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from loose_rail.screens.bench.state import BenchState
from loose_rail.screens.live.state import LiveState
from loose_rail.screens.live.view import LivePanel
from loose_rail.screens.shared.card.view import NextProbeCard
from loose_rail.screens.shared.card.wiring import wire_card
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import CARD_WIDTH, LEAST_CARD, Side, StagePage
from loose_rail.screens.shared.rail_map.view import RailMap
from loose_rail.screens.shared.suspects import SuspectList
from loose_rail.screens.shared.tables import Ledger


class BenchView(StagePage):
    """The bench screen."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("page")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        left = QVBoxLayout()
        left.setSpacing(0)
        self.rail_map = RailMap()
        self.ledger = Ledger()
        self.live = LivePanel()
        lower = QHBoxLayout()
        lower.setSpacing(0)
        lower.addWidget(self.ledger, 1)
        lower.addWidget(self.live)
        left.addWidget(self.rail_map, 13)
        left.addLayout(lower, 7)
        row.addLayout(left, 1)
        right = Side(CARD_WIDTH, LEAST_CARD)
        column = QVBoxLayout(right)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self._card = NextProbeCard()
        self.suspects = SuspectList()
        column.addWidget(self._card)
        column.addWidget(self.suspects, 1)
        row.addWidget(right)

    @property
    def card(self) -> NextProbeCard:
        """The next probe."""
        return self._card

    def attach(self, host: JobHost) -> None:
        """The card leads to the job's commands."""
        wire_card(self.card, host)

    def restyle(self) -> None:
        """The theme changed."""
        self.live.restyle()

    def show_state(self, state: BenchState) -> None:
        """Draw another moment of the bench."""
        self.rail_map.show_state(state.rail_map)
        self.ledger.show_rows(state.ledger)
        self.card.show_state(state.card, bool(state.meter))
        self.suspects.show_state(state.suspects_title, state.suspects)

    def show_live(self, state: LiveState) -> None:
        """The live meter beside the ledger, which then leaves out what the card says anyway."""
        self.live.show_state(state)
        self.ledger.make_room(state.on)
