"""How likely an observation is under each row: Student's t around the prediction over a floor.

p(observation | row) = (1 − e)·f + e·flat with e the share of gross errors; on a powered board that
a fault disturbs, e holds the doubt about what else the fault does to it. For one observation all
rows are measured alike (a density on the probe's scale, or a probability), so that ratios mean
something. The row outside the model is flat everywhere.
"""

from __future__ import annotations

from dataclasses import replace
from enum import StrEnum
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Effect
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.inference.course import Courses, course_likelihood
from loose_rail.diagnosis.inference.degrees import SHARE as OPEN_SHARE
from loose_rail.diagnosis.inference.degrees import LiveDegrees
from loose_rail.diagnosis.inference.norms import norm_of, with_norm
from loose_rail.diagnosis.inference.severity import STEP_SHARE, severities_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Expectation, Judgement, expected_reading, judge
from loose_rail.judgement.limits import limit
from loose_rail.judgement.spread import (
    FULL_SCALE,
    follows_inlet,
    scaled,
    sigma,
    student4,
    student4_below,
    tick_sigma,
    unscaled,
)
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.board_state import Power
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]


class Make(StrEnum):
    """Whether a board is built as its list says, or is another make of the same number."""

    LISTED = "listed"
    OTHER = "other"


FLAT_PROBABILITY = 0.3
LOG_OHMS_RANGE = 14.0
SINGLE_VALUE_OF_TICKING = 0.25
"""Chance that a ticking point is noted as one value somewhere between its ends [E]."""
WANDERING_OF_STEADY, WANDERING_OF_ODD = 0.01, 0.25
"""Chance that a steady point is noted as wandering: a good rail is still, one that is held down or
carries more ripple than it should is not [E]."""
WANDERING_OF_UNKNOWN = 0.1
"""The same where nothing is known."""
SHORT_BELOW_OHMS = 1.0
CAUGHT_MOVING = 0.25
"""Chance that a contact turns over while the probes are on and is noted as moving [E]."""


FLAT_SHARE_OF_DOUBT = 0.5
DOUBTFUL_SPREAD_SHARE = 0.15
"""Half of the doubt about a consequence is that it is a little other than predicted, by a sixth;
half that it is another altogether [E]."""
ODD_SIGMAS = 3.0
"""From here on a prediction is told from a good board's, in its standard deviations [E]."""
SHORT_UP_TO_OHMS, SOUND_FROM_TIMES = 8.0, 4.0
"""Failed silicon, foil and ceramic read anything up to here; a sound board must read clearly more
at a point for it to tell of a short [E]."""
SHORT_MIDDLE_OHMS, SHORT_SPREAD_LOG = 0.2, 1.1
"""Most shorts read some tenths of an ohm, few of them ohms [E]."""
UNTOUCHED = 0.6
"""Share of points that a fault outside the model leaves as a good board's: most of a board is right
whatever fails [E]."""
OUTSIDE_SHORTS = 0.2
"""How often an unknown fault shorts a given point, over what a meter's range would say [E]."""
SHORT_BUT_SILENT = 0.05
"""Chance that a meter does not beep across one, or the hand does not call it a short [E]."""
OPEN_READS_OPEN = 0.6
"""Chance that a part which is open reads open in place, though some path is predicted [E]."""
TICKING_OF_UNKNOWN = 0.15
"""Chance that a point of which nothing is known is noted as ticking."""
WITHDRAWN, WITHDRAWN_BELOW_SHARE = 0.3, 0.3
"""Share of main boards with a fault of their own that ask and withdraw in a loop, and how far down
what they asked for goes meanwhile [E]."""
TRIES_AGAIN = 0.25
"""Share of composed boards on which a stage that stops does so otherwise than predicted [E]."""
TWICE_SLIPPED = 0.1
"""Share of slips that a second reading repeats: the same wrong pin, the same range [E]."""
OTHER_VALUE_LOG = 0.3
OTHER_VALUE_SHARE = {Make.LISTED: 0.04, Make.OTHER: 0.6}
"""Boards of one number come in several makes: by how much a value differs there from the list,
natural logarithm, and what share of the parts does [E]."""
OTHER_VALUE_FROM_OHMS = 2.0
"""Lower ohms are joints, windings and shorts on any of them [E]."""
NOTHING_SHARE = 0.04
"""Pulses below this share of the sound value are a dead point: what little moves there tells
nothing of what stops it [E]."""
MOST_KNOWN = 32
"""Likelihoods that a column keeps: a job is assessed again and again with the same readings."""


def column_of(table: PredictionTable, number: int) -> Column:
    """The column of a candidate, prepared once for a table."""
    if number not in table.prepared:
        table.prepared[number] = Column(table, number)
    found: Column = table.prepared[number]
    return found


class Column:
    """The predictions of every row at one candidate, prepared for likelihoods.

    `low`, `high`, `hertz` have the shape `(n_rows,)`.
    """

    def __init__(self, table: PredictionTable, number: int) -> None:
        self.table = table
        self._number = number
        self.board: Board = table.board
        self.probe = table.candidates[number].probe
        self.low = table.low[:, number]
        self.high = table.high[:, number]
        self.hertz = table.hertz[:, number]
        self.peak = table.peak[:, number]
        self.outside = np.isnan(self.low)
        self.open = np.isinf(self.low)
        self.ticks = self.hertz > 0
        self.steady = ~(self.outside | self.open | self.ticks)
        finite = np.where(self.outside | self.open, 1.0, self.low)
        self.y = scaled(finite, self.probe.mode)
        self.sigma = sigma(self.board, self.probe, finite)
        self.shorted = np.zeros_like(self.steady)
        self.y, self.sigma = self._any_short(self.y, self.sigma)
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
        self.tick_sigma = tick_sigma(np.where(self.outside, 1.0, self.high))
        self.range = self._scale_range()
        self.doubt = limit("consequence_doubt") * table.disturbed[:, number]
        self.gross = limit("gross_error") + FLAT_SHARE_OF_DOUBT * self.doubt
        self._known: dict[tuple[Observation, Make, bool], Floats] = {}
        self._judged: dict[Observation, Judgement] = {}

    def _any_short(self, y: Floats, sigma: Floats) -> tuple[Floats, Floats]:
        """With every row that is shorted here as a short of any ohms: which of several parts across
        the same nets has failed is never told by how low it reads."""
        if self.probe.live or self.probe.mode not in (MeterMode.OHMS, MeterMode.CONTINUITY):
            return y, sigma
        if not self.open[0] and not self.low[0] > SOUND_FROM_TIMES * SHORT_UP_TO_OHMS:
            return y, sigma
        shorted = self.shorted = self.steady & (self.low < SHORT_UP_TO_OHMS)
        middle = scaled(SHORT_MIDDLE_OHMS, self.probe.mode)
        return np.where(shorted, middle, y), np.where(shorted, SHORT_SPREAD_LOG, sigma)

    @cached_property
    def odd(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` that read here unlike a good board: further than `ODD_SIGMAS`, or open,
        or pulsing where it is not. The row outside the model is not among them."""
        gap = np.abs(self.y - self.y[0]) / self.sigma[0]
        odd = (self.ticks != self.ticks[0]) | (self.open != self.open[0])
        return np.asarray((odd | (self.steady & (gap > ODD_SIGMAS))) & ~self.outside)

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
            self._judged[observation] = judge(self.probe, observation, self.expectation)
        return self._judged[observation]

    def _scale_range(self) -> float:
        if self.probe.mode is MeterMode.DIODE:
            return FULL_SCALE[MeterMode.DIODE]
        if self.probe.unit != "V":
            return LOG_OHMS_RANGE
        return 1.3 * float(np.nanmax(self.high)) + 1.0

    @property
    def highest(self) -> float:
        """Highest finite prediction of any row, in SI units."""
        finite = self.high[np.isfinite(self.high)]
        return float(finite.max()) if len(finite) else 0.0

    def flat(self, observation: Observation) -> float:
        """Density or chance of the observation as a gross error."""
        return self._inside(observation, Make.LISTED)[1]

    @cached_property
    def _degrees(self) -> LiveDegrees:
        return LiveDegrees(self.table, self._number)

    @property
    def by_make(self) -> bool:
        """Whether what is read here hangs on the values of parts, which makes differ in."""
        of_values = self.probe.mode in (MeterMode.OHMS, MeterMode.ESR, MeterMode.CAPACITANCE)
        return of_values and not self.probe.live and not self.normed

    def likelihood(
        self, observation: Observation, make: Make = Make.LISTED, again: bool = False
    ) -> Floats:
        """Likelihood of the observation under every row, `(n_rows,)`, above zero; `again` where it
        was read twice and is no slip."""
        key = (observation, make if self.by_make else Make.LISTED, again)
        if key not in self._known:
            if len(self._known) >= MOST_KNOWN:
                self._known.clear()
            self._known[key] = self._likelihood(*key)
        return self._known[key]

    def _likelihood(self, observation: Observation, make: Make, again: bool) -> Floats:
        inside, flat = self._inside(observation, make)
        slip = limit("gross_error")
        wrong = self.gross - (1.0 - TWICE_SLIPPED) * slip if again else self.gross
        mixed = self.table.blend_intermittent((1.0 - wrong) * inside + wrong * flat)
        if observation.form in (Form.TICKING, Form.RANGE):
            gross = limit("gross_error")
            wandering = (1.0 - gross) * self._wandering(observation) + gross * flat
            mixed = np.where(self.table.shares < 1.0, wandering, mixed)
        unknown = UNTOUCHED * mixed[0] + (1.0 - UNTOUCHED) * flat * self._outside_share(observation)
        return np.where(self.outside, unknown, mixed)

    def _outside_share(self, observation: Observation) -> float:
        """What is left of the flat density of a fault outside the model: it shorts few points."""
        if not self.shorted.any():
            return 1.0
        low = observation.form is Form.VALUE and observation.low < SHORT_UP_TO_OHMS
        return OUTSIDE_SHORTS if low or observation.form is Form.SHORT else 1.0

    def _wandering(self, observation: Observation) -> Floats:
        """Density of a point that moves between sound and faulty, by the best of its two ends."""
        other_high = self.high[self.table.index_when_present]
        other_low = self.low[self.table.index_when_present]
        with np.errstate(invalid="ignore"):
            top = np.maximum(self.high, other_high)
            bottom = np.minimum(self.low, other_low)
        moves = np.isfinite(top) & (top - bottom > 3.0 * self.tick_sigma)
        reach = np.where(moves, top - bottom, self.range)
        at_top = student4((observation.high - top) / self.tick_sigma) / self.tick_sigma
        inside = (observation.low >= bottom - self.tick_sigma) & (observation.low <= top)
        return np.where(moves & inside, CAUGHT_MOVING * at_top / reach, 0.0)

    def _inside(self, observation: Observation, make: Make) -> tuple[Floats, float]:
        form = observation.form
        if form in (Form.RISING, Form.FALLING) and self.probe.live:
            return course_likelihood(self._courses, observation)
        if form is Form.VALUE:
            return self._value(observation.low, make), 1.0 / self.range
        if form is Form.TICKING and self._next_to_nothing(observation):
            return self._value(observation.centre, make), 1.0 / self.range
        if form in (Form.TICKING, Form.RANGE):
            flat = 1.0 / self.range**2
            unknown = WANDERING_OF_UNKNOWN if form is Form.RANGE else TICKING_OF_UNKNOWN
            return self._range(observation), (unknown if self.probe.live else 1.0) * flat
        if form is Form.OPEN:
            return self._above(FULL_SCALE.get(self.probe.mode, np.inf)), FLAT_PROBABILITY
        if form is Form.SHORT:
            return 1.0 - self._above(SHORT_BELOW_OHMS), FLAT_PROBABILITY
        if np.isnan(observation.low):
            return np.full_like(self.y, 0.5), 0.5
        limit_value = observation.low if form is Form.ABOVE else observation.high
        limit_value = limit_value if np.isfinite(limit_value) else observation.low
        return self._above(limit_value), FLAT_PROBABILITY

    def _next_to_nothing(self, observation: Observation) -> bool:
        """Whether what pulses here is so little beside the sound value that it is nothing."""
        sound = abs(float(np.nan_to_num(self.low[0])))
        return self.probe.live and observation.high < NOTHING_SHARE * sound

    @cached_property
    def _courses(self) -> Courses:
        """Where each row's rail comes from and goes to; one that comes and goes, from the sound
        value to the faulty one."""
        goes = self.table.shares < 1.0
        there = self.table.index_when_present
        bottom = np.where(goes, np.minimum(self.low, self.low[there]), self.low)
        top = np.where(goes, np.maximum(self.peak, self.peak[there]), self.peak)
        own = 0.0
        if self.board.known_by == "own":
            own = limit("unknown_live_share")
        back = self.table.elsewhere_main & self._asked
        return Courses(bottom, top, self.high, self.range, back, own)

    def _value(self, number: float, make: Make) -> Floats:
        magnitude = abs(number) if self.probe.unit == "V" else number
        y = float(scaled(magnitude, self.probe.mode))
        density = student4((y - self.y) / self.sigma) / self.sigma
        if self.probe.live:
            wide = np.hypot(self.sigma, DOUBTFUL_SPREAD_SHARE * np.abs(self.y))
            near = student4((y - self.y) / wide) / wide
            share = (1.0 - FLAT_SHARE_OF_DOUBT) * self.doubt
            density = (1.0 - share) * density + share * near
        low = np.where(self.ticks, self.low, 0.0) - self.tick_sigma
        high = np.where(self.ticks, self.high, 0.0) + self.tick_sigma
        reach = high - low
        between = (magnitude > low) & (magnitude < high)
        noted = SINGLE_VALUE_OF_TICKING * between / np.where(self.ticks, reach, 1.0)
        if self.by_make:
            share = np.where(self.fixed, 0.0, OTHER_VALUE_SHARE[make])
            density = density + share * (self._of_other(y) - density)
        plain = np.where(self.steady, density, np.where(self.ticks, noted, 0.0))
        if not self.probe.live:
            return self._over_degrees(plain, y, make)
        known = np.where(self._degrees.open, 1.0 - OPEN_SHARE, 1.0)
        return known * plain + self._degrees.steady(magnitude)

    @cached_property
    def degrees(self) -> tuple[Floats, Floats, NDArray[np.bool_]] | None:
        """What every degree of the rows of `severities_of` reads here on the scale of `scaled`, its
        standard deviation, both `(n, DEGREES)`, and at which rows `(n,)` that matters; None where a
        degree shows in no number."""
        if self.probe.live or self.probe.mode not in (MeterMode.OHMS, MeterMode.ESR):
            return None
        read, matters = severities_of(self.table).readings(self.low, self.probe.mode)
        if not matters.any():
            return None
        middle = scaled(read, self.probe.mode)
        width = sigma(self.board, self.probe, read)
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

    def _over_degrees(self, plain: Floats, y: float, make: Make) -> Floats:
        """The densities `(n_rows,)`, integrated over the degree where that is open."""
        if self.degrees is None:
            return plain
        known = severities_of(self.table)
        density, matters = self.of_degrees(y, make)
        found = plain.copy()
        mean = (known.weights * density).sum(axis=1)
        found[known.rows[matters]] = mean[matters]
        return found

    @cached_property
    def fixed(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` that read the same here on every make: joints, windings and shorts."""
        low = np.nan_to_num(self.low, posinf=0.0) < OTHER_VALUE_FROM_OHMS
        return self.shorted | (low & (self.probe.mode is MeterMode.OHMS))

    def _of_other(self, y: float) -> Floats:
        wide = np.hypot(self.sigma, OTHER_VALUE_LOG)
        return student4((y - self.y) / wide) / wide

    def _range(self, observation: Observation) -> Floats:
        low = student4((observation.low - self.low) / self.tick_sigma) / self.tick_sigma
        high = student4((observation.high - self.high) / self.tick_sigma) / self.tick_sigma
        both = np.where(self.ticks, low * high, 0.0)
        if observation.hertz is not None:
            spread = limit("spread_rate_log")
            ratio = np.log(observation.hertz / np.where(self.ticks, self.hertz, 1.0)) / spread
            both = both * student4(ratio) / student4(np.zeros(1))[0]
        wander: Floats = student4((observation.centre - self.low) / self.tick_sigma) / self.range
        odd = self.odd & (observation.form is Form.RANGE)
        share = np.where(odd, WANDERING_OF_ODD, WANDERING_OF_STEADY)
        wander = share * wander / self.tick_sigma
        plain = np.where(self.ticks, both, np.where(self.steady, wander, 0.0))
        if self.probe.live and observation.form is Form.TICKING and self.board.known_by == "own":
            plain = plain + self._tries_again(observation)
        if self.probe.live and observation.form is Form.TICKING:
            plain = plain + self._degrees.ticking(observation)
            plain = plain + WITHDRAWN * self._withdrawn(observation)
        if self.probe.live:
            plain = plain + WANDERING_OF_ODD * self._degrees.steady(observation.centre) / self.range
        return plain

    @cached_property
    def _asked(self) -> bool:
        """Whether a point stands only while the main board asks for it."""
        state = self.table.candidates[self._number].state
        if state.power is not Power.ON:
            return False
        asleep = f"{self.probe.id}@{replace(state, power=Power.STANDBY, without='').key}"
        column = self.table.column_or_none(asleep)
        return column is None or not float(self.table.high[0, column]) > 0.5 * float(self.low[0])

    def _withdrawn(self, observation: Observation) -> Floats:
        """Density where the main board takes its request back and asks again: what it asks for goes
        from its sound value to nothing, while what it does not ask for stands."""
        if not self._asked:
            return np.zeros_like(self.low)
        top = student4((observation.high - self.low[0]) / self.tick_sigma[0]) / self.tick_sigma[0]
        foot = observation.low < WITHDRAWN_BELOW_SHARE * observation.high
        return np.where(self.table.elsewhere_main, float(foot) * top / self.range, 0.0)

    def _tries_again(self, observation: Observation) -> Floats:
        """On a composed board nobody knows whether a stage latches or tries again: what is
        predicted to come up once, or to tick at another rate, may do so from anywhere below."""
        width = np.hypot(self.tick_sigma, limit("unknown_live_share") * np.nan_to_num(self.peak))
        top = student4((observation.high - np.nan_to_num(self.peak)) / width) / width
        away = self.odd & ~self.outside & (np.nan_to_num(self.peak) > observation.low)
        return np.where(away, TRIES_AGAIN * top / self.range, 0.0)

    @cached_property
    def _opened(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` in which the part that is read on the dead board is open itself: what
        then stands beside it is little, and a meter shows it as open or as much."""
        if self.probe.live or self.probe.mode not in (MeterMode.OHMS, MeterMode.DIODE):
            return np.zeros(len(self.low), dtype=bool)
        part = self.probe.part
        return np.array(
            [
                any(f.ref == part and f.effect is Effect.OPEN for f in r.faults)
                for r in self.table.rows
            ]
        )

    def _above(self, number: float) -> Floats:
        plain = self._plainly_above(number)
        return np.where(self._opened, np.maximum(plain, OPEN_READS_OPEN), plain)

    def _plainly_above(self, number: float) -> Floats:
        if np.isinf(number):
            return np.where(self.open, 1.0, 0.0)
        y = float(scaled(number, self.probe.mode))
        chance = 1.0 - student4_below((y - self.y) / self.sigma)
        if number == SHORT_BELOW_OHMS:
            chance = np.where(self.shorted, SHORT_BUT_SILENT, chance)
        return np.where(self.open, 1.0, np.where(self.steady, chance, 0.5))
