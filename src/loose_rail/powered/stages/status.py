"""Lines on which the supply reports to the main board: power good, and a fault of the lamps.

High is well; a transistor pulls the line down where an output that it watches is missing or far
too high. A level, no number: any logic level above 2.6 V counts as high [P].
"""

from __future__ import annotations

from collections.abc import Callable

from loose_rail.powered.maths import Flag, Value, logical_not, maximum, where
from loose_rail.powered.plant import StatusParameters

PULLED_LOW_VOLTS = 0.15
"""A saturated transistor [P]."""
WELL_SHARES = (0.8, 1.15)
"""Of its nominal voltage: between these an output counts as there; a string that is open lets its
driver climb above [E]."""


def status_volts(
    p: StatusParameters, volts: Callable[[str], Value], given: Callable[[str], Flag]
) -> Value:
    """What stands on a line now, from the volts of stages and where signals are given."""
    well: Flag | None = None
    for one in p.watches.split():
        name, nominal = one.split("=")
        share = volts(name) / float(nominal)
        stands = (share > WELL_SHARES[0]) & (share < WELL_SHARES[1])
        well = stands if well is None else well & stands
    high = p.stuck_high > 0
    if well is not None:
        high = high | well
    if p.signal:
        high = high | logical_not(given(p.signal))
    high = high & (p.stuck_low == 0)
    rail = maximum(volts(p.source), 0.0) * p.pull_path
    return where(high, rail, where(rail > PULLED_LOW_VOLTS, PULLED_LOW_VOLTS, rail))
