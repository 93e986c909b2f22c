"""Levels of proof of a repair: what has been shown, and what each level does not cover."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from loose_rail.vocabulary.board_state import BoardState, Power


@dataclass(frozen=True, slots=True)
class ProofLevel:
    """A level with its words and what it leaves open."""

    rank: int
    title: str
    leaves_open: str


LEVELS = (
    ProofLevel(0, "cold checks only", "nothing has been powered since the repair"),
    ProofLevel(1, "board alone, through the limiter, unloaded", "load, heat, hours, full mains"),
    ProofLevel(2, "board alone, directly on the mains, unloaded", "load, heat, hours"),
    ProofLevel(3, "board alone, its rails under dummy loads", "the set's own load, light, hours"),
    ProofLevel(4, "in the set, in standby", "the main rails under load, heat, hours"),
    ProofLevel(5, "in the set, switched on", "heat, hours: a soak of some hours"),
)

ON_THE_MAINS, LOADED, IN_THE_SET, SWITCHED_ON = 2, 3, 4, 5
"""Ranks from which a board was shown to run straight on the mains, and to bear its load; a set, and
not a board alone, to run; and to run switched on."""


def soaked(hours: float) -> ProofLevel:
    """The level of a set that has run so long, switched on, somebody there."""
    return ProofLevel(6, f"soak of {hours:.1f} h", "what shows only after days, or in another room")


def level_of(good_states: Sequence[BoardState]) -> ProofLevel:
    """The highest level shown by good readings in these states after the repair."""
    return LEVELS[max((_rank(state) for state in good_states), default=0)]


def _rank(state: BoardState) -> int:
    if not state.plugged:
        return 0
    if state.power is Power.ON and not state.without:
        return SWITCHED_ON
    if state.main_cable:
        return IN_THE_SET
    return 1 if state.lamp_watts else 2
