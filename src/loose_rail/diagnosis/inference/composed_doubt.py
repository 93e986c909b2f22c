"""What is known of no composed board: whether its protection trips later, or for good, how low a
reference holds its rail, and how far its main board gets before it gives up."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.inference.predicted import Predicted
from loose_rail.judgement.spread import student4
from loose_rail.vocabulary.keys import stage_of
from loose_rail.vocabulary.roles import MAIN_SIGNAL

Floats = NDArray[np.float64]

RUNS_HIGH = (1.1, 1.7)
STANDS_HIGH = 0.3
"""Where a rail without regulation comes to stand between its own volts and what its winding gives,
and how often it does so on boards whose protection is not known [E]."""
LATCHES = 0.2
"""Share of converters and lamp drivers that give up for good where they are predicted to try again,
or to run at their limit: when a meter comes to it, it reads what a dead one reads [E]."""
AT_REST_SHARE, AT_REST_VOLTS = 0.04, 0.1
"""How well the volts at rest are known: the rail behind, less a diode [E]."""
RUNS_UP_SHARE = 1.05
"""Above this share of its sound volts a stage runs at its limit."""


NOT_SO_FAR, NOT_GIVEN_VOLTS = 0.3, 0.3
"""Share of main boards with a fault of their own that stop before they let lamps or panel on, and
up to what such a line reads then [E]."""


def otherwise_known(at: Predicted, runs_up_to: Floats, volts: float) -> Floats:
    """Density `(n_rows,)` of a still reading where a composed board does otherwise."""
    if at.probe.observable in _enables(at) and volts < NOT_GIVEN_VOLTS:
        return np.where(at.table.elsewhere_main, NOT_SO_FAR / NOT_GIVEN_VOLTS, 0.0)
    rail = at.board.rail_of(at.probe.rail)
    if at.board.known_by != "own" or rail is None or not rail.volts:
        return np.zeros_like(at.low)
    found = np.zeros_like(at.low)
    low, high = (share * rail.volts for share in RUNS_HIGH)
    if low < volts < high:
        trips = at.ticks & (runs_up_to > low)
        found = np.where(trips, STANDS_HIGH / (high - low), 0.0)
    held = _held_low(at, volts, rail.volts) + _behind_a_switch(at, volts, rail.volts)
    return found + _for_good(at, volts) + held


PULLED_DOWN, PULLED_TO_SHARE = 0.4, 0.95
"""Share of shorted boards behind a switch that its resistance holds off their source, so that the
rail behind it stands anywhere below its volts while the one before it is right [E]."""


def _behind_a_switch(at: Predicted, volts: float, sound: float) -> Floats:
    """Density where a load of a switched rail pulls it down against the switch."""
    stage = at.board.stage(stage_of(at.probe.observable))
    if stage is None or stage.kind != "switch" or volts > PULLED_TO_SHARE * sound:
        return np.zeros_like(at.low)
    fed = {load.part for load in at.board.loads if load.rail == stage.id}
    pulls = [
        row.part in fed and len(row.faults) == 1 and row.faults[0].loads_a_rail
        for row in at.table.rows
    ]
    return np.where(pulls, PULLED_DOWN / (PULLED_TO_SHARE * sound), 0.0)


HELD_LOW, LOW_SHARES = 0.5, (0.45, 0.95)
"""Share of references that conduct early and hold their rail still at less, anywhere between these
shares of its volts, where the model knows two degrees [E]."""


def _held_low(at: Predicted, volts: float, sound: float) -> Floats:
    low, high = (share * sound for share in LOW_SHARES)
    if not low < volts < high:
        return np.zeros_like(at.low)
    early = at.of_own_stage(frozenset({"early"}))
    return np.where(early, HELD_LOW / (high - low), 0.0)


def _enables(at: Predicted) -> set[str]:
    """Signals of the main board beside the start."""
    return {one.id for one in at.board.signals} - {MAIN_SIGNAL}


def _for_good(at: Predicted, volts: float) -> Floats:
    """Density of the volts at rest where a stage is predicted to try or to run at its limit. The
    standby supply tries for ever: nothing is behind it that could stop it."""
    if stage_of(at.probe.observable) == at.board.standby_rail:
        return np.zeros_like(at.low)
    rests = np.abs(at.low[at.of_own_stage(frozenset({"dead"})) & at.steady])
    if not rests.size:
        return np.zeros_like(at.low)
    rest = float(np.median(rests))
    width = AT_REST_SHARE * rest + AT_REST_VOLTS
    near = float(student4(np.array((volts - rest) / width))) / width
    limited = np.nan_to_num(at.low) > RUNS_UP_SHARE * np.abs(at.low[0])
    tries = (at.ticks | (at.steady & limited)) & at.unlike & ~at.outside
    return np.where(tries, LATCHES * near, 0.0)
