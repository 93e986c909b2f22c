"""How surely the faults of a board's parts show at a meter, what it costs not to know them, and in
which order a sound board is read so that the next one of its number is judged best.

It says what knowing more is worth by the model's own arithmetic, and nothing of what the model does
not have.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import msgspec
import numpy as np
from numpy.typing import NDArray
from scipy.special import erf

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.diagnosis.inference.predicted import Predicted
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.quantities import percent
from loose_rail.vocabulary.board_state import Power

Floats = NDArray[np.float64]

MOST_TO_LEARN = 24
"""Points of a sound board that are read on purpose: some twenty minutes [E]."""
LEAST_GAIN = 2e-4
"""What knowing a point has to add, over all faults, to telling them from a sound board [E]."""
WORTH_TELLING, MOST_MISSING = 0.03, 6
"""What knowing more has to add to seeing a part's faults to be listed, and how many are [E]."""


@dataclass(frozen=True, slots=True)
class Unseen:
    """A part whose faults would show more surely: as the board is known, with its value typed, and
    once a sound board was read; each from 0 to 1. `typed` is `now` where its value is known."""

    part: str
    now: float
    typed: float
    learned: float

    @property
    def words(self) -> str:
        """The same in words."""
        ways = []
        if self.typed - self.now >= WORTH_TELLING:
            ways.append(f"{percent(self.typed)} with values typed")
        if self.learned - self.now >= WORTH_TELLING:
            ways.append(f"{percent(self.learned)} once a sound board is read")
        return f"{self.part}: {percent(self.now)}; {', '.join(ways)}"


@dataclass(frozen=True, slots=True)
class Known:
    """How surely faults of a board show at their best reading, and the parts for which knowing more
    adds most."""

    certainty: float
    unseen: tuple[Unseen, ...]

    @property
    def lines(self) -> tuple[str, ...]:
        """The same in words."""
        first = (
            f"A fault of this board shows at its best reading with {percent(self.certainty)}, by "
            "the model's own arithmetic."
        )
        if not self.unseen:
            return (first, "Nothing that could be typed or read adds to that.")
        return (
            first,
            "Where knowing more helps most, of each part's own faults:",
            *(one.words for one in self.unseen),
        )


def known_of(table: PredictionTable) -> Known:
    """How surely the faults of a board show, and what it costs that parts are not known."""
    board, points, weights = table.board, points_of(table), _weights(table)
    valued = (part.ref for part in board.components if is_a(part, Trait.VALUED))
    typed = msgspec.structs.replace(board, read_parts=sorted({*board.read_parts, *valued}))
    norms = {table.candidates[k].key: [float(table.low[0, k])] for k in to_learn(table)}
    taught = msgspec.structs.replace(board, norms={**norms, **board.norms})
    shows = np.array(
        [tells(replace(table, board=one), points).max(axis=1) for one in (board, typed, taught)]
    )
    shows = np.maximum(shows, shows[0])  # knowing more hides nothing
    parts = np.array([row.part for row in table.rows])
    found = []
    for part in dict.fromkeys(parts[weights > 0].tolist()):
        own = np.where(parts == part, weights, 0.0)
        found.append(Unseen(part, *(shows @ own / own.sum()).tolist()))
    costly = [one for one in found if max(one.typed, one.learned) - one.now >= WORTH_TELLING]
    costly.sort(key=lambda one: one.now - max(one.typed, one.learned))
    return Known(float(shows[0] @ weights), tuple(costly[:MOST_MISSING]))


def _apart(table: PredictionTable, numbers: Sequence[int]) -> list[int]:
    """The same without those that are read between the same two points in the same state."""
    found: dict[object, int] = {}
    for number in numbers:
        one = table.candidates[number]
        spot = (frozenset((one.probe.plus, one.probe.minus)), one.probe.mode, one.state)
        found.setdefault(spot, number)
    return list(found.values())


def to_learn(table: PredictionTable) -> list[int]:
    """The points of a sound board that are worth reading, in the order of work: the dead board
    first, then standby, then on; within each what tells most more. What is known of a point by
    sound boards already is left out."""
    board = table.board
    numbers = [
        k
        for k in points_of(table)
        if np.isfinite(table.low[0, k])
        and not table.hertz[0, k]
        and table.candidates[k].key not in board.norms
    ]
    norms = {table.candidates[k].key: [float(table.low[0, k])] for k in numbers}
    taught = replace(table, board=msgspec.structs.replace(board, norms=norms))
    gain = _weights(table) @ (tells(taught, numbers) - tells(table, numbers))
    minutes = np.array([1.0 + table.candidates[k].probe.minutes for k in numbers])
    order = [k for k in np.argsort(-gain / minutes, kind="stable") if gain[k] >= LEAST_GAIN]
    chosen = _apart(table, [numbers[k] for k in order])[:MOST_TO_LEARN]
    return sorted(chosen, key=lambda k: _turn(table, k))


def _turn(table: PredictionTable, number: int) -> int:
    """Where a point stands in the order of work."""
    state = table.candidates[number].state
    if not state.plugged:
        return 0
    return 1 + (state.power is Power.ON) + 2 * (not state.main_cable)


def points_of(table: PredictionTable) -> list[int]:
    """Candidates where a meter may go with every part in its place, no load pulled, no limiter."""
    return [
        k
        for k, one in enumerate(table.candidates)
        if one.probe.meter
        and not one.probe.lifted
        and not one.state.lamp_watts
        and not one.state.without
    ]


def tells(table: PredictionTable, numbers: Sequence[int]) -> Floats:
    """How surely one reading at each candidate tells each row from a sound board, `(n_rows,
    n_numbers)`, 0 to 1: two normal distributions apart by z widths are told by the better guess
    with Φ(z/2), which wins 2Φ(z/2) − 1 of the way from a coin to certainty (textbook)."""
    found = np.zeros((len(table.rows), len(numbers)))
    for place, number in enumerate(numbers):
        column = Predicted(table, number)
        with np.errstate(invalid="ignore"):
            apart = np.abs(column.y - column.y[0]) / np.hypot(column.sigma, column.sigma[0])
        told = erf(apart / 2.0)
        unlike = (column.ticks != column.ticks[0]) | (column.open != column.open[0])
        told = np.where(unlike, 1.0, np.where(column.open & column.open[0], 0.0, told))
        found[:, place] = np.where(column.outside | column.outside[0], 0.0, np.nan_to_num(told))
    return found


def _weights(table: PredictionTable) -> Floats:
    """The share of each row among single faults of the board, `(n_rows,)`; they sum to 1."""
    own = table.single & table.on_this_board
    weights = np.where(own, np.exp(table.log_prior), 0.0)
    return np.asarray(weights / weights.sum())
