"""A series of meter readings reduced to what is said of it in the ledger.

The character comes from `series`; a record too short for one says only its value, and one that is
neither steady nor regular says the range it wandered over.
"""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.judgement.series import Character, examine
from loose_rail.kernel.observation import Form, Observation, open_circuit, ticking, value

STEADY_VOLTS = 0.03
"""Movement of a steady rail on a meter's display [P]."""
SINGLE = (Character.TOO_SHORT, Character.FROZEN, Character.STEADY)


def summarise(
    seconds: Sequence[float], values: Sequence[float], unit: str, nominal: float | None = None
) -> Observation:
    """One observation for a series of samples (seconds, SI values; +inf is overload).

    Raises ValueError for an empty series.
    """
    found = examine(seconds, values, nominal)
    if found.character is Character.OPEN:
        return open_circuit(unit)
    small = unit == "V" and found.high - found.low <= STEADY_VOLTS
    if small or found.character in SINGLE:
        return value(found.centre, unit)
    if found.character in (Character.TICKING, Character.RIPPLING):
        return ticking(found.low, found.high, unit, found.hertz)
    if found.character is Character.RISING:
        return Observation(Form.RISING, found.low, found.high, unit)
    if found.character is Character.SAGGING:
        return Observation(Form.FALLING, found.low, found.high, unit)
    return Observation(Form.RANGE, found.low, found.high, unit)
