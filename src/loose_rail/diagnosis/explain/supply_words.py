"""What is said of a supply that was found good: the same for card, verdict and file command."""

from __future__ import annotations

from loose_rail.boards.profile import Board
from loose_rail.diagnosis.explain.levels import boards_named
from loose_rail.diagnosis.inference.supply_good import SupplyGood
from loose_rail.kernel.quantities import percent

GOOD_SUPPLY = "The supply is good at this level"
AT_WORK = "The set does its work"
NOT_PROVED = "Not proved: a heavier load, heat, what comes and goes, the lamps themselves."
MOST_NAMED = 3
"""Parts named in one sentence."""


def supply_words(board: Board, found: SupplyGood) -> str:
    """How sure it is, where the fault may be, and what this does not prove."""
    said = [f"Every rail was read right in use: {percent(found.probability)} sure."]
    named = boards_named(board, [ref for ref, _ in found.elsewhere])
    beyond = sum(share for _, share in found.elsewhere)
    if beyond > max(found.sound, found.of_goes) and named:
        share = percent(beyond)
        said.append(f"The fault may lie elsewhere ({share}): look at the {_listed(named)}.")
    elif found.of_goes > found.sound:
        parts = ", ".join(ref for ref, _ in found.goes[:MOST_NAMED])
        said.append(f"No more readings: soak it, with taps and warmth at {parts}.")
    else:
        said.append("Nothing points elsewhere either: let it run and watch it, replace nothing.")
    if found.odd:
        said.append(f"Out of its limits all the same, renew it: {', '.join(found.odd)}.")
    return " ".join([*said, NOT_PROVED])


def at_work_words(sound: float) -> str:
    """What is said of a set that is seen at its work, most likely with nothing wrong (`sound`)."""
    return (
        f"Nothing wrong with it: {percent(sound)} sure. What else it may be comes and goes, and no "
        "single reading shows it: let it run and watch it, with taps and warmth; replace nothing."
    )


def _listed(names: tuple[str, ...]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} or {names[-1]}"
