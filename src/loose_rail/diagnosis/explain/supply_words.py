"""What is said of a supply that was found good: the same for card, verdict and file command."""

from __future__ import annotations

from loose_rail.boards.profile import Board
from loose_rail.diagnosis.explain.levels import boards_named
from loose_rail.diagnosis.inference.supply_good import SupplyGood
from loose_rail.kernel.quantities import percent

GOOD_SUPPLY = "The supply is good at this level"
NOT_PROVED = "Not proved: a heavier load, heat, what comes and goes, the lamps themselves."
MOSTLY_SOUND = 0.5
"""From this share of it on nothing speaks for another board either [E]."""


def supply_words(board: Board, found: SupplyGood) -> str:
    """How sure it is, where the fault may be, and what this does not prove."""
    said = f"Every rail was read right in use: {percent(found.probability)} sure."
    named = boards_named(board, [ref for ref, _ in found.elsewhere])
    if found.sound < MOSTLY_SOUND * found.probability and named:
        said += f" What the customer sees comes from elsewhere: look at the {_listed(named)}."
    else:
        said += " Nothing points to another board either: let it run and watch it, replace nothing."
    return f"{said} {NOT_PROVED}"


def _listed(names: tuple[str, ...]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} or {names[-1]}"
