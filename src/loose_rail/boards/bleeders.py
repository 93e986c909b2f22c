"""What a capacitor of a board drains through when nothing runs: resistors and windings alone.

Junctions and chips are left out, so that a charge is never taken to go sooner than the parts make
it. Conductance between two nets: the node equations of the resistive network (circuit theory).
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a, kind_of
from loose_rail.boards.profile import Board
from loose_rail.circuit.elements import Element, Resistor, Windings

_DRAINS = (Trait.RESISTOR, Trait.JOINS, Trait.FUSE)
_Path = tuple[str, str, float]


@lru_cache(maxsize=256)
def bleed_siemens(board: Board, plus: str, minus: str) -> float:
    """Conductance in siemens between two nets of the whole and unplugged board; 0 where no resistor
    leads from one to the other."""
    paths = _paths_of(board)
    reached = _reached(paths, plus)
    if minus not in reached or plus == minus:
        return 0.0
    place = {net: number for number, net in enumerate(sorted(reached - {minus}))}
    matrix = np.zeros((len(place), len(place)))
    for first, second, ohms in paths:
        ends = [place[net] for net in (first, second) if net in place]
        for end in ends:
            matrix[end, end] += 1.0 / ohms
        if len(ends) == 2:
            matrix[ends[0], ends[1]] -= 1.0 / ohms
            matrix[ends[1], ends[0]] -= 1.0 / ohms
    driven = np.zeros(len(place))
    driven[place[plus]] = 1.0
    return 1.0 / float(np.linalg.solve(matrix, driven)[place[plus]])


@lru_cache(maxsize=16)
def _paths_of(board: Board) -> tuple[_Path, ...]:
    parts = [p for p in board.components if any(is_a(p, trait) for trait in _DRAINS)]
    bodies = (kind_of(part).body(part).values() for part in parts)
    return tuple(path for body in bodies for element in body for path in _paths(element))


def _paths(element: Element) -> list[_Path]:
    if isinstance(element, Resistor):
        return [(element.a, element.b, element.ohms)]
    if isinstance(element, Windings):
        pairs = zip(element.terminals, element.ohms, strict=True)
        return [(first, second, ohms) for (first, second), ohms in pairs]
    return []


def _reached(paths: tuple[_Path, ...], start: str) -> set[str]:
    found, grown = {start}, True
    while grown:
        fresh = {net for a, b, _ in paths if a in found or b in found for net in (a, b)} - found
        found |= fresh
        grown = bool(fresh)
    return found
