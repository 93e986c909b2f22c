"""How likely a course in time is under each row: a rail that falls from one value to another.

A rail that comes up and sags under its load has a predicted peak above where it ends; a fault that
comes with warmth or movement goes from the sound value to the faulty one. Where neither is so, a
course is only the doubt that is left: supplies drift a little, and people watch for a moment.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.judgement.spread import student4
from loose_rail.kernel.observation import Form, Observation

Floats = NDArray[np.float64]

COURSE_SPREAD_SHARE = 0.12
"""Standard deviation of the ends of a course: a needle on the move is read roughly [E]."""
COURSE_SPREAD_VOLTS = 0.2
FALLS_SIGMAS = 3.0
"""A predicted peak this far above the end is a fall that is seen."""
CAUGHT_ON_THE_WAY = 0.4
"""Share of falls whose last value was noted before the end was reached [E]."""
COURSE_OF_STEADY = 0.02
"""Chance that a rail which is predicted to be still is noted as falling [E]."""
WITHDRAWN, GONE_SHARE = 0.3, 0.3
"""Share of main boards with a fault of their own that take their request back, and how near to
nothing the rail is read then, against the spread of a course [E]."""
ANSWERS = 0.03
"""Share of main boards that take their request back for a trouble elsewhere: they watch a rail, the
panel or the lamps [E]."""
STOPS = 0.25
"""Share of composed boards on which a stage in trouble latches instead [E]."""
SAGS, COLLAPSE_SHARE = 0.15, 0.5
"""Share of rails with a dried reservoir, a bad joint or a weak drive of their own that are read as
falling away, and to less than this of their volts: picture, sound and light draw in peaks, where
the model's loads are still. A rail that sags and stands is dragged [E]."""
DIPS = 0.1
"""Share of loads that draw too much which do it in peaks, with the picture, the sound or the heat:
the rail reads right and falls from there for a moment [E]."""
BULK_GIVES_WAY, BULK_FROM_SHARE, BULK_TO_SHARE = 0.4, 0.35, 0.3
"""Share of bulks with a dried can, or a bad contact before them, that are read as falling when the
set starts; the least they fall from, of a sound bulk's volts (a boost to 390 V that has not begun,
on 100 V mains, leaves 0.36); and the least they fall to, of that. The model's loads are still, a
start is not [E]."""
RUN_UP_SHARE, NOT_ABOVE_SHARE, NO_RUN_UP = 1.1, 1.05, 0.1
"""A fall that begins so far above a sound board's volts has run up first: of rows that never get
above them it is so much less likely than its spread says [E]."""
SHORT_OF_TOP, SHORT_WHILE_HELD = 0.3, 0.8
"""Share of falls that begin lower than predicted: a heavier load does not let its rail up; under a
load that draws too much from the start mostly so [E]."""
NO_RUN_UP_OF_BULK, STOPPED_ABOVE = 0.02, 0.3
"""The same of a bulk, which no load lifts; share of stages that run too high which a sense of their
own stops before they are there [E]."""
NOT_BEGUN_SHARE, ABORTED_SHARE, ABORTED_SPREAD = 0.1, 0.8, 0.2
"""A start that is broken off between so much of a sound rail's volts: where it stops hangs on what
is known of no board by hundredths of a second, give or take so much of those volts [E]."""
STILL_SHARE = 0.4
"""Of that spread, where a rail is predicted to be still: its value is known, not caught [E]."""
DRIFTS_SHARE, DRIFTS_VOLTS = 0.35, 0.5
"""A rail that is predicted to be still was at most this much higher before: one that is predicted
to be dead was never at its volts [E]."""
COURSE_OF_FALLING, COURSE_OF_UNKNOWN = 0.6, 0.1
"""Chance that a fall is noted as one where it is predicted, and where nothing is known [E]."""
TREND_OF_FALLING, TREND_OF_STEADY = 0.6, 0.1
"""Chance that a trend without end values is noted, where one is predicted and where not [E]."""
SLOW_SECONDS = 0.4
"""So much later than on a sound board a rail comes up slowly, for whoever looks at a meter [E]."""
STANDS_SHARE = 0.9
"""Of its highest volts, what a rail keeps that came up and stays; another one fell or pulses."""
SLOW_OF_LATE, SLOW_OF_WEAK, SLOW_OF_PROMPT = 0.6, 0.4, 0.15
"""Chance that a rail which comes up is noted as rising: where it is predicted late; where its own
source is weak, and cold capacitors take their time, which the model does not know; and where it is
predicted to be there at once [E]."""
TIMED_LOG_SPREAD = 0.5
"""How well a rise is timed and predicted, natural logarithm: its parts' tolerances multiply [E]."""
FURTHER_SHARE, FURTHER_TIMES = 0.5, 20.0
"""Share of slow rises whose part has gone further than its row says, and up to how many times as
slow that makes them, evenly by the logarithm [E]."""
MOST_SECONDS = 100.0
"""A rise of which nothing is known takes a tenth of a second up to this, evenly by its logarithm
[E]."""


@dataclass(frozen=True, slots=True)
class Courses:
    """Where each row's rail ends (`bottom`), stands at its highest (`top`) and reads while it is
    still (`high`), `(n_rows,)` volts; `range` volts that a wrong reading may lie in; by what share
    its volts are not known beforehand. The first row is the sound board.

    `withdrawn` is the share of main boards that take back what they ask for under each row: the
    rail goes from its value to nothing. `stops` are rows in which a stage of a composed board may
    give up at its highest and fall back, where it is predicted to go on or try again; `weak` those
    in which this rail's own source gives way to a peak of its load; `pulled` those in which a load
    of this rail draws too much, `held` those of them in which it does so from the start, `kin`
    those in which one does that to any rail of the same converter, which then stops. `late` is
    how many seconds later than on a sound board each row's rail stands."""

    bottom: Floats
    top: Floats
    high: Floats
    range: float
    withdrawn: Floats
    stops: NDArray[np.bool_]
    weak: NDArray[np.bool_]
    pulled: NDArray[np.bool_]
    held: NDArray[np.bool_]
    kin: NDArray[np.bool_]
    late: Floats
    unknown_share: float = 0.0
    empties: NDArray[np.bool_] | None = None
    """Rows whose bulk has too little to start on; None at any other point."""


def course_likelihood(courses: Courses, observation: Observation) -> tuple[Floats, float]:
    """Density of a falling or rising reading under every row `(n_rows,)`, and as a gross error.

    Where no end values were noted both are chances.
    """
    top, bottom = np.nan_to_num(courses.top), np.nan_to_num(courses.bottom)
    share = math.hypot(COURSE_SPREAD_SHARE, courses.unknown_share)
    width = np.hypot(COURSE_SPREAD_VOLTS, share * top)
    narrow = np.hypot(COURSE_SPREAD_VOLTS, COURSE_SPREAD_SHARE * top)
    falls = top - bottom > FALLS_SIGMAS * narrow  # what scales a rail scales both its ends
    flat = COURSE_OF_UNKNOWN / courses.range**2
    if math.isnan(observation.low):
        if observation.form is Form.RISING:
            return _slow(courses, observation.seconds), _slow_of_unknown(observation.seconds)
        return np.where(falls, TREND_OF_FALLING, TREND_OF_STEADY), TREND_OF_STEADY
    if observation.form is Form.RISING:
        last = observation.high if math.isfinite(observation.high) else observation.low
        ends = _near(last, np.nan_to_num(courses.high), width) / courses.range
        flat *= _slow_of_unknown(observation.seconds) / SLOW_OF_PROMPT
        return ends * _slow(courses, observation.seconds), flat
    first, last = observation.high, observation.low
    reach = np.maximum(top - bottom, width)
    on_the_way = ((last > bottom) & (last < top)) / reach
    gone = _near(last, np.zeros_like(top), GONE_SHARE * width)
    ends = (1.0 - CAUGHT_ON_THE_WAY) * _near(last, bottom, width) + CAUGHT_ON_THE_WAY * on_the_way
    short = np.where(courses.held, SHORT_WHILE_HELD, SHORT_OF_TOP)
    up_to = np.where(courses.held, np.maximum(top, top[:1]), top)  # it may be any load
    short_of_top = short * ((first > bottom) & (first < up_to))
    short_of_top = short_of_top / np.where(courses.held, np.maximum(up_to - bottom, width), reach)
    broken_off = (top > NOT_BEGUN_SHARE * top[:1]) & (top < ABORTED_SHARE * top[:1])
    cut_off = ABORTED_SPREAD * np.abs(top[:1]) * broken_off
    begun = np.hypot(width, cut_off)
    start = (1.0 - short) * _near(first, top, begun) + short_of_top
    fall = COURSE_OF_FALLING * start * ends
    drifts = (first - last) < DRIFTS_SHARE * np.abs(bottom) + DRIFTS_VOLTS
    still = COURSE_OF_STEADY * drifts * _near(last, bottom, STILL_SHARE * width) / courses.range
    taken_back = courses.withdrawn * COURSE_OF_FALLING * _near(first, top, begun) * gone
    tried = _near(first, top, begun) + SHORT_OF_TOP * (first < top) / np.maximum(top, width)
    given_up = STOPS * COURSE_OF_FALLING * tried * (last < top) / courses.range
    latched = STOPS * COURSE_OF_FALLING * SHORT_WHILE_HELD * (first < top) * gone
    latched = latched * courses.kin / np.maximum(top, width)
    sags = SAGS * COURSE_OF_FALLING * _near(first, top, begun) / courses.range
    sags = sags * (courses.weak & (last < COLLAPSE_SHARE * first))
    dips = DIPS * COURSE_OF_FALLING * _near(first, top[:1], width[:1]) / courses.range
    dips = dips * courses.pulled
    found = np.where(falls, fall, still + sags) + taken_back + dips + latched
    found = found + np.where(courses.stops, given_up, 0.0)
    if courses.empties is not None:
        found = found + courses.empties * _gives_way(first, last, float(top[0]))
    above = (first > RUN_UP_SHARE * top[:1]) & (top < NOT_ABOVE_SHARE * top[:1])
    of_bulk = courses.empties is not None
    found = np.where(above, (NO_RUN_UP_OF_BULK if of_bulk else NO_RUN_UP) * found, found)
    return found + _stopped_above(courses, first, last, top), flat


def _stopped_above(courses: Courses, first: float, last: float, top: Floats) -> Floats:
    """Density where a row's rail is predicted to stand too high: on many boards a sense of its own
    stops the stage on the way there, and it falls back."""
    sound = float(top[0])
    runs = courses.stops & (top > RUN_UP_SHARE * sound)
    on_the_way = (first > RUN_UP_SHARE * sound) & (first < top) & (last < STANDS_SHARE * first)
    wide = np.maximum(top - RUN_UP_SHARE * sound, 1.0) * max(first, 1.0)
    return np.where(runs & on_the_way, STOPPED_ABOVE * COURSE_OF_FALLING / wide, 0.0)


def _gives_way(first: float, last: float, sound: float) -> float:
    """Density of a bulk's fall at a start, evenly over where it may begin and end."""
    least = BULK_FROM_SHARE * sound
    begins = least < first < NOT_ABOVE_SHARE * sound
    ends = BULK_TO_SHARE * first < last < STANDS_SHARE * first
    if not (begins and ends):
        return 0.0
    wide = (NOT_ABOVE_SHARE * sound - least) * (STANDS_SHARE - BULK_TO_SHARE) * first
    return BULK_GIVES_WAY * COURSE_OF_FALLING / wide


def _slow(courses: Courses, seconds: float | None) -> Floats:
    """Chance that each row's rail is noted as rising `(n_rows,)`, a density over the logarithm of
    the time where it was timed."""
    late = courses.late > SLOW_SECONDS
    other = np.where(courses.weak, SLOW_OF_WEAK, SLOW_OF_PROMPT)
    if seconds is None:
        return np.where(late, SLOW_OF_LATE, other)
    apart = math.log(seconds) - np.log(np.maximum(courses.late, SLOW_SECONDS))
    timed = student4(apart / TIMED_LOG_SPREAD) / TIMED_LOG_SPREAD
    most = math.log(FURTHER_TIMES)
    further = ((apart > 0.0) & (apart < most)) / most
    slow = (1.0 - FURTHER_SHARE) * timed + FURTHER_SHARE * further
    return np.where(late, SLOW_OF_LATE * slow, other * _any_time())


def _slow_of_unknown(seconds: float | None) -> float:
    return SLOW_OF_PROMPT * (1.0 if seconds is None else _any_time())


def _any_time() -> float:
    return 1.0 / math.log(MOST_SECONDS / 0.1)


def _near(value: float, centre: Floats, width: Floats) -> Floats:
    return np.asarray(student4((value - centre) / width) / width)
