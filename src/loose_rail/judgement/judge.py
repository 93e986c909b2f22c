"""Judging one reading against what a good board shows: agrees, disagrees or doubtful, and why.

What a good board shows is not what the suspects expect (see diagnosis). Shapes and words
stand for the verdict, colour comes second.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board
from loose_rail.judgement.limits import limit
from loose_rail.judgement.over_voltage import most_volts
from loose_rail.judgement.spread import FULL_SCALE, is_logic_line, scaled, sigma, unscaled
from loose_rail.kernel.observation import Form, Observation
from loose_rail.kernel.quantities import engineering, fixed, span
from loose_rail.vocabulary.meter_mode import MeterMode


class Verdict(StrEnum):
    """What a reading says about the point it was taken at."""

    AGREES = "agrees"
    DISAGREES = "disagrees"
    DOUBTFUL = "doubtful"


@dataclass(frozen=True, slots=True)
class Expectation:
    """What a good board shows at a probe: its value (SI, +inf for open) and standard deviation;
    above `most` a voltage is too high for the parts there, however wide good boards spread."""

    value: float
    sigma: float
    most: float = math.inf


@dataclass(frozen=True, slots=True)
class Judgement:
    """A verdict with a short reason and the expected range in words."""

    verdict: Verdict
    reason: str
    expected: str


def expected_reading(board: Board, probe: Probe, healthy: float) -> Expectation:
    """Prediction of the healthy board with the spread that good boards have."""
    most, _ = most_volts(board, probe)
    if is_given_signal(board, probe, healthy):
        return Expectation(limit("signal_centre_volts"), limit("spread_signal_volts"), most)
    return Expectation(healthy, float(sigma(board, probe, healthy)), most)


def is_given_signal(board: Board, probe: Probe, healthy: float) -> bool:
    """Whether a point is a logic line that a good board holds high here."""
    return is_logic_line(board, probe) and healthy > limit("signal_given_volts")


def expected_text(probe: Probe, good: Expectation) -> str:
    """The range in which a good reading lies, in words: 0.03–0.12 Ω, > 1 MΩ, open."""
    if math.isinf(good.value):
        return "open (OL)"
    if probe.mode is MeterMode.TUBE:
        return "each lit (600)"
    centre = float(scaled(good.value, probe.mode))
    width = limit("agrees_sigmas") * good.sigma
    low = float(unscaled(centre - width, probe.mode))
    high = min(float(unscaled(centre + width, probe.mode)), good.most)
    if probe.mode is MeterMode.ESR:
        return f"< {engineering(esr_limits(good.value)[0], 'Ω', 2)}"
    if _only_low_is_wrong(probe, good):
        return f"> {engineering(low, 'Ω', 1)}"
    shorts_tell = probe.mode is MeterMode.OHMS and low > TOLD_FROM_OHMS
    if low < 0.1 * high and not shorts_tell:
        return f"< {engineering(max(high, 0.1), probe.unit, 2)}"
    return span(low, high, probe.unit, 3 if probe.unit == "V" else 2)


def good_band(probe: Probe, good: Expectation) -> tuple[float, float] | None:
    """The range of a good reading in SI units; None where a good board reads open."""
    if math.isinf(good.value):
        return None
    centre = float(scaled(good.value, probe.mode))
    width = limit("agrees_sigmas") * good.sigma
    high = min(float(unscaled(centre + width, probe.mode)), good.most)
    return float(unscaled(centre - width, probe.mode)), high


def judge(probe: Probe, observation: Observation, good: Expectation) -> Judgement:
    """Judge a reading against what a good board shows."""
    expected = expected_text(probe, good)
    distance = _distance(probe, observation, good)
    if distance <= limit("agrees_sigmas"):
        verdict = Verdict.AGREES
    elif distance >= limit("disagrees_sigmas"):
        verdict = Verdict.DISAGREES
    else:
        verdict = Verdict.DOUBTFUL
    return Judgement(verdict, _reason(probe, observation, good, verdict), expected)


def _distance(probe: Probe, observation: Observation, good: Expectation) -> float:
    """How many standard deviations a reading lies from a good board's; one-sided where it is."""
    far = 2 * limit("disagrees_sigmas")
    form = observation.form
    if form is Form.TICKING or (form is Form.RANGE and _wanders(observation)):
        return far
    if form is Form.OPEN:
        full = FULL_SCALE.get(probe.mode, math.inf)
        dark = probe.mode.of_lamps  # whatever the tester's range: nothing lights
        near = math.isinf(good.value) or (good.value > 0.2 * full and not dark)
        near = near or _only_low_is_wrong(probe, good)
        return 0.0 if near else far
    if math.isinf(good.value):
        high_enough = form in (Form.ABOVE, Form.RISING) or observation.centre > 1e6
        return 0.0 if high_enough else far
    if form is Form.FALLING or (form is Form.RISING and math.isnan(observation.low)):
        if probe.mode.needs_dead_board:
            return 0.0
        sagged = form is Form.FALLING and not math.isnan(observation.low)
        ends = replace(observation, form=Form.VALUE, high=observation.low)
        return max(3.0, _plain_distance(probe, ends, good)) if sagged else 3.0
    return _plain_distance(probe, observation, good)


def _plain_distance(probe: Probe, observation: Observation, good: Expectation) -> float:
    number = abs(observation.centre) if probe.unit == "V" else observation.centre
    if number > good.most:
        return 2 * limit("disagrees_sigmas")
    z = float(scaled(number, probe.mode) - scaled(good.value, probe.mode)) / good.sigma
    if observation.form in (Form.ABOVE, Form.RISING) and z < 0:
        return 0.0 if z > -3.0 else 2.5
    if probe.mode is MeterMode.ESR:
        return _esr_distance(number, good)
    if z > 0 and _only_low_is_wrong(probe, good):
        return 0.0
    return abs(z)


HIGH_OHMS, KNOWN_SIGMA = 5e4, 0.1
TOLD_FROM_OHMS = 5.0
"""Of a wide range both ends are told from here on: below it lie joints and windings [P]."""


def _only_low_is_wrong(probe: Probe, good: Expectation) -> bool:
    """High ohms through junctions and leakage, and at the supply pin of a board by itself: more is
    no fault. A resistor by itself is known closely (`sigma` in logarithms), and there too much is
    as wrong as too little."""
    high = good.value > HIGH_OHMS and good.sigma > KNOWN_SIGMA
    return probe.mode is MeterMode.OHMS and (probe.unplugged or high)


def esr_limits(fresh_ohms: float) -> tuple[float, float]:
    """Up to which ohms an ESR is good, and above which the part is replaced: twice and three times
    the fresh value, both read through the leads (electrical reference section 6)."""
    floor = limit("esr_floor_ohms")
    whole = fresh_ohms + floor
    return limit("esr_good_times") * whole - floor, limit("esr_reject_times") * whole - floor


def _esr_distance(ohms: float, good: Expectation) -> float:
    """ESR is good up to twice the fresh value and rejected above three times; low is no fault."""
    highest_good, reject = esr_limits(good.value)
    if ohms <= highest_good:
        return 0.0
    return limit("disagrees_sigmas") if ohms > reject else 3.0


def _wanders(observation: Observation) -> bool:
    middle = max(abs(observation.centre), 0.1)
    return (observation.high - observation.low) / middle > 0.05


def _reason(probe: Probe, observation: Observation, good: Expectation, verdict: Verdict) -> str:
    if verdict is Verdict.AGREES:
        return _good_words(probe, observation)
    if observation.form is Form.TICKING:
        if observation.hertz is None:
            return "restarts again and again"
        return f"restarts {fixed(observation.hertz, 2)} times a second"
    if observation.form is Form.FALLING and probe.live:
        return "falls under its load"
    if observation.form is Form.RANGE:
        return "wanders: a good rail is still"
    if observation.form in (Form.OPEN, Form.SHORT):
        return "reads open" if observation.form is Form.OPEN else "reads short"
    if probe.mode is MeterMode.ESR and good.value > 0:
        times = observation.centre / good.value
        return f"{fixed(times, 2)} times the fresh value"
    return _deviation_words(probe, observation.centre, good.value)


def _good_words(probe: Probe, observation: Observation) -> str:
    if probe.good:
        return probe.good
    if probe.live:
        return "there and still"
    if probe.mode is MeterMode.ESR:
        return "as good as fresh"
    if probe.id.endswith(".ohms") and not math.isfinite(observation.high):
        return "no short"
    return "as expected"


def _deviation_words(probe: Probe, number: float, good: float) -> str:
    if math.isinf(good):
        return "conducts where it should be open"
    if probe.live:
        magnitude = abs(number)
        if magnitude < max(0.05 * abs(good), 0.1):
            return "nothing there"
        if abs(good) < 0.5:
            return "present where nothing should be"
        share = 100 * (magnitude - abs(good)) / abs(good)
        return f"{'high' if share > 0 else 'low'} by {abs(share):.0f} %"
    if number <= 0 or (probe.mode is MeterMode.OHMS and number < limit("short_ohms") < 0.1 * good):
        return "a short"
    ratio = number / good if good > 0 else np.inf
    if 0.7 < ratio < 1.4:
        return "a little high" if ratio > 1 else "a little low"
    if ratio > 1:
        return f"{fixed(float(ratio), 2)} times too high"
    return f"only 1/{fixed(float(1 / ratio), 2)} of what it should be"


def absurd(probe: Probe, observation: Observation, highest_possible: float) -> str:
    """A question to ask once about a reading that nothing on this board could give; else empty.

    `highest_possible` is the highest finite prediction of any hypothesis at this probe.
    """
    if observation.form in (Form.OPEN, Form.SHORT) or math.isnan(observation.high):
        return ""
    top = observation.high if math.isfinite(observation.high) else observation.low
    if probe.unit == "V":
        ceiling = limit("absurd_times") * max(highest_possible, 1.0)
        if abs(top) > ceiling:
            return (
                f"{engineering(top, 'V')} here? Nothing on this point can give more than about "
                f"{engineering(highest_possible, 'V', 2)}. Enter again keeps it."
            )
    elif probe.unit == "F" and top > 0.1:
        return f"{engineering(top, 'F')} is more than any part here. Enter again keeps it."
    elif probe.unit == "Ω" and top > 1e9:
        return f"{engineering(top, 'Ω')} is beyond any meter: OL? Enter again keeps it."
    return ""
