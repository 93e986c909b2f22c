"""The ways on from a verdict: repair, kit, exchange or scrap, each with its cost and its chance.

A route cures where everything that is bad is among what it replaces; the chance is the posterior of
that, times how often the work itself succeeds. A route that fails costs another diagnosis. Prices
are the shop's own; the defaults are estimates [E], and so are the shares of work that succeeds.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board, Component
from loose_rail.diagnosis.explain.levels import POWER_BOARD, board_level_of
from loose_rail.diagnosis.inference.finding import Finding
from loose_rail.diagnosis.model.hypotheses import NOTHING, OUTSIDE, Hypothesis
from loose_rail.diagnosis.model.table import PredictionTable

Floats = NDArray[np.float64]

REWORK_SUCCEEDS = 0.97
KIT_SUCCEEDS = 0.93
"""Every further joint is a chance to lift a pad or to turn a capacitor round."""
USED_BOARD_GOOD = 0.9
MINUTES_A_PART = 12.0
MINUTES_A_KIT_PART = 4.0
EXCHANGE_MINUTES = 20.0
TRIAL_MINUTES = 8.0
ANOTHER_DIAGNOSIS_MINUTES = 20.0
CURE_BY_BOARD = 0.5
"""A fault outside the model: an exchanged board cures it about every other time."""


@dataclass(frozen=True, slots=True)
class Prices:
    """What things cost here, in the job's currency."""

    part: float = 2.0
    kit: float = 12.0
    board: float = 35.0
    hour: float = 40.0
    set_value: float = 0.0


@dataclass(frozen=True, slots=True)
class Route:
    """A way on: its cost, the chance that it cures, and the cost with what a failure brings."""

    key: str
    title: str
    cost: float
    chance: float
    expected: float
    words: str


def routes_of(
    table: PredictionTable, probabilities: Floats, finding: Finding | None, prices: Prices
) -> list[Route]:
    """All ways on, the cheapest by expected cost for each cure first; scrap last."""
    board = table.board
    again = prices.hour * (ANOTHER_DIAGNOSIS_MINUTES + TRIAL_MINUTES) / 60.0
    found: list[Route] = []

    def add(key: str, title: str, cost: float, chance: float, words: str) -> None:
        found.append(
            Route(
                key=key,
                title=title,
                cost=cost,
                chance=chance,
                expected=cost + (1.0 - chance) * again,
                words=words,
            )
        )

    if finding is not None and not is_a(board.component(finding.part), Trait.BOARD):
        replaced = {finding.part, *finding.twins, *(ref for ref, _ in finding.companions)}
        minutes = MINUTES_A_PART * len(replaced) + TRIAL_MINUTES
        cost = prices.part * len(replaced) + prices.hour * minutes / 60.0
        chance = REWORK_SUCCEEDS * _covered(table, probabilities, lambda ref: ref in replaced)
        add("repair", f"Repair: {', '.join(sorted(replaced))}", cost, chance, "only what is bad")
    kit = {part.ref for part in board.components if is_a(part, Trait.ELECTROLYTIC)}
    if len(kit) > 1:
        minutes = MINUTES_A_KIT_PART * len(kit) + TRIAL_MINUTES
        cost = prices.kit + prices.hour * minutes / 60.0
        chance = KIT_SUCCEEDS * _covered(table, probabilities, lambda ref: ref in kit)
        words = f"all {len(kit)} electrolytics; blind to everything else"
        add("kit", "Kit of capacitors", cost, chance, words)
    here = _on_board(table, probabilities)
    cost = prices.board + prices.hour * (EXCHANGE_MINUTES + TRIAL_MINUTES) / 60.0
    words = "a used board, every number compared; the old one can be repaired and sold"
    add("exchange", "Exchange the power board", cost, USED_BOARD_GOOD * here, words)
    found.sort(key=lambda route: (-route.chance / max(route.expected, 1e-9), route.key))
    lost = f"the set is worth {prices.set_value:.0f}" if prices.set_value else "its parts remain"
    found.append(
        Route(
            key="scrap",
            title="Scrap or hand back unrepaired",
            cost=0.0,
            chance=0.0,
            expected=prices.set_value,
            words=lost,
        )
    )
    return found


def _covered(
    table: PredictionTable, probabilities: Floats, replaced: Callable[[str], bool]
) -> float:
    """Probability that everything bad is replaced."""
    cured = [
        bool(row.faults) and all(replaced(fault.ref) for fault in row.faults) for row in table.rows
    ]
    return float(probabilities[np.array(cured)].sum())


def _on_board(table: PredictionTable, probabilities: Floats) -> float:
    """Probability that a good power board cures it."""
    shares = np.array([_board_share(table.board, row) for row in table.rows])
    return float(probabilities @ shares)


def _board_share(board: Board, row: Hypothesis) -> float:
    if row.suspect == NOTHING:
        return 0.0
    if row.suspect == OUTSIDE:
        return CURE_BY_BOARD
    behind = any(_behind_a_cable(board.component(f.ref)) for f in row.faults)
    return 1.0 if board_level_of(board, row) == POWER_BOARD and not behind else 0.0


def _behind_a_cable(part: Component) -> bool:
    return is_a(part, Trait.BOARD) or is_a(part, Trait.BACKLIGHT)
