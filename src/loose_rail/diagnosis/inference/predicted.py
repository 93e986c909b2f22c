"""What every row predicts at one candidate, on the scale that readings scatter on."""

from __future__ import annotations

from dataclasses import replace
from enum import StrEnum
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.faults import NEVER_ASKS
from loose_rail.boards.probes import BULK_POINT
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.inference.by_print import held_to_print, judged_by_print
from loose_rail.diagnosis.inference.degrees import LiveDegrees
from loose_rail.diagnosis.inference.norms import norm_of, with_norm
from loose_rail.diagnosis.inference.severity import STEP_SHARE, severities_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Expectation, Judgement, expected_reading, judge
from loose_rail.judgement.limits import limit
from loose_rail.judgement.spread import (
    FULL_SCALE,
    follows_inlet,
    reads_a_resistor,
    scaled,
    sigma,
    student4,
    tick_sigma,
    unscaled,
)
from loose_rail.kernel.observation import Observation
from loose_rail.vocabulary.board_state import Power
from loose_rail.vocabulary.keys import stage_of
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]


class Make(StrEnum):
    """Whether a board is built as its list says, or is another make of the same number."""

    LISTED = "listed"
    OTHER = "other"


LOG_OHMS_RANGE = 14.0
FLAT_SHARE_OF_DOUBT = 0.5
ODD_SIGMAS = 3.0
"""From here on a prediction is told from a good board's, in its standard deviations [E]."""
UNLIKE_SHARE = 0.15
"""A predicted figure further than this share from a sound board's counts as elsewhere, whatever one
reading could tell: wider than rails and drivers scatter from set to set, about a tenth [E]."""
SHORT_UP_TO_OHMS, SOUND_FROM_TIMES = 8.0, 4.0
"""Failed silicon, foil and ceramic read anything up to here; a sound board must read clearly more
at a point for it to tell of a short [E]."""
SHORT_MIDDLE_OHMS, SHORT_SPREAD_LOG = 0.2, 1.1
"""Most shorts read some tenths of an ohm, few of them ohms [E]."""
DRAG_MIDDLE_OHMS, DRAG_SPREAD_LOG = 1.0, 1.5
"""A board that drags its rail is read through its plug, its track and often its fuse [E]."""
LEAK_ALONG_LOG = 1.3
"""What a chip's pin reads that a switch took along: some ohms, or some tens, natural logarithm
[E]."""
OTHER_VALUE_LOG = 0.3
OTHER_VALUE_SHARE = {Make.LISTED: 0.04, Make.OTHER: 0.6}
"""Boards of one number come in several makes: by how much a value differs there from the list,
natural logarithm, and what share of the parts does [E]."""
OTHER_VALUE_FROM_OHMS = 2.0
"""Lower ohms are joints, windings and shorts on any of them [E]."""
PULSES_UNKNOWN_SHARE = 0.06
"""How well the ends of pulses are known on a composed board, of the sound volts: they hang on the
timers of its chip, the windings and how the meter catches them [E]."""
UNKNOWN_IN_LINE_LOG = 0.8
"""How well the ohms of a winding are known on a composed board through which a short is read,
natural logarithm: those of a small flyback are some tenths or some ohms [E]."""
COLLAPSED_SHARE = 0.15
"""A rail of a composed board that is predicted below this share of its sound volts has collapsed;
what little stands there hangs on leads, windings and how hard the short is [E]."""
UNSTEADY = frozenset({"weak", "early", "leaky", "warm", "dried", "joint"})
"""Modes of a part that leave its rail's volts where they are for a moment [E]."""
SWINGS_SHARE = 0.03
"""Ripple at the bulk, of its sound volts, from which a meter shows it going up and down with what
is drawn [E]."""
MOST_KNOWN = 32
"""Likelihoods that a column keeps: a job is assessed again and again with the same readings."""


NOT_GIVEN_VOLTS = 0.4
"""A signal that is predicted below is not given [P]."""


class Predicted:
    """The predictions of every row at one candidate, prepared for likelihoods.

    `low`, `high`, `hertz` have the shape `(n_rows,)`.
    """

    def __init__(self, table: PredictionTable, number: int) -> None:
        self.table = table
        self.number = number
        self.board: Board = table.board
        self.probe = table.candidates[number].probe
        self.low = table.low[:, number]
        self.high = table.high[:, number]
        self.hertz = table.hertz[:, number]
        self.peak = table.peak[:, number]
        self.late = table.late[:, number]
        self.outside = np.isnan(self.low)
        self.open = np.isinf(self.low)
        self.ticks = self.hertz > 0
        self.steady = ~(self.outside | self.open | self.ticks)
        finite = np.where(self.outside | self.open, 1.0, self.low)
        self.y = scaled(finite, self.probe.mode)
        self.sigma = sigma(self.board, self.probe, finite)
        if self.probe.live and self.probe.unit == "V" and self.board.known_by == "own":
            fallen = self.steady & (np.abs(finite) < COLLAPSED_SHARE * abs(float(finite[0])))
            self.sigma = np.where(fallen, np.maximum(self.sigma, np.abs(finite)), self.sigma)
        self.shorted = np.zeros_like(self.steady)
        self.y, self.sigma = self._any_short(self.y, self.sigma)
        self.sigma = self._any_leak_along(self.sigma)
        self.normed = False
        norm = norm_of(
            self.board,
            self.probe,
            self.board.norms.get(table.candidates[number].key, ()),
            float(self.low[0]),
        )
        if norm is not None and self.steady[0]:
            self.y, self.sigma = with_norm(self.y, self.sigma, self.steady, norm)
            self.low = np.where(self.steady, unscaled(self.y, self.probe.mode), self.low)
            self.high = np.where(self.steady, self.low, self.high)
            self.normed = True
        supply = self.probe.observable.endswith(".vcc")
        self.tick_sigma = tick_sigma(np.where(self.outside, 1.0, self.high), supply)
        if self.probe.live and self.board.known_by == "own":
            floor = PULSES_UNKNOWN_SHARE * abs(float(np.nan_to_num(self.low[0])))
            self.tick_sigma = np.maximum(self.tick_sigma, floor)
        self.range = self._scale_range()
        self.doubt = limit("consequence_doubt") * (table.disturbed[:, number] & ~self._said_by_it())
        self.gross = limit("gross_error") + FLAT_SHARE_OF_DOUBT * self.doubt
        self._judged: dict[Observation, Judgement] = {}

    def _said_by_it(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` whose fault is that a board keeps this very signal back: what is read
        there is the fault itself, and no consequence that may be otherwise."""
        if not self.probe.live or all(s.id != self.probe.observable for s in self.board.signals):
            return np.zeros(len(self.table.rows), dtype=bool)
        kept = {NEVER_ASKS, f"no_{self.probe.observable}"}
        said = [any(fault.mode in kept for fault in row.faults) for row in self.table.rows]
        return np.array(said) & (np.nan_to_num(self.high) < NOT_GIVEN_VOLTS)

    def _any_short(self, y: Floats, sigma: Floats) -> tuple[Floats, Floats]:
        """With every row that is shorted here as a short of any ohms: which of several parts across
        the same nets has failed is never told by how low it reads."""
        if self.probe.live or self.probe.mode not in (MeterMode.OHMS, MeterMode.CONTINUITY):
            return y, sigma
        if not self.open[0] and not self.low[0] > SOUND_FROM_TIMES * SHORT_UP_TO_OHMS:
            return y, sigma
        shorted = self.shorted = self.steady & (self.low < SHORT_UP_TO_OHMS)
        ohms, wide = SHORT_MIDDLE_OHMS, SHORT_SPREAD_LOG
        if self.probe.unplugged:
            ohms, wide = DRAG_MIDDLE_OHMS, DRAG_SPREAD_LOG
        middle = scaled(ohms, self.probe.mode)
        return np.where(shorted, middle, y), np.where(shorted, wide, sigma)

    def _any_leak_along(self, sigma: Floats) -> Floats:
        """With every row that reads here a part which failed along with a short as a leak of any
        ohms: what is left of a chip that its switch took along is as open as the switch."""
        if self.probe.live or self.probe.mode is not MeterMode.OHMS:
            return sigma
        rows = severities_of(self.table).leaks_along(self.low)
        wide = np.zeros_like(sigma)
        wide[rows] = LEAK_ALONG_LOG
        return np.maximum(sigma, wide)

    @cached_property
    def odd(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` that read here unlike a good board: further than `ODD_SIGMAS`, or open,
        or pulsing where it is not. The row outside the model is not among them."""
        gap = np.abs(self.y - self.y[0]) / self.sigma[0]
        odd = (self.ticks != self.ticks[0]) | (self.open != self.open[0])
        return np.asarray((odd | (self.steady & (gap > ODD_SIGMAS))) & ~self.outside)

    def of_own_stage(self, modes: frozenset[str]) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` whose cause is a part of the stage that makes this point's volts, in one
        of some modes."""
        stage = stage_of(self.probe.observable)
        roles = self.board.roles
        own = {ref for job, refs in roles.items() if stage_of(job) == stage for ref in refs}
        causes = [row.faults[0] if row.faults else None for row in self.table.rows]
        return np.array([c is not None and c.ref in own and c.mode in modes for c in causes])

    @cached_property
    def unsteady(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` in which this rail's own source may hold its volts and not still: what
        ages in its loop comes and goes with warmth, and a bulk that has dried goes up and down with
        what is drawn."""
        found = np.zeros(len(self.low), dtype=bool)
        if not self.probe.live:
            return found
        if self.probe.rail:
            found = self.of_own_stage(UNSTEADY)
        point, _, state = self.table.candidates[self.number].key.partition("@")
        ripple = self.table.column_or_none(f"{point}.ripple@{state}")
        if self.probe.observable == BULK_POINT and ripple is not None:
            swing = np.nan_to_num(self.table.high[:, ripple])
            found = found | (swing > SWINGS_SHARE * abs(float(np.nan_to_num(self.low[0]))))
        return found

    @cached_property
    def unlike(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` that are predicted elsewhere than a sound board, whether or not one
        reading would tell: a driver that runs into its limit does, however wide its volts are
        known."""
        away = np.abs(np.nan_to_num(self.low) - self.low[0]) > UNLIKE_SHARE * np.abs(self.low[0])
        return np.asarray(self.odd | (away & ~self.outside & ~self.open))

    @cached_property
    def good(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` that read here as a good board does."""
        return np.asarray(~self.odd & ~self.outside)

    @cached_property
    def expectation(self) -> Expectation:
        """What a good board reads here; where sound boards were read, by them too."""
        found = expected_reading(self.board, self.probe, float(self.low[0]))
        return replace(found, sigma=float(self.sigma[0])) if self.normed else found

    @property
    def inlet_volts(self) -> float:
        """The measured inlet that a good board's reading here goes up and down with; 0 where none
        was measured, or it does not."""
        inlet = self.board.mains.inlet_volts
        return inlet if inlet and bool(follows_inlet(self.probe, self.low[:1], inlet)[0]) else 0.0

    def judged(self, observation: Observation) -> Judgement:
        """A reading here against a good board."""
        if observation not in self._judged:
            if len(self._judged) >= MOST_KNOWN:
                self._judged.clear()
            plain = judge(self.probe, observation, self.expectation)
            if reads_a_resistor(self.board, self.probe):
                held = held_to_print(self.board, self.probe, observation)
                plain = judged_by_print(held, plain)
            self._judged[observation] = plain
        return self._judged[observation]

    def _scale_range(self) -> float:
        if self.probe.mode is MeterMode.DIODE or self.probe.mode.of_lamps:
            return FULL_SCALE[self.probe.mode]
        if self.probe.unit != "V":
            return LOG_OHMS_RANGE
        return 1.3 * float(np.nanmax(self.high)) + 1.0

    @property
    def highest(self) -> float:
        """Highest finite prediction of any row, in SI units."""
        finite = self.high[np.isfinite(self.high)]
        return float(finite.max()) if len(finite) else 0.0

    @cached_property
    def live_degrees(self) -> LiveDegrees:
        return LiveDegrees(self.table, self.number)

    @property
    def by_make(self) -> bool:
        """Whether what is read here hangs on the values of parts, which makes differ in."""
        of_values = self.probe.mode in (MeterMode.OHMS, MeterMode.ESR, MeterMode.CAPACITANCE)
        ours = not (self.probe.live or self.probe.unplugged)
        return of_values and ours and not self.normed

    @cached_property
    def degrees(self) -> tuple[Floats, Floats, NDArray[np.bool_]] | None:
        """What every degree of the rows of `severities_of` reads here on the scale of `scaled`, its
        standard deviation, both `(n, DEGREES)`, and at which rows `(n,)` that matters; None where a
        degree shows in no number."""
        if self.probe.live or self.probe.mode not in (MeterMode.OHMS, MeterMode.ESR):
            return None
        read, matters, in_line = severities_of(self.table).readings(self.low, self.probe.mode)
        if not matters.any():
            return None
        middle = scaled(read, self.probe.mode)
        width = sigma(self.board, self.probe, read)
        if self.board.known_by == "own":
            width = np.hypot(width, UNKNOWN_IN_LINE_LOG * in_line)
        return middle, np.hypot(width, STEP_SHARE * np.gradient(middle, axis=1)), matters

    def of_degrees(self, y: float, make: Make) -> tuple[Floats, NDArray[np.bool_]]:
        """Density of a value here under every degree `(n, DEGREES)`, and the rows `(n,)` that it
        holds for."""
        assert self.degrees is not None
        middle, width, matters = self.degrees
        density = student4((y - middle) / width) / width
        if self.by_make:
            wide = np.hypot(width, OTHER_VALUE_LOG)
            low = (middle < scaled(OTHER_VALUE_FROM_OHMS, self.probe.mode)) & (
                self.probe.mode is MeterMode.OHMS
            )
            share = np.where(low, 0.0, OTHER_VALUE_SHARE[make])
            density = density + share * (student4((y - middle) / wide) / wide - density)
        return density, matters

    @cached_property
    def fixed(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` that read the same here on every make: joints, windings and shorts."""
        low = np.nan_to_num(self.low, posinf=0.0) < OTHER_VALUE_FROM_OHMS
        return self.shorted | (low & (self.probe.mode is MeterMode.OHMS))

    @cached_property
    def asked(self) -> bool:
        """Whether a point stands only while the main board asks for it."""
        state = self.table.candidates[self.number].state
        if state.power is not Power.ON:
            return False
        asleep = f"{self.probe.id}@{replace(state, power=Power.STANDBY, without='').key}"
        column = self.table.column_or_none(asleep)
        return column is None or not float(self.table.high[0, column]) > 0.5 * float(self.low[0])
