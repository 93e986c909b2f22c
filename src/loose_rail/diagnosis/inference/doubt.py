"""Where the doubt about what a fault does beside ends: readings that it can't bring about.

A board that a fault disturbs may read otherwise than predicted, anywhere in a meter's range, but
for what physics forbids: nothing that takes a supply away lifts a rail above its volts, and nothing
that leaves the bulk alone takes it below the peak of the mains.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.inference.predicted import Predicted
from loose_rail.diagnosis.inference.rows_in_time import RowsInTime
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.keys import is_ripple, stage_of
from loose_rail.vocabulary.roles import BoardRole

Floats = NDArray[np.float64]

TOO_HIGH_SHARE, NOT_ABOVE_SHARE = 1.15, 1.05
"""A rail this far above a sound one's volts has lost its regulation; a fault that brings it no
higher than this in any state has not [P]."""
SAGGING_SHARE, HUMS_SHARE = 0.88, 0.05
"""Of the peak of the mains: a bulk that stands lower lacks farads, an arm of its bridge or mains;
a whole set's load takes a sound one some hundredths down. Of a rail's volts: more AC on it [P]."""
AS_A_SOUND_BULK, AS_A_SOUND_HUM = 0.95, 1.5
"""A row that is predicted to leave so much of a sound bulk, or no more than so many times its AC
volts, does nothing of that kind."""


def share_of_doubt(at: Predicted, in_time: RowsInTime, observation: Observation) -> Floats:
    """How much of the flat density of a doubted consequence lies at a reading, `(n_rows,)`."""
    found = np.ones(len(at.low))
    if observation.form is not Form.VALUE or not at.probe.live or at.probe.unit != "V":
        return found
    if is_ripple(at.probe.observable):
        return _ripple(at, abs(observation.low), found)
    if stage_of(at.probe.observable) == str(BoardRole.BULK):
        return _at_the_bulk(at, abs(observation.low), found)
    unasked = _nobody_asks(at, abs(observation.low))
    if unasked is not None:
        return np.where(unasked, 0.0, found)
    most = TOO_HIGH_SHARE * float(at.low[0]) if at.steady[0] else 0.0
    if not at.probe.rail or not 0.0 < most < at.range:
        return found
    never_above = np.nan_to_num(in_time.peaks) < NOT_ABOVE_SHARE * at.low[0]
    return np.where(never_above & (abs(observation.low) >= most), 0.0, 1.0)


GONE_SHARE, STANDS_SHARE = 0.1, 0.5
"""Of a rail's volts: below the first it is off, from the second on it stands."""


def _nobody_asks(at: Predicted, volts: float) -> NDArray[np.bool_] | None:
    """Rows `(n_rows,)` that can't let a rail stand which nobody asks for; None where it is asked
    for, or does not stand."""
    rail = at.board.rail_of(at.probe.rail)
    if rail is None or not rail.volts or not at.steady[0]:
        return None
    if float(at.low[0]) > GONE_SHARE * rail.volts or volts < STANDS_SHARE * rail.volts:
        return None
    return (np.nan_to_num(at.high) < GONE_SHARE * rail.volts) & ~at.outside


def _ripple(at: Predicted, volts: float, found: Floats) -> Floats:
    """AC volts on a rail that a row leaves as still as a sound one's."""
    quiet = np.nan_to_num(at.high) < AS_A_SOUND_HUM * float(at.low[0])
    hums = volts > HUMS_SHARE * at.live_degrees.rail_volts
    return np.where(quiet & ~at.outside & hums, 0.0, found)


def _at_the_bulk(at: Predicted, volts: float, found: Floats) -> Floats:
    peak, sound = math.sqrt(2.0) * at.board.mains.volts, float(at.low[0])
    sags = HUMS_SHARE * peak < volts < SAGGING_SHARE * peak
    impossible = (np.nan_to_num(at.low) > AS_A_SOUND_BULK * sound) & sags
    return np.where(impossible & ~at.outside, 0.0, found)
