"""A sample and the character of a series in words."""

from __future__ import annotations

import math

from loose_rail.judgement.series import Character, SeriesFinding
from loose_rail.kernel.quantities import engineering, fixed


def shown(value: float, unit: str) -> str:
    """A sample as a display shows it: four digits, or OL."""
    return "OL" if math.isinf(value) else engineering(value, unit, 4)


def character_words(found: SeriesFinding, unit: str) -> str:
    """What the stream does, in words with its numbers."""
    kind = found.character
    if kind is Character.TOO_SHORT:
        return ""
    if found.hertz is not None:
        span = f"{shown(found.low, unit)} to {shown(found.high, unit)}"
        return f"{kind}, {fixed(found.hertz, 2)} a second, {span}"
    if kind in (Character.RISING, Character.SAGGING, Character.DRIFTING):
        return f"{kind}, {fixed(100 * found.share_per_minute, 2)} % a minute"
    if kind is Character.STEPPING:
        return f"{kind} between {' and '.join(shown(v, unit) for v in found.levels)}"
    if kind is Character.FROZEN:
        return "not one digit moves: is the display held?"
    return str(kind)
