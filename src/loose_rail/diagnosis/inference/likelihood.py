"""How likely an observation is under each row: Student's t around the prediction over a floor.

p(observation | row) = (1 − e)·f + e·flat with e the share of gross errors; on a powered board that
a fault disturbs, e holds the doubt about what else the fault does to it. For one observation all
rows are measured alike (a density on the probe's scale, or a probability), so that ratios mean
something. The row outside the model is flat everywhere.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Effect
from loose_rail.diagnosis.inference.another_range import (
    ON_ANOTHER_RANGE,
    on_another_range,
    through_a_junction,
)
from loose_rail.diagnosis.inference.barely_fed import barely_fed
from loose_rail.diagnosis.inference.by_print import above_listed, by_print, held_to_print
from loose_rail.diagnosis.inference.composed_doubt import RUNS_HIGH, otherwise_known
from loose_rail.diagnosis.inference.course import course_likelihood
from loose_rail.diagnosis.inference.doubt import share_of_doubt
from loose_rail.diagnosis.inference.dried_together import dried_together
from loose_rail.diagnosis.inference.looks_open import at_the_top, looks_open
from loose_rail.diagnosis.inference.predicted import (
    FLAT_SHARE_OF_DOUBT,
    MOST_KNOWN,
    OTHER_VALUE_LOG,
    OTHER_VALUE_SHARE,
    SHORT_UP_TO_OHMS,
    Make,
    Predicted,
)
from loose_rail.diagnosis.inference.pulses import (
    next_to_nothing,
    overshot,
    pulsing,
    shows_trying,
    wandering,
)
from loose_rail.diagnosis.inference.rows_in_time import RowsInTime
from loose_rail.diagnosis.inference.severity import severities_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.limits import limit
from loose_rail.judgement.spread import (
    FULL_SCALE,
    reads_a_resistor,
    scaled,
    student4,
    student4_below,
)
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.keys import is_ripple
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]
DegreeLogs = tuple[Floats, Floats, NDArray[np.bool_]]
"""Logarithms of a reading's likelihood under every degree `(n, DEGREES)` and in the mean `(n,)`,
both 0 where it does not matter, and where it does `(n,)`."""


@dataclass(frozen=True, slots=True)
class LiveDegreeLogs:
    """Logarithms of a live reading's likelihood `(n_rows,)` where a fault has gone as far as its
    row says, and where it has gone any other way; `share` how often the second is so, 0 where that
    is no question."""

    worked_out: Floats
    between: Floats
    share: Floats


FLAT_PROBABILITY = 0.3
UNCLEAR = 0.5
"""Chance of a reading that says nothing, under every row."""
SINGLE_VALUE_OF_TICKING = 0.25
"""Chance that a ticking point is noted as one value somewhere between its ends [E]."""
WANDERING_OF_UNKNOWN = 0.1
"""The same where nothing is known."""
SHORT_BELOW_OHMS = 1.0
DOUBTFUL_SPREAD_SHARE = 0.15
"""Half of the doubt about a consequence is that it is a little other than predicted, by a sixth;
half that it is another altogether [E]."""
UNTOUCHED = 0.3
"""Share of points that a fault outside the model leaves as a good board's: most of a board is right
whatever fails [E]."""
UNTOUCHED_OFF_BOARD = 0.9
"""The same of what hangs on a plug and is read there by itself [E]."""
OUTSIDE_SHORTS = 0.2
"""How often an unknown fault shorts a given point, over what a meter's range would say [E]."""
SHORT_BUT_SILENT = 0.05
"""Chance that a meter does not beep across one, or the hand does not call it a short [E]."""
OPEN_READS_OPEN = 0.6
"""Chance that a part which is open reads open in place, though some path is predicted [E]."""
SLIPS_UP_TO, SLIPS_ABOVE = 1.08, 0.15
"""Leads that slip, a wrong pin or a set that is off mostly read nothing or a lower rail: so few
wrong readings of a rail lie above so many times its volts [E]."""
NO_CONTACT = 0.25
"""Share of wrong live readings that read nothing: the tip slipped off, or the set was off [E]."""
FLOATS, FLOATS_UP_TO = 0.2, 0.04
"""How often a dead point reads more than the spread of the meter, and up to which share of its own
volts: a controller's supply at 0.4 V is one that nobody feeds [E]."""
BEATS_BY_ITSELF = 0.1
"""Of what moves between sound and faulty by a loose contact, or with warmth, so little keeps time:
a beat that can be counted is a supply's that tries again [E]."""
TICKING_OF_UNKNOWN = 0.15
"""Chance that a point of which nothing is known is noted as ticking."""
TWICE_SLIPPED = 0.1
"""Share of slips that a second reading repeats: the same wrong pin, the same range [E]."""
TWICE_SLIPPED_ALONE = 0.005
"""The same at a part with a leg out, which has two ends and nothing beside it [E]."""


def column_of(table: PredictionTable, number: int) -> Column:
    """The column of a candidate, prepared once for a table."""
    if number not in table.prepared:
        table.prepared[number] = Column(table, number)
    found: Column = table.prepared[number]
    return found


class Column(Predicted):
    """The likelihoods of readings at one candidate."""

    def __init__(self, table: PredictionTable, number: int) -> None:
        super().__init__(table, number)
        self._known: dict[tuple[Observation, Make, bool], tuple[Floats, Floats]] = {}
        self._of_degree: dict[tuple[Observation, Make], DegreeLogs] = {}
        self._of_live_degree: dict[Observation, LiveDegreeLogs | None] = {}

    def flat(self, observation: Observation) -> float:
        """Density or chance of the observation as a gross error."""
        form = observation.form
        if form in (Form.RISING, Form.FALLING) and self.probe.live:
            above = SLIPS_ABOVE if overshot(self, observation) else 1.0
            return above * course_likelihood(self._rows_in_time.courses, observation)[1]
        if form is Form.VALUE:
            return self._flat_value(self._magnitude(observation.low))
        if form is Form.TICKING and next_to_nothing(self, observation):
            return 1.0 / self.range
        if form in (Form.TICKING, Form.RANGE):
            unknown = WANDERING_OF_UNKNOWN if form is Form.RANGE else TICKING_OF_UNKNOWN
            above = SLIPS_ABOVE if self.probe.live and overshot(self, observation) else 1.0
            return above * (unknown if self.probe.live else 1.0) / self.range**2
        if form not in (Form.OPEN, Form.SHORT) and np.isnan(observation.low):
            return UNCLEAR
        return FLAT_PROBABILITY

    def _flat_value(self, magnitude: float) -> float:
        """Density of a wrong value: a probe that has no contact reads nothing, and of a rail it
        lies below its volts more often than above."""
        sound = abs(float(np.nan_to_num(self.low[0])))
        width = FLOATS_UP_TO * sound
        spread = self._flat_spread(magnitude)
        if not (self.probe.live and self.probe.unit == "V" and self.steady[0] and width):
            return spread
        if is_ripple(self.probe.observable):
            return spread
        nothing = NO_CONTACT / width if magnitude < width else 0.0
        return nothing + (1.0 - NO_CONTACT) * spread

    def _flat_spread(self, magnitude: float) -> float:
        most = SLIPS_UP_TO * float(np.nan_to_num(self.low[0]))
        rail = self.probe.live and self.probe.rail and not is_ripple(self.probe.observable)
        if not rail or not self.steady[0] or not 0.0 < most < self.range:
            return 1.0 / self.range
        above = SLIPS_ABOVE / (self.range - most)
        return above if magnitude > most else (1.0 - SLIPS_ABOVE) / most

    def degree_logs(self, observation: Observation, make: Make) -> DegreeLogs | None:
        """What a value here says of every degree of the rows of `severities_of`; None where that is
        no matter of degree."""
        if observation.form is not Form.VALUE or self.degrees is None:
            return None
        if self._told_by_print(observation) is not None:
            return None
        key = (observation, make if self.by_make else Make.LISTED)
        if key not in self._of_degree:
            if len(self._of_degree) >= MOST_KNOWN:
                self._of_degree.clear()
            known = severities_of(self.table)
            y = float(scaled(observation.low, self.probe.mode))
            density, matters = self.of_degrees(y, make)
            gross = self.gross[known.rows][:, None]
            mixed = (1.0 - gross) * density + gross * self.flat(observation)
            mean = (known.weights * mixed).sum(axis=1)
            self._of_degree[key] = (
                np.where(matters[:, None], np.log(mixed), 0.0),
                np.where(matters, np.log(mean), 0.0),
                matters,
            )
        return self._of_degree[key]

    def likelihood(
        self, observation: Observation, make: Make = Make.LISTED, again: bool = False
    ) -> Floats:
        """Likelihood of the observation under every row, `(n_rows,)`, above zero; `again` where it
        was read twice and is no slip."""
        return self._weighed(observation, make, again)[0]

    def log_likelihood(
        self, observation: Observation, make: Make = Make.LISTED, again: bool = False
    ) -> Floats:
        """Logarithms of `likelihood`, `(n_rows,)`."""
        return self._weighed(observation, make, again)[1]

    def _weighed(self, observation: Observation, make: Make, again: bool) -> tuple[Floats, Floats]:
        key = (observation, make if self.by_make else Make.LISTED, again)
        if key not in self._known:
            if len(self._known) >= MOST_KNOWN:
                self._known.clear()
            found = self._likelihood(*key)
            self._known[key] = found, np.log(found)
        return self._known[key]

    def while_failing(self, observation: Observation) -> Floats:
        """The same `(n_rows,)` for a reading that was taken while the fault was there."""
        wrong, flat = self.gross, self.flat(observation)
        likely = (1.0 - wrong) * self._inside(observation, Make.LISTED) + wrong * flat
        return np.asarray(likely[self.table.index_when_present])

    def _likelihood(self, observation: Observation, make: Make, again: bool) -> Floats:
        told = self._told_by_print(observation)
        if told is not None:
            return self.table.blend_intermittent(told)
        flat, slip = self.flat(observation), limit("gross_error")
        inside = self._inside(observation, make)
        mixed = self.table.blend_intermittent(self._with_slips(observation, inside, again))
        if observation.form in (Form.TICKING, Form.RANGE):
            beats = BEATS_BY_ITSELF if observation.hertz is not None else 1.0
            moves = (1.0 - slip) * beats * wandering(self, observation) + slip * flat
            mixed = np.where(self.table.shares < 1.0, moves, mixed)
        left = UNTOUCHED_OFF_BOARD if self.probe.unplugged else UNTOUCHED
        unknown = left * mixed[0] + (1.0 - left) * flat * self._outside_share(observation)
        return np.where(self.outside, unknown, mixed)

    def _told_by_print(self, observation: Observation) -> Floats | None:
        """What the print on a resistor says of a reading, `(n_rows,)`; None where that is
        nothing."""
        if not reads_a_resistor(self.board, self.probe):
            return None
        held = held_to_print(self.board, self.probe, observation)
        if held is observation:
            return by_print(self.table, self.probe.part, observation)
        gross = limit("gross_error") * self.flat(observation)
        return above_listed(self.table, self.probe.part, observation, gross)

    def _with_slips(self, observation: Observation, inside: Floats, again: bool = False) -> Floats:
        """Likelihoods `(n_rows,)` with the share of wrong readings and of the doubt about what a
        fault does beside."""
        flat, slip = self.flat(observation), limit("gross_error")
        twice = TWICE_SLIPPED_ALONE if self.probe.lifted else TWICE_SLIPPED
        wrong = self.gross - (1.0 - twice) * slip if again else self.gross
        doubt = (
            (self.gross - slip)
            * flat
            * (share_of_doubt(self, self._rows_in_time, observation) - 1.0)
        )
        return np.asarray((1.0 - wrong) * inside + wrong * flat + doubt)

    def live_degree_logs(self, observation: Observation) -> LiveDegreeLogs | None:
        """What a live value says of the rows whose degree is open here: under a degree that is
        worked out, and under any other. None where it is no matter of degree."""
        if observation not in self._of_live_degree:
            if len(self._of_live_degree) >= MOST_KNOWN:
                self._of_live_degree.clear()
            self._of_live_degree[observation] = self._live_degree_logs(observation)
        return self._of_live_degree[observation]

    def _live_degree_logs(self, observation: Observation) -> LiveDegreeLogs | None:
        if not self.probe.live or observation.form is not Form.VALUE:
            return None
        here = self.live_degrees.open & (self.table.shares >= 1.0) & ~self.outside
        if not here.any():
            return None
        magnitude = self._magnitude(observation.low)
        plain, tripped = self.as_worked_out(observation.low), self._otherwise(magnitude)
        other = self.live_degrees.elsewhere(magnitude, plain)
        worked = np.log(self._with_slips(observation, plain + tripped))
        between = np.log(self._with_slips(observation, other + tripped))
        return LiveDegreeLogs(worked, between, np.where(here, self.live_degrees.share, 0.0))

    def _outside_share(self, observation: Observation) -> float:
        """What is left of the flat density of a fault outside the model: it shorts few points."""
        if not self.shorted.any():
            return 1.0
        low = observation.form is Form.VALUE and observation.low < SHORT_UP_TO_OHMS
        return OUTSIDE_SHORTS if low or observation.form is Form.SHORT else 1.0

    def _inside(self, observation: Observation, make: Make) -> Floats:
        form = observation.form
        if form in (Form.RISING, Form.FALLING) and self.probe.live:
            return course_likelihood(self._rows_in_time.courses, observation)[0]
        if form is Form.VALUE:
            return self._value(observation.low, make)
        if form is Form.TICKING and next_to_nothing(self, observation):
            return self._value(observation.centre, make) * shows_trying(self, observation)
        if form in (Form.TICKING, Form.RANGE):
            return pulsing(self, observation)
        if form is Form.OPEN:
            shown = self._above(FULL_SCALE.get(self.probe.mode, np.inf))
            return np.maximum(shown, looks_open(self))
        if form is Form.SHORT:
            return 1.0 - self._above(SHORT_BELOW_OHMS)
        if np.isnan(observation.low):
            return np.full_like(self.y, UNCLEAR)
        limit_value = observation.low if form is Form.ABOVE else observation.high
        return self._above(limit_value if np.isfinite(limit_value) else observation.low)

    @cached_property
    def _rows_in_time(self) -> RowsInTime:
        return RowsInTime(self)

    def _value(self, number: float, make: Make) -> Floats:
        plain = self.as_worked_out(number, make)
        if not self.probe.live:
            y = float(scaled(self._magnitude(number), self.probe.mode))
            found = self._over_degrees(plain, y, make) + at_the_top(self, number)
            esr = self.probe.mode is MeterMode.ESR
            others = dried_together(self.table, self.probe.part) if esr else None
            return found if others is None else others.each_by_itself(found)
        magnitude = self._magnitude(number)
        found = self.live_degrees.mixed(magnitude, plain)
        return np.asarray(found + self._otherwise(magnitude) + barely_fed(self, magnitude))

    def _magnitude(self, number: float) -> float:
        return abs(number) if self.probe.unit == "V" else number

    def as_worked_out(self, number: float, make: Make = Make.LISTED) -> Floats:
        """Density of a value `(n_rows,)` where every fault has gone as far as its row says."""
        magnitude = self._magnitude(number)
        y = float(scaled(magnitude, self.probe.mode))
        density = student4((y - self.y) / self.sigma) / self.sigma
        if self.probe.live:
            wide = np.hypot(self.sigma, DOUBTFUL_SPREAD_SHARE * np.abs(self.y))
            near = student4((y - self.y) / wide) / wide
            share = (1.0 - FLAT_SHARE_OF_DOUBT) * self.doubt
            density = (1.0 - share) * density + share * near
            density = self._next_to_nothing(density, magnitude)
        if self.by_make:
            share = np.where(self.fixed, 0.0, OTHER_VALUE_SHARE[make])
            density = density + share * (self._of_other(y) - density)
        if self.in_line.any():
            share = ON_ANOTHER_RANGE * self.in_line
            density = density + share * (on_another_range(y, self.y, self.sigma) - density)
        return np.where(self.steady, density, self.caught_between(magnitude))

    def caught_between(self, magnitude: float) -> Floats:
        """Density `(n_rows,)` of one value noted of a point that ticks; none where it does not."""
        low = np.where(self.ticks, self.low, 0.0) - self.tick_sigma
        high = np.where(self.ticks, self.high, 0.0) + self.tick_sigma
        between = (magnitude > low) & (magnitude < high)
        noted = SINGLE_VALUE_OF_TICKING * between / np.where(self.ticks, high - low, 1.0)
        return np.where(self.ticks, noted, 0.0)

    def _next_to_nothing(self, density: Floats, magnitude: float) -> Floats:
        """A point that nothing drives reads a little all the same: what leaks into it, what a lead
        picks up."""
        most = FLOATS_UP_TO * abs(float(np.nan_to_num(self.low[0])))
        if (
            self.probe.mode is not MeterMode.DC_VOLTS
            or is_ripple(self.probe.observable)
            or not most
        ):
            return density
        floats = (magnitude < most) / most
        undriven = self.steady & (np.nan_to_num(np.abs(self.high)) < most)
        return np.where(undriven, (1.0 - FLOATS) * density + FLOATS * floats, density)

    def may_reach(self, volts: float) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` whose fault may bring this point to some volts without a prediction of
        them: it goes as far as it likes, or a rail of a composed board has lost its regulation."""
        low, high = self.live_degrees.between
        reach = self.live_degrees.open & (volts > low) & (volts < high)
        above = RUNS_HIGH[0] * float(np.nan_to_num(self.low[0]))
        if self.board.known_by == "own" and volts > above > 0.0:
            reach = reach | (self._rows_in_time.peaks > above)
        return np.asarray(reach)

    def _otherwise(self, magnitude: float) -> Floats:
        return otherwise_known(self, self._rows_in_time.runs_up_to, magnitude)

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

    def _of_other(self, y: float) -> Floats:
        wide = np.hypot(self.sigma, OTHER_VALUE_LOG)
        return student4((y - self.y) / wide) / wide

    @cached_property
    def in_line(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` that are read through a junction here."""
        return through_a_junction(self.table, self.number)

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
