"""The power board as one exchangeable part beside its own parts and the boards behind its plugs."""

from __future__ import annotations

from collections.abc import Iterable

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board, Component

WHOLE_BOARD = "power board"
"""What is named where the power board itself is exchanged; no designator reads so."""


def sits_on_it(part: Component) -> bool:
    """Whether a part is one of the power board's own: not a board, a cord or a lamp at a plug."""
    return not (is_a(part, Trait.BOARD) or is_a(part, Trait.BACKLIGHT))


def component_of(board: Board, ref: str) -> Component:
    """A part by its designator, or the power board as one. Raises KeyError for another name."""
    if ref == WHOLE_BOARD:
        return Component(WHOLE_BOARD, "load", {}, "", board.id, board.id)
    return board.component(ref)


def renewed(board: Board, fitted: Iterable[str]) -> frozenset[str]:
    """Designators that new parts stand at: those fitted, with the power board all of its own."""
    found = set(fitted)
    if WHOLE_BOARD in found:
        found |= {part.ref for part in board.components if sits_on_it(part)}
    return frozenset(found)
