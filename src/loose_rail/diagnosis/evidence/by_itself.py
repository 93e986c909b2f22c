"""Parts that measured bad by themselves, out of the board: nothing beside them fakes that."""

from __future__ import annotations

from collections.abc import Iterable

from loose_rail.diagnosis.evidence.soft_evidence import Clue


def bad_by_themselves(clues: Iterable[Clue]) -> frozenset[str]:
    """The parts of which clues tell that they measured bad out of the board."""
    return frozenset[str]().union(*(c.found for c in clues if c.family.startswith("removed:")))
