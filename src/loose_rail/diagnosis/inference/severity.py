"""How far a fault has gone is a number of its own, integrated over jointly for all readings.

A short is whatever failed silicon, foil or ceramic is left with, a leak or a drift has any size.
The table holds a few of them; between these the reading of one probe follows from the reading with
a little and with much of the fault: a linear network read at two points is a fractional linear
function of any one resistance in it (bilinear theorem, textbook). Every row of such a fault carries
a grid of degrees with weights; what two readings say of the degree must agree.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.faults import Fault
from loose_rail.boards.kinds.kind import Effect
from loose_rail.diagnosis.model.table import LEAST_LEAK_OHMS, PredictionTable
from loose_rail.judgement.spread import FULL_SCALE, scaled, student4
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]

DEGREES = 20
"""Degrees of each fault that are weighed: their steps are about as wide as a reading scatters."""
STEP_SHARE = 0.6
"""Each degree stands for this share of the steps to its neighbours, as a standard deviation."""
SHORT_OHMS = (0.02, 10.0)
"""What failed silicon, foil and ceramic conduct at, from a clean weld to a charred path [E]."""
SHORT_MIDDLE_OHMS, SHORT_SPREAD_LOG = 0.3, 1.3
"""Most shorts read some tenths of an ohm, few of them ohms [E]."""
LEAK_LOG = (-2.6, 1.7)
"""A leak lies so far around the sizes that are worked out, natural logarithm [E]."""
OF_CHANGE = (0.55, 1.9)
"""A part that dries or drifts has done so by this share of what is worked out [E]."""
LEAST_SHIFT_LOG = 0.1
"""A fault that moves a reading by less, natural logarithm, does not show there."""
LEAST_READ_OHMS = 1e-3
ALONG_LOG = 0.2
"""A reading this near to what a part conducts at, natural logarithm, is of that part."""
PLAIN_OHMS, PLAIN_TIMES = 40.0, 3.0
"""What reads more than this, or so many times what conducts, is read through junctions: there the
degree hardly matters, and no resistance is plain any more [E]."""


@dataclass(frozen=True)
class Severities:
    """The rows `(n,)` of a table whose fault is a matter of degree, and their grids: `ohms` `(n,
    DEGREES)` of what conducts, `change` `(n, DEGREES)` as a share of what is worked out, `weights`
    `(n, DEGREES)` that sum to 1 in every row."""

    rows: NDArray[np.intp]
    short: NDArray[np.bool_]
    leak: NDArray[np.bool_]
    own_ohms: Floats
    least_ohms: Floats
    place_ohms: Floats
    along_ohms: Floats
    ohms: Floats
    change: Floats
    weights: Floats

    def readings(self, low: Floats, mode: MeterMode) -> tuple[Floats, NDArray[np.bool_], Floats]:
        """What each degree reads at a probe, `(n, DEGREES)` in ohms, at which rows `(n,)` it
        matters there, and what share of a short's reading `(n, DEGREES)` is not the short but what
        lies in line with it. `low` `(n_rows,)` are the table's predictions at the probe, ohms."""
        most = FULL_SCALE[mode]
        sound = float(min(low[0], most)) if np.isfinite(low[0]) else most
        row = np.minimum(np.where(np.isfinite(low[self.rows]), low[self.rows], most), most)
        row = np.maximum(row, LEAST_READ_OHMS)
        shift = scaled(row, mode) - scaled(sound, mode)
        shows = np.abs(shift) > LEAST_SHIFT_LOG
        falls = shows & (shift < 0.0)
        # of two shorts in a row the one that conducts well is read where the other would read more
        own = np.where(self.own_ohms > row, np.minimum(self.least_ohms, row), self.own_ohms)
        in_line = np.maximum(row - own, 0.0)[:, None]
        beside = np.maximum(1.0 / row - 1.0 / own, 0.0)[:, None]
        short = np.minimum(in_line + 1.0 / (1.0 / self.ohms + beside), sound)
        plain = row < np.maximum(PLAIN_OHMS, PLAIN_TIMES * self.own_ohms)
        falls, shows = falls & plain, shows & (plain | ~self.leak)
        found = np.where((falls & self.short)[:, None], short, row[:, None])
        leak = self._leak(row, sound, mode)
        found = np.where((shows & self.leak)[:, None], leak, found)
        steps = ~(self.short | self.leak)
        moved = scaled(sound, mode) + shift[:, None] * self.change
        origin = scaled(0.0, mode)
        scale = np.maximum(np.exp(moved) - np.exp(origin), 0.0)
        found = np.where((shows & steps)[:, None], np.minimum(scale, most), found)
        matters = ((falls & self.short) | (shows & ~self.short)) & ~self._along(row)
        found = np.clip(found, LEAST_READ_OHMS, most)
        share = np.where((falls & self.short)[:, None], in_line / found, 0.0)
        return found, matters, np.minimum(share, 1.0)

    def leaks_along(self, low: Floats) -> NDArray[np.intp]:
        """The rows of the table that read at a probe what failed along with a short conducts at: a
        leak of its own, of any size, whatever the short is. `low` as for `readings`."""
        found: NDArray[np.intp] = self.rows[self._along(low[self.rows])]
        return found

    def _along(self, row: Floats) -> NDArray[np.bool_]:
        known = (self.along_ohms > 0.0) & (row > 0.0) & np.isfinite(row)
        apart = np.log(np.where(known, row, 1.0) / np.where(known, self.along_ohms, 1.0))
        return np.asarray(known & (np.abs(apart) < ALONG_LOG))

    def _leak(self, row: Floats, sound: float, mode: MeterMode) -> Floats:
        """(sound·R + none·D) / (R + D), with D what the place reads by itself."""
        place = np.full_like(self.place_ohms, sound) if mode is MeterMode.ESR else self.place_ohms
        none = (row * (self.own_ohms + place) - sound * self.own_ohms) / place
        top = sound * self.ohms + none[:, None] * place[:, None]
        return np.asarray(np.maximum(top / (self.ohms + place[:, None]), LEAST_READ_OHMS))


def severities_of(table: PredictionTable) -> Severities:
    """The degrees of a table's rows, prepared once."""
    if "severities" not in table.by_rows:
        table.by_rows["severities"] = _prepared(table)
    found: Severities = table.by_rows["severities"]
    return found


def _prepared(table: PredictionTable) -> Severities:
    rows, short, leak, own, least, place, along = [], [], [], [], [], [], []
    for number, row in enumerate(table.rows):
        conducts = [f for f in row.faults if f.effect is Effect.BRIDGE]
        shorts = [f for f in conducts if f.ohms < LEAST_LEAK_OHMS]
        alone = row.faults[0] if len(row.faults) == 1 else None
        by_size = alone is not None and alone.effect in (Effect.SCALE, Effect.RESISTIVE)
        leaks = alone is not None and alone in conducts and not shorts
        if not (shorts or by_size or leaks):
            continue
        rows.append(number)
        short.append(bool(shorts))
        leak.append(leaks)
        own.append((shorts or conducts or [row.faults[0]])[0].ohms or 1.0)
        least.append(min(f.ohms or 1.0 for f in shorts or conducts or [row.faults[0]]))
        place.append(_place_ohms(table, row.faults[0]) if leaks else 1.0)
        beside = [f.ohms for f in conducts if shorts and f not in shorts]
        along.append(beside[0] if beside else 0.0)
    ohms = np.array(own), np.array(least), np.array(place), np.array(along)
    return _with_grids(rows, np.array(short), np.array(leak), *ohms)


def _with_grids(
    rows: Sequence[int],
    short: NDArray[np.bool_],
    leak: NDArray[np.bool_],
    own: Floats,
    least: Floats,
    place: Floats,
    along: Floats,
) -> Severities:
    n = len(rows)
    short, leak = short.reshape(n).astype(bool), leak.reshape(n).astype(bool)
    of_short = np.geomspace(*SHORT_OHMS, DEGREES)
    around = np.exp(np.linspace(*LEAK_LOG, DEGREES))
    ohms = np.where(short[:, None], of_short, own.reshape(n, 1) * around)
    change = np.tile(np.linspace(*OF_CHANGE, DEGREES), (n, 1))
    likely = student4(np.log(of_short / SHORT_MIDDLE_OHMS) / SHORT_SPREAD_LOG)
    weights = np.where(short[:, None], likely, 1.0)
    return Severities(
        rows=np.array(rows, dtype=np.intp),
        short=short,
        leak=leak,
        own_ohms=own.reshape(n).astype(float),
        least_ohms=least.reshape(n).astype(float),
        place_ohms=place.reshape(n).astype(float),
        along_ohms=along.reshape(n).astype(float),
        ohms=ohms,
        change=change,
        weights=weights / weights.sum(axis=1, keepdims=True),
    )


def _place_ohms(table: PredictionTable, fault: Fault) -> float:
    """What a sound board reads between the pins that a fault joins, ohms; the most that a meter
    shows where nobody reads there."""
    part = table.board.component(fault.ref)
    nets = {frozenset((part.pins[a], part.pins[b])) for a, b in fault.pairs if a and b}
    for number, candidate in enumerate(table.candidates):
        probe = candidate.probe
        if probe.lifted or probe.live or probe.mode is not MeterMode.OHMS:
            continue
        if frozenset((probe.plus, probe.minus)) in nets:
            return float(min(table.low[0, number], FULL_SCALE[MeterMode.OHMS]))
    return FULL_SCALE[MeterMode.OHMS]
