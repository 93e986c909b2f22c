"""Where charge can stay on a board after the plug is out: each reservoir that can stand above 60 V,
or hold more than 0.2 J above 15 V, in any state.

Bulk, sustain, address and backlight outputs and feeds. A reservoir is measured at its own leads
before ohms, diode test, ESR or rework at or beside it: that the bulk is empty says nothing of it.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board, Component
from loose_rail.boards.typical import part_farads
from loose_rail.boards.worst_volts import worst_volts
from loose_rail.vocabulary.roles import BoardRole

HAZARD_VOLTS = 60.0
"""DC above this is a hazard to an ordinary person (IEC 62368-1 ES1) [S]."""
HAZARD_JOULES, ENERGETIC_FROM_VOLTS = 0.2, 15.0
"""What burns a probe tip, a junction or a meter's ohms range, though no hand feels it [E]."""


@dataclass(frozen=True, slots=True)
class Reservoir:
    """A capacitor that can hold a dangerous charge: farads, the highest volts it can have here."""

    part: str
    most_volts: float
    farads: float

    @property
    def joules(self) -> float:
        """Energy at the highest volts, ½·C·V²."""
        return 0.5 * self.farads * self.most_volts**2

    @property
    def is_hazard(self) -> bool:
        """Whether it is measured before hands, ohms and iron go near it."""
        energetic = self.joules > HAZARD_JOULES and self.most_volts > ENERGETIC_FROM_VOLTS
        return self.most_volts >= HAZARD_VOLTS or energetic


def bulk_of(board: Board) -> Reservoir:
    """The bulk capacitor (an adapter board's input capacitor), asked for whatever it can hold."""
    ref = board.roles[BoardRole.BULK][0]
    return _reservoir(board, board.component(ref))


@lru_cache(maxsize=16)
def reservoirs_of(board: Board) -> tuple[Reservoir, ...]:
    """The bulk, then every other electrolytic that is a hazard, in profile order."""
    bulk = bulk_of(board)
    others = [
        _reservoir(board, part) for part in board.components if is_a(part, Trait.ELECTROLYTIC)
    ]
    high = [one for one in others if one.is_hazard and one.part != bulk.part]
    return (bulk, *high)


def reservoirs_beside(board: Board, ref: str) -> tuple[Reservoir, ...]:
    """The bulk, and every reservoir at or beside a part: in its section, or one part away on a net
    that is no ground."""
    part = board.component(ref)
    return tuple(
        one
        for number, one in enumerate(reservoirs_of(board))
        if number == 0 or _beside(board, part, board.component(one.part))
    )


def _reservoir(board: Board, part: Component) -> Reservoir:
    return Reservoir(part.ref, worst_volts(board, part.ref) or 0.0, part_farads(part))


def _beside(board: Board, part: Component, reservoir: Component) -> bool:
    if part.ref == reservoir.ref or part.section == reservoir.section:
        return True
    near = _reach(board, _live_nets(board, reservoir))
    return not near.isdisjoint(_live_nets(board, part))


def _live_nets(board: Board, part: Component) -> set[str]:
    return set(part.pins.values()) - {board.hot_ground, board.cold_ground}


def _reach(board: Board, nets: set[str]) -> set[str]:
    """These nets and those one part further."""
    found = set(nets)
    for part in board.components:
        own = _live_nets(board, part)
        if not own.isdisjoint(nets):
            found |= own
    return found
