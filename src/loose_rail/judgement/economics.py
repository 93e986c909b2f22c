"""What a way on is worth: expected value, a second way after a failed one, break-even, come-backs.

E = p·(V − b·C_b) − costs; first one way and then another is E = −c₁ + p₁·V′ + (1 − p₁)·E₂; a way
ties with another at p* = (E_other + costs)/(V − b·C_b). Source: expected value (textbook;
electrical reference section 13). Sunk costs, such as the diagnosis that was made, count in none.
"""

from __future__ import annotations

from dataclasses import dataclass

import msgspec

from loose_rail.judgement.limits import limit


class Prices(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What things cost here, in the shop's currency; `board` is a used one with its carriage, `new`
    a new one, `pair` power and main board together, `old` what a repaired board is sold for. `hour`
    is the technician's; `set_value` is what the working set is worth, 0 where nobody has said."""

    part: float = 2.0
    kit: float = 12.0
    board: float = 35.0
    new: float = 60.0
    pair: float = 55.0
    strips: float = 30.0
    old: float = 0.0
    hour: float = 40.0
    comeback: float = 60.0
    set_value: float = 0.0


@dataclass(frozen=True, slots=True)
class Worth:
    """One way on in figures: money in the shop's currency, probabilities from 0 to 1."""

    cost: float
    chance: float
    comeback: float


def cured(worth: Worth, value: float, comeback_cost: float) -> float:
    """What a cure is worth: the set, less what a come-back costs as often as it comes."""
    return value - worth.comeback * comeback_cost


def expected(worth: Worth, value: float, comeback_cost: float, after: float = 0.0) -> float:
    """Expected value of a way; `after` is that of what follows where it fails."""
    gain = worth.chance * cured(worth, value, comeback_cost)
    return gain + (1.0 - worth.chance) * after - worth.cost


def break_even(worth: Worth, other: float, value: float, comeback_cost: float) -> float | None:
    """The chance from which a way is worth as much as another whose expected value is `other`; None
    where no chance will do."""
    gain = cured(worth, value, comeback_cost)
    needed = (other + worth.cost) / gain if gain > 0 else 2.0
    return max(needed, 0.0) if needed <= 1.0 else None


def comeback_risk(cause_found: bool, soaked: bool, aged_left: bool, group_renewed: bool) -> float:
    """How likely a set is back within months, from what was left undone."""
    risk = limit("comeback_base")
    risk += 0.0 if cause_found else limit("comeback_cause")
    risk += 0.0 if soaked else limit("comeback_no_soak")
    risk += limit("comeback_aged") if aged_left else 0.0
    return max(risk - (limit("comeback_group") if group_renewed else 0.0), 0.0)
