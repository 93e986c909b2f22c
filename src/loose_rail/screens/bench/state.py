"""Cold and live checks: what the page draws."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.screens.shared.card.state import CardState
from loose_rail.screens.shared.rail_map.state import RailMapState
from loose_rail.screens.shared.rows import LedgerRow, SuspectRow


@dataclass(frozen=True, slots=True)
class BenchState:
    """Cold and live checks."""

    rail_map: RailMapState
    card: CardState
    suspects_title: str
    suspects: tuple[SuspectRow, ...]
    ledger: tuple[LedgerRow, ...]
    others: tuple[tuple[str, str], ...]
    meter: str = ""
