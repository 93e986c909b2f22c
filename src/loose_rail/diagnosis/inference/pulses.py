"""Readings that move: pulsing between two ends, and wandering in a range, under every row."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.inference.course import NO_RUN_UP, RUN_UP_SHARE
from loose_rail.diagnosis.inference.predicted import Predicted
from loose_rail.judgement.limits import limit
from loose_rail.judgement.spread import student4
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.keys import stage_of
from loose_rail.vocabulary.roles import BoardRole

Floats = NDArray[np.float64]

WANDERING_OF_STEADY, WANDERING_OF_ODD = 0.01, 0.25
"""Chance that a steady point is noted as wandering: a good rail is still, one that is held down or
carries more ripple than it should is not [E]."""
WANDERS_ROUND_SHARE = 0.05
"""A rail wanders round its own mean, which is known so well beside how far it moves [E]."""
CAUGHT_MOVING = 0.25
"""Chance that a contact turns over while the probes are on and is noted as moving [E]."""
END_SHARE, END_VOLTS = 0.1, 0.05
"""How well the ends are known between which a contact switches: they are steady values, however
wide the ends of pulses are on a board whose parts are not known [E]."""
STEPS_SHARE, END_OF_STEP = 0.12, 0.3
"""A contact may switch between two levels that lie so near, of the higher, with ends known to this
share of the step: a bulk with the boost and without [E]."""
GROWN_WARM, GROWN_LEAK, FOOT_SHARE = 0.3, 0.1, 0.1
"""Share of rails that pump where a part on them fails by warmth, and where a leak has grown since
it was worked out: how far up each try lifts them hangs on the heat [E]; and down to which share of
their volts they go meanwhile."""
REACHES_SHARE = 0.4
"""A contact switches: what moves by less of the way between its ends is a rail that is restless."""
WITHDRAWN, WITHDRAWN_BELOW_SHARE = 0.3, 0.3
"""Share of main boards with a fault of their own that ask and withdraw in a loop, and how far down
what they asked for goes meanwhile [E]."""
TRIES_AGAIN = 0.25
"""Share of composed boards on which a stage that stops does so otherwise than predicted [E]."""
KICKS_SHARE, KICKED = 0.15, 0.5
"""How far up a rail is kicked by a supply that tries into a short, of its sound volts, and the
share of such sets on which a meter shows it [E]."""
KICKS_HIGHER_SHARE, KICKED_HIGHER = 0.4, 0.2
"""The same for those on which it is lifted further [E]."""
RATTLES, RATTLES_SHARE = 0.3, 0.4
"""Meters that jump on what comes too fast for them, and how far round the mean [E]."""
LAMP_KINDS = ("led", "ccfl")
OVERSHOT_SHARE, OVERSHOOTS_FROM_VOLTS, OVERSHOOTS_TO_SHARE = 1.06, 1.0, 0.5
"""Of its sound volts: from here on a point has run up too far; how much further it may go before a
sense of its own stops it; and the least volts of which that is said [E]."""
RUNS_UP_UNFORESEEN = 0.1
"""How often a point runs up above its sound volts where none of that is predicted [E]."""
STOPPED_ABOVE = 0.3
"""Share of boards on which a stage that runs too high is stopped by its over-voltage sense [E]."""
NOTHING_SHARE = 0.04
"""Pulses below this share of the sound value are a dead point: what little moves there tells
nothing of what stops it [E]."""


def wandering(at: Predicted, observation: Observation) -> Floats:
    """Density of a point that moves between sound and faulty, by the best of its two ends."""
    other_high = at.high[at.table.index_when_present]
    other_low = at.low[at.table.index_when_present]
    with np.errstate(invalid="ignore"):
        top = np.maximum(at.high, other_high)
        bottom = np.minimum(at.low, other_low)
    plain = np.minimum(at.tick_sigma, END_SHARE * np.abs(top) + END_VOLTS)
    steps = top - bottom > STEPS_SHARE * np.abs(top) + END_VOLTS
    width = np.where(steps, np.minimum(plain, END_OF_STEP * (top - bottom)), plain)
    moves = np.isfinite(top) & ((top - bottom > 3.0 * plain) | steps)
    reach = np.where(moves, top - bottom, at.range)
    at_top = student4((observation.high - top) / width) / width
    inside = (observation.low >= bottom - width) & (observation.low <= top)
    inside &= observation.high - observation.low > REACHES_SHARE * reach
    found = np.where(moves & inside, CAUGHT_MOVING * at_top / reach, 0.0)
    warm = at.of_own_stage(frozenset({"warm"}))
    never = _never_so_high(at, observation)
    found *= np.where(never & never[at.table.index_when_present], RUNS_UP_UNFORESEEN, 1.0)
    return np.asarray(found + GROWN_WARM * _pumps(at, observation) * warm)


def pulsing(at: Predicted, observation: Observation) -> Floats:
    """Density of the ends of a reading that moves, under every row `(n_rows,)`."""
    low = student4((observation.low - at.low) / at.tick_sigma) / at.tick_sigma
    high = student4((observation.high - at.high) / at.tick_sigma) / at.tick_sigma
    both = np.where(at.ticks, low * high, 0.0)
    if observation.hertz is not None:
        spread = limit("spread_rate_log")
        ratio = np.log(observation.hertz / np.where(at.ticks, at.hertz, 1.0)) / spread
        both = both * student4(ratio) / student4(np.zeros(1))[0]
    half = 0.5 * (observation.high - observation.low)
    width = np.hypot(WANDERS_ROUND_SHARE * np.abs(at.low) + END_VOLTS, half)
    wander: Floats = student4((observation.centre - at.low) / width) / at.range
    odd = (at.odd | at.unsteady) & (observation.form is Form.RANGE)
    share = np.where(odd, WANDERING_OF_ODD, WANDERING_OF_STEADY)
    wander = share * wander / width
    plain = np.where(at.ticks, both, np.where(at.steady, wander, 0.0))
    if at.probe.live and observation.form is Form.TICKING and at.board.known_by == "own":
        plain = plain + _tries_again(at, observation)
    if at.probe.live and observation.form is Form.TICKING:
        plain = plain + at.live_degrees.like_another(plain)
        plain = plain + at.live_degrees.ticking(observation)
        leaks = at.of_own_stage(frozenset({"leaky"}))
        plain = plain + GROWN_LEAK * _pumps(at, observation) * leaks
        plain = plain + WITHDRAWN * _withdrawn(at, observation) + _kicks(at, observation)
    if at.probe.live and stage_of(at.probe.observable) == at.board.standby_rail:
        plain = plain + _rattles(at, observation)
    if at.probe.live:
        plain = plain + WANDERING_OF_ODD * at.live_degrees.steady(observation.centre) / at.range
        short_of_it = np.where(_never_so_high(at, observation), RUNS_UP_UNFORESEEN, 1.0)
        plain = short_of_it * plain + _overshoots(at, observation)
    return plain


def overshot(at: Predicted, observation: Observation) -> bool:
    """Whether a moving reading runs up above what a sound board ever holds there. A driver of lamps
    climbs to its clamp wherever none is lit, also without a fault."""
    sound = abs(float(np.nan_to_num(at.low[0])))
    stage = at.board.stage(stage_of(at.probe.observable))
    rail = bool(at.probe.rail) or at.probe.observable == str(BoardRole.BULK)
    rail = rail and (stage is None or stage.kind not in LAMP_KINDS)
    return rail and sound > OVERSHOOTS_FROM_VOLTS and observation.high > OVERSHOT_SHARE * sound


def _never_so_high(at: Predicted, observation: Observation) -> NDArray[np.bool_]:
    """Rows in which a point that ran up too high never does."""
    reached = np.nan_to_num(at.peak) > OVERSHOT_SHARE * abs(float(np.nan_to_num(at.low[0])))
    return ~reached & overshot(at, observation)


def _overshoots(at: Predicted, observation: Observation) -> Floats:
    """Density where a point is predicted to stand too high: on many boards an over-voltage sense of
    its own stops the stage there, and it falls and runs up again, or is left low."""
    if not overshot(at, observation):
        return np.zeros_like(at.low)
    sound = abs(float(at.low[0]))
    high = np.nan_to_num(at.peak) > OVERSHOT_SHARE * sound
    reach = OVERSHOOTS_TO_SHARE * sound
    return np.where(high & ~at.outside, STOPPED_ABOVE / (reach * sound), 0.0)


def _pumps(at: Predicted, observation: Observation) -> float:
    """Density of pulses from next to nothing up to anywhere below the rail's own volts."""
    sound = abs(float(np.nan_to_num(at.low[0])))
    foot = FOOT_SHARE * sound + END_VOLTS
    pumps = observation.low < foot and observation.high < sound
    return 1.0 / (foot * sound) if pumps and at.probe.live and at.probe.rail else 0.0


def _kicks(at: Predicted, observation: Observation) -> Floats:
    """Density where the standby supply, or a rail's own converter, is predicted to try again and
    again and its rail to stay near nothing: how far each try lifts it hangs on windings and leads
    that no profile knows."""
    sound = abs(float(np.nan_to_num(at.low[0])))
    most = KICKS_SHARE * sound
    of_standby = at.probe.observable == at.board.standby_point
    ticking = at.table.ticking_hertz[at.table.candidates[at.number].state.key] > 0
    tries = ticking if of_standby else at.hertz > 0
    if not sound or observation.high > KICKS_HIGHER_SHARE * sound or not at.probe.rail:
        return np.zeros_like(at.low)
    high = np.nan_to_num(at.high)
    near = 1.1 * most  # a supply that tries fast shows its mean as a still rail
    down = tries & ~at.outside & (high > 0.0) & (high < near)  # without a path nothing is lifted
    likely = KICKED / most**2
    if observation.high > most:
        likely = KICKED_HIGHER / ((KICKS_HIGHER_SHARE * sound) ** 2 - most**2)
    return np.where(down, likely, 0.0)


def _rattles(at: Predicted, observation: Observation) -> Floats:
    """Density where the standby supply tries so fast that a meter is predicted to show its mean:
    many show it jumping round that."""
    tries = at.table.ticking_hertz[at.table.candidates[at.number].state.key] > 0
    low = np.abs(np.nan_to_num(at.low))
    width = RATTLES_SHARE * low + END_VOLTS
    near = student4((observation.centre - low) / width) / width
    return np.where(tries & at.steady & (low > END_VOLTS), RATTLES * near / at.range, 0.0)


def _withdrawn(at: Predicted, observation: Observation) -> Floats:
    """Density where the main board takes its request back and asks again: what it asks for goes
    from its sound value to nothing, while what it does not ask for stands."""
    if not at.asked:
        return np.zeros_like(at.low)
    top = student4((observation.high - at.low[0]) / at.tick_sigma[0]) / at.tick_sigma[0]
    foot = observation.low < WITHDRAWN_BELOW_SHARE * observation.high
    down = WITHDRAWN_BELOW_SHARE * max(observation.high, END_VOLTS)  # it ends anywhere down there
    ran_up = observation.high > RUN_UP_SHARE * abs(float(at.low[0]))
    likely = float(foot) * top / min(down, at.range) * (NO_RUN_UP if ran_up else 1.0)
    return np.where(at.table.elsewhere_main, likely, 0.0)


def _tries_again(at: Predicted, observation: Observation) -> Floats:
    """On a composed board nobody knows whether a stage latches or tries again: what is
    predicted to come up once, or to tick at another rate, may do so from anywhere below."""
    width = np.hypot(at.tick_sigma, limit("unknown_live_share") * np.nan_to_num(at.peak))
    top = student4((observation.high - np.nan_to_num(at.peak)) / width) / width
    away = at.unlike & ~at.outside & (np.nan_to_num(at.peak) > observation.low)
    return np.where(away, TRIES_AGAIN * top / at.range, 0.0)


def next_to_nothing(at: Predicted, observation: Observation) -> bool:
    """Whether what pulses here is so little beside the sound value that it is nothing."""
    sound = abs(float(np.nan_to_num(at.low[0])))
    return at.probe.live and observation.high < NOTHING_SHARE * sound


TRIES_VOLTS, BEATS_UNASKED = 0.1, 0.05
"""From here on, and with a rate, even a little that pulses shows a supply that tries; how often a
dead rail beats so where nothing tries [E]."""


def shows_trying(at: Predicted, observation: Observation) -> Floats:
    """What a rail that beats next to nothing says of rows `(n_rows,)`: something tries there. A
    supply that nobody asks for does not."""
    plain = np.ones_like(at.low)
    if observation.hertz is None or observation.high < TRIES_VOLTS or not at.probe.rail:
        return plain
    tries = at.table.ticking_hertz[at.table.candidates[at.number].state.key] > 0
    return np.where(tries | at.ticks | at.outside, plain, BEATS_UNASKED)
