"""Which parts stand in parallel as a meter sees them: a short in one reads like one in all.

Nets that are joined by next to nothing at DC (windings, chokes, fuses, low resistors, joints) count
as one. Source: textbook; product fact: parallel parts hide the culprit.
"""

from __future__ import annotations

from functools import lru_cache

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board, Component
from loose_rail.kernel.quantities import component_value

LOW_OHMS = 5.0
"""Up to this a series resistor, such as that of an auxiliary supply, hides no short behind it."""


@lru_cache(maxsize=16)
def _groups(board_id: str, joins: tuple[tuple[str, str], ...]) -> dict[str, str]:
    """The group of each joined net (union-find, textbook)."""
    parent: dict[str, str] = {}

    def root(net: str) -> str:
        while parent.setdefault(net, net) != net:
            net = parent[net]
        return net

    for a, b in joins:
        parent[root(a)] = root(b)
    return {net: root(net) for net in list(parent)}


def _joins(board: Board) -> tuple[tuple[str, str], ...]:
    found: list[tuple[str, str]] = []
    for part in board.components:
        nets = list(part.pins.values())
        if is_a(part, Trait.WINDINGS):
            names = list(part.pins)
            pairs = zip(names[::2], names[1::2], strict=False)
            found += [(part.pins[a], part.pins[b]) for a, b in pairs]
        elif (is_a(part, Trait.JOINS) and len(nets) >= 2) or _is_low(part):
            found.append((nets[0], nets[1]))
    return tuple(found)


def _is_low(part: Component) -> bool:
    if not is_a(part, Trait.RESISTOR) or not part.value:
        return False
    return component_value(part.value.split()[0]) < LOW_OHMS


def _hides(part: Component) -> bool:
    """Whether a short in a part is a short of its own: not in what joins two points anyway."""
    return not (is_a(part, Trait.JOINS) or is_a(part, Trait.CONNECTOR))


def in_parallel(board: Board, ref: str) -> tuple[str, ...]:
    """Other parts that a short of this part can't be told from in place, in the profile's order."""
    groups = _groups(board.id, _joins(board))

    def ends(part: Component) -> set[frozenset[str]]:
        nets = [groups.get(net, net) for net in part.pins.values()]
        return {frozenset((a, b)) for a in nets for b in nets if a != b}

    own = ends(board.component(ref))
    return tuple(
        part.ref
        for part in board.components
        if part.ref != ref and _hides(part) and own & ends(part)
    )


def across(board: Board, first: str, second: str) -> tuple[str, ...]:
    """Every part that lies across two nets, or what is joined to them, in the profile's order: a
    short in one of them reads like one in all."""
    groups = _groups(board.id, _joins(board))
    a, b = groups.get(first, first), groups.get(second, second)
    return tuple(
        part.ref
        for part in board.components
        if _hides(part) and a != b and {a, b} <= {groups.get(n, n) for n in part.pins.values()}
    )
