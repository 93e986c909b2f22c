"""Faults that are a matter of degree: a load drags, a part dries, drifts or leaks as far as it
likes. The table holds a few degrees of each; what is read may lie anywhere between them and sound.
"""

from __future__ import annotations

from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.probes import Probe
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.spread import FULL_SCALE, scaled
from loose_rail.kernel.observation import Observation
from loose_rail.vocabulary.keys import is_ripple, part_of
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]

SHARE = 0.3
"""How often the degree of a fault lies between those that are worked out [E]."""
MOST_TIMES = 1.35
"""How far a divider that drifts lifts its rail, before something trips [E]."""
LEAST_SHARE = 0.06
"""Of the sound value: less of a range than this is none."""
DEAD_SHARE = 0.5
"""The same share on the dead board: how much a part leaks, drifts or dries is hardly ever what was
worked out [E]."""
BEYOND_LOG = 1.6
"""How far beyond the worst degree that is worked out a reading may lie, natural logarithm [E]."""
LEAST_LOG = 0.2
"""A fault that moves a dead reading by less, natural logarithm, does not show there [E]."""


MOST_SHORT_OHMS, LEAST_SHORT_LOG = 8.0, 0.1
"""What failed silicon, foil and ceramic may read; a span below this is none, natural logarithm."""


class LiveDegrees:
    """How far the rails of rows `(n_rows,)` may go where only the degree of a fault is open."""

    def __init__(self, table: PredictionTable, number: int) -> None:
        self._table = table
        self._low, self._high = table.low[:, number], table.high[:, number]
        self._ticks = table.hertz[:, number] > 0
        self.sound = float(np.nan_to_num(self._low[0]))
        probe = table.candidates[number].probe
        self._applies = probe.live and probe.unit == "V" and not is_ripple(probe.observable)

    @cached_property
    def between(self) -> tuple[Floats, Floats]:
        """From the extreme of each suspect's severities to the sound value; empty ranges else."""
        low, high = np.full_like(self._low, self.sound), np.full_like(self._low, self.sound)
        if not self._applies:
            return low, high
        of_row, alone = self._table.suspects.of_row, self._table.single
        for number in self._table.of_degree:
            rows = (of_row == number) & alone
            low[rows] = min(self.sound, float(np.nanmin(self._low[rows])))
            most = float(np.nanmax(np.where(self._ticks, self.sound, self._high)[rows]))
            lifts = most > 1.03 * self.sound
            high[rows] = max(most, MOST_TIMES * self.sound) if lifts else self.sound
        return low, high

    @cached_property
    def open(self) -> Mask:
        """Rows `(n_rows,)` whose value here is open between two ends."""
        low, high = self.between
        return high - low > LEAST_SHARE * max(abs(self.sound), 1.0)

    def steady(self, volts: float) -> Floats:
        """Density of a steady value where only the degree of a fault is open."""
        low, high = self.between
        inside = self.open & (volts > low) & (volts < high)
        return np.where(inside, SHARE / np.where(self.open, high - low, 1.0), 0.0)

    def ticking(self, observation: Observation) -> Floats:
        """Density of a rail that tries again and again: how high it gets before it is stopped."""
        low, _ = self.between
        pulled = (low < 0.5 * self.sound) & (observation.high < self.sound)
        reach = max(self.sound * max(observation.high, 0.1), 1e-3)
        return np.where(pulled, SHARE / reach, 0.0)


class DeadDegrees:
    """The same for ohms and ESR on the dead board, on the scale that readings scatter on."""

    def __init__(self, table: PredictionTable, number: int) -> None:
        self._table = table
        self._probe: Probe = table.candidates[number].probe
        self._low = table.low[:, number]

    @cached_property
    def _ends(self) -> tuple[Floats, Floats]:
        low, high = np.zeros_like(self._low), np.zeros_like(self._low)
        mode = self._probe.mode
        if self._probe.live or mode not in (MeterMode.OHMS, MeterMode.ESR):
            return low, high
        y = scaled(np.minimum(np.nan_to_num(self._low, posinf=np.inf), FULL_SCALE[mode]), mode)
        self._of_shorts(y, low, high)
        for suspect, alone in self._table.dead_degrees:
            own = part_of(suspect) == self._probe.part
            rows = self._table.rows_with[suspect] if own else alone
            ends = y[alone]
            down, up = float(y[0] - ends.min()), float(ends.max() - y[0])
            if max(down, up) < LEAST_LOG:
                continue
            low[rows] = y[0] - (down + BEYOND_LOG if down > LEAST_LOG else 0.0)
            high[rows] = y[0] + (up + BEYOND_LOG if up > LEAST_LOG else 0.0)
        return low, high

    def _of_shorts(self, y: Floats, low: Floats, high: Floats) -> None:
        """Rows with a short somewhere that shows here: it may have more ohms than was worked out,
        so that what is read lies further up, at most where a sound board reads."""
        shorts = self._table.with_short & np.isfinite(self._low)
        more = scaled(np.where(shorts, self._low, 1.0) + MOST_SHORT_OHMS, self._probe.mode)
        top = np.minimum(more, y[0])
        open_ended = shorts & (top - y > LEAST_SHORT_LOG)
        low[open_ended] = y[open_ended] - LEAST_SHORT_LOG
        high[open_ended] = top[open_ended] + LEAST_SHORT_LOG

    def mixed(self, plain: Floats, y: float) -> Floats:
        """The densities of a value `(n_rows,)`, with what the degree of a fault leaves open."""
        low, high = self._ends
        spread = high > low
        inside = spread & (y > low) & (y < high)
        between = np.where(inside, 1.0 / np.where(spread, high - low, 1.0), 0.0)
        return np.where(spread, (1.0 - DEAD_SHARE) * plain + DEAD_SHARE * between, plain)
