"""What a meter answers, as a number in SI units: understood as a whole, or it is no reading.

An answer that is read by its beginning alone turns 320 V into 3 V. So everything in it must have a
meaning: sign, digits with a point or a decimal comma, exponent, prefix and unit of the setting, or
one of the profile's words for an overload. What could be read in two ways is refused.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence

from loose_rail.kernel.errors import MeterTalkError
from loose_rail.vocabulary.meter_mode import MeterMode

SCPI_NOT_A_NUMBER = 9.91e37
"""SCPI-1999 volume 1, section 7.2.1.5; an overload is 9.9E37."""
_NUMBER = re.compile(
    r"(?P<sign>[+-]?)(?P<whole>\d*)(?P<mark>[.,]?)(?P<part>\d*)(?:[eE](?P<exponent>[+-]?\d{1,3}))?"
    r"\s*(?P<unit>[A-Za-zµμΩΩ%° ]*)"
)
_QUEUE = re.compile(r'(?P<number>[+-]?\d+)\s*,\s*"(?P<words>[^"]*)"?.*', re.DOTALL)
_UNITS = {
    "V": re.compile(r"(?P<prefix>[numkKM]|µ|μ)?\s*V(?:OLTS?)?\s*(?:DC|AC|RMS)?", re.IGNORECASE),
    "Ω": re.compile(r"(?P<prefix>[mkKM])?\s*(?:OHMS?|Ω|Ω)", re.IGNORECASE),
    "F": re.compile(r"(?P<prefix>[pnum]|µ|μ)?\s*F(?:ARADS?)?", re.IGNORECASE),
}
_PREFIXES = {"p": 1e-12, "n": 1e-9, "u": 1e-6, "µ": 1e-6, "μ": 1e-6, "m": 1e-3, "k": 1e3, "M": 1e6}


def reading_in(
    answer: str, mode: str, scale: float, overload: float, open_words: Sequence[str]
) -> float:
    """An answer in SI units, +inf for an overload. Raises MeterTalkError for anything else.

    `scale` is what a bare number is multiplied by; a unit in the answer speaks for itself and must
    not contradict it. `overload` is the least magnitude that means OL.
    """
    text = answer.strip()
    if _is_overload(text, open_words):
        return math.inf
    queued = _QUEUE.fullmatch(text)
    if queued is not None:
        raise MeterTalkError(
            f"The meter reports error {queued['number']}, “{queued['words'][:40]}”: no reading.",
            "Check its setting and its profile, then read again.",
        )
    if re.fullmatch(r"[+-]?nan\b.*", text, re.IGNORECASE):
        raise _no_reading()
    found = _NUMBER.fullmatch(text)
    if found is None or not (found["whole"] or found["part"]):
        raise _not_understood(text)
    number = _magnitude(found, text)
    if math.isclose(abs(number), SCPI_NOT_A_NUMBER):
        raise _no_reading()
    unit = found["unit"].strip()
    factor = _unit_factor(unit, mode, scale, text) if unit else scale
    return math.inf if abs(number) >= overload else number * factor


def _is_overload(text: str, open_words: Sequence[str]) -> bool:
    """Begins with a word for overload and holds no number beside it."""
    for word in open_words:
        if text.upper().startswith(word.upper()):
            return not any(letter.isdecimal() for letter in text[len(word) :])
    return False


def _magnitude(found: re.Match[str], text: str) -> float:
    """The number with its sign and exponent. A comma is a decimal comma; three digits behind it
    could be thousands as well, and then nobody knows which."""
    comma, exponent = found["mark"] == ",", found["exponent"]
    if comma and exponent is None and len(found["part"]) == 3:
        raise MeterTalkError(
            f"The meter answered “{text[:40]}”: thousands, or a decimal comma?",
            "Set the meter to a decimal point, or to more digits.",
        )
    if comma and (not found["whole"] or not found["part"]):
        raise _not_understood(text)
    plain = f"{found['sign']}{found['whole'] or '0'}.{found['part'] or '0'}e{exponent or 0}"
    number = float(plain)
    if not math.isfinite(number):
        raise _not_understood(text)
    return number


def _unit_factor(unit: str, mode: str, scale: float, text: str) -> float:
    """What the unit in an answer multiplies by; it must be the setting's own."""
    own = MeterMode(mode).unit
    match = _UNITS[own].fullmatch(unit)
    if match is None:
        raise MeterTalkError(
            f"The meter answered “{text[:40]}”, which is no {MeterMode(mode).label} reading.",
            "Check its setting and its profile, then read again.",
        )
    factor = _prefix_factor(match["prefix"] or "", own, text)
    if scale != 1.0 and not math.isclose(factor, scale):
        raise MeterTalkError(
            f"The meter answered “{text[:40]}”, but its profile multiplies by {scale:g}.",
            "Mend the scale of this setting in its profile.",
        )
    return factor


def _prefix_factor(prefix: str, unit: str, text: str) -> float:
    """By case where that tells; a capital M before volts or farads is milli to some and mega to
    others, and a small one before ohms likewise where the rest is in capitals."""
    if not prefix:
        return 1.0
    shouted = not any(letter.islower() for letter in text if letter.isalpha())
    if prefix == "M" and unit == "Ω":
        return _PREFIXES["M"]
    if prefix == "M" or (prefix == "m" and shouted):
        raise _not_understood(text)
    return _PREFIXES[prefix if prefix in _PREFIXES else prefix.lower()]


def _no_reading() -> MeterTalkError:
    return MeterTalkError("The meter answered that it has no reading.", "Read again.")


def _not_understood(text: str) -> MeterTalkError:
    return MeterTalkError(
        f"The meter answered “{text[:40]}”, which is no whole number with its unit: no reading.",
        "Check its setting and its profile; what you typed is kept.",
    )
