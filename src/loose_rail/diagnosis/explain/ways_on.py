"""The ways on from a verdict: repair, kit, exchange of the board that is guilty, or give back.

A way cures where everything that is bad is among what it replaces; the chance is the posterior of
that, times how often the work itself succeeds. Where it fails another way follows, at the chance
that is left then: so a cheap kit before an exchange can be worth more than either. Shares of work
that succeeds, and minutes, are estimates [E]; money is worked out in judgement/economics.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.explain.levels import (
    ADAPTER,
    CORD,
    LAMPS,
    POWER_BOARD,
    board_shares,
    level_of_part,
)
from loose_rail.diagnosis.inference.finding import Finding, Standing
from loose_rail.diagnosis.model.hypotheses import OUTSIDE
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.economics import Prices, Worth, break_even, comeback_risk, expected

Floats = NDArray[np.float64]

REWORK_SUCCEEDS = 0.97
KIT_SUCCEEDS = 0.93
"""Every further joint is a chance to lift a pad or to turn a capacitor round [E]."""
USED_BOARD_GOOD, NEW_BOARD_GOOD = 0.9, 0.98
STRIPS_SUCCEED = 0.9
"""The panel has to come apart for them [E]."""
MINUTES_A_PART, MINUTES_A_KIT_PART = 12.0, 4.0
EXCHANGE_MINUTES, STRIPS_MINUTES = 20.0, 75.0
TRIAL_MINUTES = 8.0
ANOTHER_DIAGNOSIS_MINUTES = 20.0
CURE_BY_BOARD = 0.5
"""A fault outside the model: an exchanged power board cures it about every other time [E]."""
LEAST_SHARE = 0.05
"""A board that is guilty less often is not offered for exchange, the power board always is."""


TINY = 1e-12
"""Keeps a share of nothing from dividing by zero."""


NOTHING = Worth(0.0, 0.0, 0.0)
"""Costs nothing and cures nothing."""


EVEN = 0.5
"""From here on a set more likely than not has nothing wrong."""


class Kind(StrEnum):
    """How a way goes on."""

    REPAIR = "repair"
    KIT = "kit"
    EXCHANGE = "exchange"
    PAIR = "pair"
    GIVE_BACK = "give_back"
    HAND_BACK = "hand_back"
    """As it came, for it most likely has nothing."""


GIVING_BACK = frozenset((Kind.GIVE_BACK, Kind.HAND_BACK))
"""Ways that replace nothing."""


@dataclass(frozen=True, slots=True)
class Way:
    """A way on. `boards` are those that it exchanges, `parts` what it replaces on the power board,
    `outlay` what of its cost is paid for them; `then` is the way that follows where it fails, None
    where none is worth it. `value` is what it leaves, with what follows, beyond giving back;
    `ties_at` the chance from which it alone would be worth as much as the best other one alone,
    None where no chance would do."""

    kind: Kind
    title: str
    minutes: float
    words: str
    worth: Worth = NOTHING
    outlay: float = 0.0
    boards: tuple[str, ...] = ()
    parts: tuple[str, ...] = ()
    value: float = 0.0
    ties_at: float | None = None
    then: str = ""


def ways_on(
    table: PredictionTable,
    probabilities: Floats,
    finding: Finding | None,
    prices: Prices,
    unlisted: str = "",
) -> list[Way]:
    """All ways on, what leaves most first, giving back last; it leads where no other leaves more.
    Where nobody has said what the set is worth, what gets it going for the least money leads."""
    outside = CURE_BY_BOARD if not unlisted else 1.0  # an unlisted part that showed is on it
    drafts = [
        *_of_no_list(table, unlisted, prices),
        *_drafts(table, probabilities, finding, prices, outside),
    ]
    made = [draft.priced(probabilities, prices) for draft in drafts]
    alone = [expected(way.worth, _value(prices), prices.comeback) for way in made]
    again = prices.hour * (ANOTHER_DIAGNOSIS_MINUTES + TRIAL_MINUTES) / 60.0
    found: list[Way] = []
    for number, way in enumerate(made):
        after = _best_after(number, drafts, probabilities, prices)
        follows = after.value - again if after.value > again else -again
        value = expected(way.worth, _value(prices), prices.comeback, follows)
        best_other = max(0.0, *(one for k, one in enumerate(alone) if k != number))
        ties = break_even(way.worth, best_other, _value(prices), prices.comeback)
        then = after.title if after.value > again else ""
        found.append(replace(way, value=value, then=then, ties_at=ties))
    found.sort(key=lambda way: (-way.value, way.title))
    lost = f"the set is worth {prices.set_value:.0f} working; " if prices.set_value else ""
    words = f"{lost}its parts remain; the diagnosis is made either way"
    back = Way(Kind.GIVE_BACK, "Give it back unrepaired", minutes=0.0, words=words)
    if probabilities[0] >= EVEN:
        words = "it most likely has nothing: let it run first"
        back = Way(Kind.HAND_BACK, "Hand it back, nothing replaced", minutes=0.0, words=words)
    worth_it = bool(found) and found[0].value > 0.0
    return [*found, back] if worth_it else [back, *found]


def hunch(ways: Sequence[Way]) -> Way | None:
    """The power board that would have been ordered before anything was measured; None where the
    best way on is that."""
    boards = [way for way in ways if way.boards == (POWER_BOARD,)]
    return boards[0] if boards and boards[0] != ways[0] else None


def _value(prices: Prices) -> float:
    """What a working set is worth; where nobody has said, twice a board: enough to be repaired."""
    return prices.set_value or 2.0 * (prices.new + prices.hour)


Cures = NDArray[np.float64]
"""How likely a way cures each row, `(n_rows,)`."""


@dataclass(frozen=True, slots=True)
class _Draft:
    """A way before its money: what it costs beside the hours, what it cures, its come-back risk."""

    way: Way
    cost: float
    cures: Cures
    comeback: float

    def priced(self, chances: Floats, prices: Prices) -> Way:
        whole = self.cost + prices.hour * self.way.minutes / 60.0
        worth = Worth(whole, float(chances @ self.cures), self.comeback)
        return replace(self.way, worth=worth, outlay=self.cost)


def _of_no_list(table: PredictionTable, unlisted: str, prices: Prices) -> Iterator[_Draft]:
    """A part that showed and that this model does not have, renewed: it cures what is outside the
    list."""
    if not unlisted:
        return
    way = Way(
        Kind.REPAIR,
        f"Repair: {unlisted}",
        minutes=MINUTES_A_PART + TRIAL_MINUTES,
        words="this model does not have it; a line tells what came of it",
    )
    cures = REWORK_SUCCEEDS * np.array([float(row.suspect == OUTSIDE) for row in table.rows])
    yield _Draft(way, prices.part, cures, comeback_risk(False, False, False, False))


def _drafts(
    table: PredictionTable,
    chances: Floats,
    finding: Finding | None,
    prices: Prices,
    outside: float,
) -> Iterator[_Draft]:
    board = table.board
    here = {part.ref for part in board.components if level_of_part(part) == POWER_BOARD}
    aged = {part.ref for part in board.components if is_a(part, Trait.ELECTROLYTIC)}
    if finding is not None and finding.part in here:
        parts = {finding.part, *finding.twins, *(ref for ref, _ in finding.companions)} & here
        sure = finding.standing is Standing.CONFIRMED
        way = Way(
            Kind.REPAIR,
            f"Repair: {', '.join(sorted(parts))}",
            minutes=MINUTES_A_PART * len(parts) + TRIAL_MINUTES,
            words="only what is bad",
            parts=tuple(sorted(parts)),
        )
        cures = REWORK_SUCCEEDS * _cured_by(table, lambda ref: ref in parts)
        risk = comeback_risk(sure, False, not aged <= parts, aged <= parts)
        yield _Draft(way, prices.part * len(parts), cures, risk)
    if len(aged) > 1:
        way = Way(
            Kind.KIT,
            "Kit of capacitors",
            minutes=MINUTES_A_KIT_PART * len(aged) + TRIAL_MINUTES,
            words=f"all {len(aged)} electrolytics; blind to everything else",
            parts=tuple(sorted(aged)),
        )
        cures = KIT_SUCCEEDS * _cured_by(table, lambda ref: ref in aged)
        yield _Draft(way, prices.kit, cures, comeback_risk(False, False, False, True))
    shares = {share.name: share.probability for share in board_shares(table, chances)}
    named = [POWER_BOARD, *_other_boards(board)]
    guilty = [n for n in named if n == POWER_BOARD or shares.get(n, 0.0) >= LEAST_SHARE]
    for name in guilty:
        yield from _exchanges(name, _level_cures(table, name, outside), prices)
    main = next((name for name in guilty if name.startswith("main board")), "")
    if main and shares.get(POWER_BOARD, 0.0) >= LEAST_SHARE:
        way = Way(
            Kind.PAIR,
            f"Exchange power board and {main}",
            minutes=1.5 * EXCHANGE_MINUTES + TRIAL_MINUTES,
            words="a two-board kit; what the old main board has stored may be lost",
            boards=(POWER_BOARD, main),
        )
        cures = USED_BOARD_GOOD * (
            _level_cures(table, POWER_BOARD, outside) + _level_cures(table, main, outside)
        )
        yield _Draft(way, prices.pair, cures, comeback_risk(True, False, False, False))


def _exchanges(name: str, cures: Cures, prices: Prices) -> Iterator[_Draft]:
    """A level of the set exchanged: strips and tubes, a used board, a new one."""
    minutes = EXCHANGE_MINUTES + TRIAL_MINUTES
    risk = comeback_risk(True, False, False, False)
    if name == LAMPS:
        words = "every strip or tube of the set; the panel comes apart, two people for big glass"
        way = Way(
            Kind.EXCHANGE,
            "Exchange the lamps",
            minutes=STRIPS_MINUTES + TRIAL_MINUTES,
            words=words,
            boards=(name,),
        )
        yield _Draft(way, prices.strips, STRIPS_SUCCEED * cures, risk)
        return
    sold = name == POWER_BOARD and prices.old > 0
    for word, price, good in (
        ("used", prices.board, USED_BOARD_GOOD),
        ("new", prices.new, NEW_BOARD_GOOD),
    ):
        words = "every number compared first"
        words += f"; the old one, repaired, brings {prices.old:g}" if sold else ""
        way = Way(
            Kind.EXCHANGE,
            f"Exchange the {name}, {word}",
            minutes=minutes,
            words=words,
            boards=(name,),
        )
        yield _Draft(way, price - (prices.old if sold else 0.0), good * cures, risk)


def _best_after(number: int, drafts: Sequence[_Draft], chances: Floats, prices: Prices) -> _After:
    """The way that is worth most once this one has failed, at the chances that are left."""
    left = chances * (1.0 - drafts[number].cures)
    left = left / max(float(left.sum()), TINY)
    best = _After(0.0, "")
    for other, draft in enumerate(drafts):
        if other == number:
            continue
        way = draft.priced(left, prices)
        value = expected(way.worth, _value(prices), prices.comeback)
        if value > best.value:
            best = _After(value, way.title)
    return best


@dataclass(frozen=True, slots=True)
class _After:
    value: float
    title: str


def _cured_by(table: PredictionTable, replaced: Callable[[str], bool]) -> Cures:
    """1 where everything bad is replaced."""
    return np.array(
        [
            float(bool(row.faults) and all(replaced(fault.ref) for fault in row.faults))
            for row in table.rows
        ]
    )


def _level_cures(table: PredictionTable, name: str, outside: float) -> Cures:
    """1 where everything bad sits on this level of the set; of what is outside the list the share
    `outside` sits on the power board."""
    board = table.board
    found = np.zeros(len(table.rows))
    for number, row in enumerate(table.rows):
        if row.suspect == OUTSIDE:
            found[number] = outside if name == POWER_BOARD else 0.0
        elif row.faults:
            own = all(level_of_part(board.component(fault.ref)) == name for fault in row.faults)
            found[number] = float(own)
    return found


def _other_boards(board: Board) -> list[str]:
    levels = dict.fromkeys(level_of_part(part) for part in board.components)
    return [name for name in levels if name not in (POWER_BOARD, CORD, ADAPTER)]
