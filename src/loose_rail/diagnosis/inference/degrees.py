"""Faults that are a matter of degree, on a powered board: a load drags, a part dries or leaks as
far as it likes. The table holds a few degrees of each; a rail may stand anywhere between them and
sound.
"""

from __future__ import annotations

from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.barrier import on_the_hot_side
from loose_rail.boards.powered_board import STATUS
from loose_rail.boards.profile import Side
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.observation import Observation
from loose_rail.vocabulary.keys import is_ripple, job_of, stage_of
from loose_rail.vocabulary.roles import BoardRole, Job

Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]

SHARE = 0.3
"""How often the degree of a fault lies between those that are worked out [E]."""
SHARE_LIFTED = 0.9
"""The same where the fault lifts its rail: a drift or an aged coupler goes as far as it likes, and
the degrees that are worked out are no likelier than any other [E]."""
SHARE_OF_LOADS = 0.6
"""The same of a load that drags: it takes what it likes, and what the supply of a board gives
before it stops is known of few [E]."""
MOST_TIMES = 1.35
"""How far a divider that drifts lifts its rail, before something trips [E]."""
BARE_BULK_SHARE = 0.64
"""Of the peak, the mean of rectified mains with no capacitor left, 2/π (textbook): a bulk may dry
further than the furthest degree that is worked out."""
STOPPING = ("short", "leaky", "dried")
"""Modes that feed a supply or its controller, or do not."""
AS_SOUND = 0.4
"""Share of the milder degrees of a fault that leave a point as on a sound board, while another
point already gives way [E]."""
BARE_RIPPLE_SHARE = 0.31
"""Of the peak, the AC volts of rectified mains with no capacitor left (textbook), and about what a
switched rail without one shows."""
RIPPLE_TIMES = 1.5
"""A fault that makes a rail's ripple so many times a sound one's makes it any more than that."""
STANDS_VOLTS = 1.0
"""A rail that a sound board leaves below it is off in this state."""
RESERVOIRS = (Job.RESERVOIR, Job.OUTPUT, str(BoardRole.BULK))
LEAST_SHARE = 0.06
"""Of the sound value: less of a range than this is none."""


class LiveDegrees:
    """How far the rails of rows `(n_rows,)` may go where only the degree of a fault is open."""

    def __init__(self, table: PredictionTable, number: int) -> None:
        self._table, self._number = table, number
        self._low, self._high = table.low[:, number], table.high[:, number]
        self._ticks = table.hertz[:, number] > 0
        self.sound = float(np.nan_to_num(self._low[0]))
        probe = table.candidates[number].probe
        self._of_bulk = probe.observable == str(BoardRole.BULK)
        stage = table.board.stage(stage_of(probe.observable))
        level = stage is not None and stage.kind == STATUS  # a line that reports has two
        self._ripple = is_ripple(probe.observable)
        self._applies = probe.live and probe.unit == "V" and not level
        self._cold = table.board.net(probe.minus).side is Side.COLD

    @cached_property
    def between(self) -> tuple[Floats, Floats]:
        """From the extreme of each suspect's severities to the sound value; empty ranges else."""
        low, high = np.full_like(self._low, self.sound), np.full_like(self._low, self.sound)
        if not self._applies:
            return low, high
        if self._ripple:
            return self._between_ripples
        of_row, alone = self._table.suspects.of_row, self._table.single
        for number in self._table.of_degree:
            rows = (of_row == number) & alone
            if self._cold and self._stops_or_not(rows):
                continue
            least = min(self.sound, float(np.nanmin(self._low[rows])))
            if self._of_bulk and self._dries_the_bulk(rows):
                least = min(least, BARE_BULK_SHARE * self.sound)
            low[rows] = least
            most = float(np.nanmax(np.where(self._ticks, self.sound, self._high)[rows]))
            lifts = most > 1.03 * self.sound
            high[rows] = max(most, MOST_TIMES * self.sound) if lifts else self.sound
        return low, high

    @cached_property
    def _between_ripples(self) -> tuple[Floats, Floats]:
        """The same for AC volts: from a sound rail's to those of a rail with no capacitor."""
        low, high = np.full_like(self._low, self.sound), np.full_like(self._low, self.sound)
        most = BARE_RIPPLE_SHARE * self.rail_volts
        of_row, alone = self._table.suspects.of_row, self._table.single
        for number in self._table.of_degree:
            rows = (of_row == number) & alone
            lifts = float(np.nanmax(self._high[rows])) > RIPPLE_TIMES * self.sound
            if lifts or self._dries_a_reservoir_here(rows):
                high[rows] = max(most, self.sound)
        return low, high

    def _dries_a_reservoir_here(self, rows: Mask) -> bool:
        """Whether a fault dries what smooths this very rail: its supply may give up before the
        ripple shows in the model, on other boards it goes on."""
        row = self._table.rows[int(np.argmax(rows))]
        stage = stage_of(self._table.candidates[self._number].probe.observable)
        own = {
            ref
            for name, refs in self._table.board.roles.items()
            if stage_of(name) == stage and job_of(name) in RESERVOIRS
            for ref in refs
        }
        return row.faults[0].mode == "dried" and row.part in own

    @cached_property
    def rail_volts(self) -> float:
        """What a sound board's rail stands at beside this ripple; 0 where nobody reads it."""
        here = self._table.candidates[self._number]
        stage = stage_of(here.probe.observable)
        for number, one in enumerate(self._table.candidates):
            point = one.probe.observable
            plain = one.probe.live and one.state == here.state and not is_ripple(point)
            if plain and one.probe.unit == "V" and stage_of(point) == stage:
                return float(np.nan_to_num(self._table.low[0, number]))
        return 0.0

    def _stops_or_not(self, rows: Mask) -> bool:
        """Whether a fault behind the barrier leaves a regulated rail right or stops its supply: a
        rail on the cold side then stands nowhere between."""
        board, fault = self._table.board, self._table.rows[int(np.argmax(rows))].faults[0]
        bulk = board.roles.get(BoardRole.BULK, [])
        return (
            fault.mode in STOPPING
            and on_the_hot_side(board, fault.ref)
            and not (fault.mode == "dried" and fault.ref in bulk)
        )

    def _dries_the_bulk(self, rows: Mask) -> bool:
        row = self._table.rows[int(np.argmax(rows))]
        bulk = self._table.board.roles.get(BoardRole.BULK, [])
        return row.faults[0].mode == "dried" and row.part in bulk

    @cached_property
    def open(self) -> Mask:
        """Rows `(n_rows,)` whose value here is open between two ends."""
        low, high = self.between
        about = self.rail_volts if self._ripple else abs(self.sound)
        return high - low > LEAST_SHARE * max(about, 1.0)

    @cached_property
    def share(self) -> Floats:
        """How often the degree lies between those that are worked out `(n_rows,)`."""
        stands = self.sound > STANDS_VOLTS  # what stands unasked is on, to no degree
        lifted = self.open & (self.between[1] > self.sound) & (stands and not self._ripple)
        share = np.where(lifted, SHARE_LIFTED, np.where(self._loads, SHARE_OF_LOADS, SHARE))
        return np.asarray(np.where(self.open, share, 0.0))

    @cached_property
    def _loads(self) -> Mask:
        """Rows `(n_rows,)` of one fault of a load that takes too much."""
        rows = self._table.rows
        return np.array([len(row.faults) == 1 and row.faults[0].loads_a_rail for row in rows])

    def mixed(self, volts: float, plain: Floats) -> Floats:
        """Density of a value `(n_rows,)`: `plain` where the degree is one that is worked out,
        anywhere between where it is not."""
        return np.asarray((1.0 - self.share) * plain + self.share * self.elsewhere(volts, plain))

    def elsewhere(self, volts: float, plain: Floats) -> Floats:
        """Density of a value `(n_rows,)` under a degree that is none of those: anywhere between, or
        still as on a sound board; `plain` where no degree is open here."""
        low, high = self.between
        inside = self.open & (volts > low) & (volts < high)
        spread = np.where(inside, 1.0 / np.where(self.open, high - low, 1.0), 0.0)
        return np.where(self.open, (1.0 - AS_SOUND) * spread + AS_SOUND * plain[0], plain)

    def steady(self, volts: float) -> Floats:
        """Density of a steady value where only the degree of a fault is open."""
        low, high = self.between
        inside = self.open & (volts > low) & (volts < high)
        return np.where(inside, self.share / np.where(self.open, high - low, 1.0), 0.0)

    def like_another(self, plain: Floats) -> Floats:
        """What the other degrees of the same fault add to the densities `(n_rows,)` of pulses: a
        degree between one that stands and one that is stopped is stopped in the same way."""
        added = np.zeros_like(plain)
        if not self._applies:
            return added
        of_row, alone = self._table.suspects.of_row, self._table.single
        for number in self._table.of_degree:
            rows = (of_row == number) & alone
            added[rows] = SHARE * float(plain[rows].max())
        return added

    def ticking(self, observation: Observation) -> Floats:
        """Density of a rail that tries again and again: how high it gets before it is stopped."""
        low, _ = self.between
        pulled = (low < 0.5 * self.sound) & (observation.high < self.sound)
        reach = max(self.sound * max(observation.high, 0.1), 1e-3)
        return np.where(pulled, SHARE / reach, 0.0)
