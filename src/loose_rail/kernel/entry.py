"""The reading entry grammar: one line as a technician would say or type it.

    4.98  4.98V  0.6..3.9  0.6..3.9@1.1Hz  OL  .  0  short  beep  1k2  0R22  4u7  -5.02
    >400k  >400k rising  rising  rising 2..5  rising 0..5 in 8s
    falling  falling 212>180  276k of 390k

`read_entry` returns what it understood or raises an error that names the nearest form that
works. It judges nothing: whether the value makes sense on the board is asked elsewhere.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, replace

from loose_rail.kernel.errors import BadEntryError, WrongUnitError
from loose_rail.kernel.observation import Form, Observation, open_circuit, short_circuit
from loose_rail.kernel.quantities import (
    Quantity,
    engineering,
    parse_quantity,
    thousands_or_decimal,
)

_OPEN_WORDS = {"ol", ".", "open", "o.l", "0l", "0.l", ".ol", "ol.", "inf", "∞"}
_SHORT_WORDS = {"short", "beep", "beeps", "0"}
_TREND = re.compile(r"^(rising|falling)\b\s*(.*)$", re.IGNORECASE)
_TOOK = re.compile(r"^(.*?)\s*\bin\s+(.+)$", re.IGNORECASE)
_TIME = re.compile(r"^(\d{1,6}(?:[.,]\d{1,6})?)\s*(ms|s|sec|min|)$", re.IGNORECASE)
_RANGE = re.compile(r"^(.+?)\s*\.\.\s*(.+?)(?:\s*@\s*(.+))?$")
_PRINT = re.compile(r"^(.+?)\s+(?:of|printed|marked)\s+(.+)$", re.IGNORECASE)
MOST_SECONDS = 3600.0
"""The longest course that is noted beside a reading; what takes longer is a soak."""
TIME_UNITS = {"": 1.0, "s": 1.0, "sec": 1.0, "ms": 1e-3, "min": 60.0}
UNIT_NAMES = {"Ω": "ohms", "V": "volts", "F": "farads (try 470u)", "Hz": "hertz"}


@dataclass(frozen=True, slots=True)
class Entry:
    """A reading that was understood, with the echo shown before it is accepted.

    `swapped` is true where a minus sign says that the leads were the other way round.
    """

    observation: Observation
    echo: str
    swapped: bool = False


def read_entry(text: str, unit: str) -> Entry:
    """Read one line for a probe that measures in `unit` (V, Ω or F).

    Raises BadEntryError with the nearest form that works, or WrongUnitError where the unit
    written belongs to another kind of measurement.
    """
    stripped = text.strip()
    print_told = _PRINT.match(stripped) if unit == "Ω" else None
    if print_told:
        return _beside_print(print_told[1], print_told[2], unit)
    if not stripped:
        raise BadEntryError("Nothing typed yet.", f"Type a reading, such as {_example(unit)}.")
    lowered = stripped.lower()
    if lowered in _OPEN_WORDS:
        return _plain(open_circuit(unit), "open: the meter shows OL")
    if lowered in _SHORT_WORDS:
        return _zero(lowered, unit)
    trend = _TREND.match(stripped)
    if trend:
        return _read_trend(Form(trend[1].lower()), trend[2], unit)
    if stripped.startswith(">"):
        return _read_above(stripped[1:], unit)
    if ".." in stripped:
        return _read_range(stripped, unit)
    number = _quantity(stripped, unit)
    return _read_value(number.value, unit)


def _beside_print(reading: str, printed: str, unit: str) -> Entry:
    """A reading with what is printed on the part: “276k of 390k”."""
    found, told = read_entry(reading, unit), _quantity(printed, unit).value
    if told <= 0:
        raise BadEntryError(
            f"“{printed.strip()}” is printed on no part.",
            "Type the ohms of its bands: 276k of 390k.",
        )
    observation = replace(found.observation, printed=told)
    return Entry(observation, observation.text())


def _example(unit: str) -> str:
    return {"V": "4.98 or 0.6..3.9@1Hz", "Ω": "4k7, 0R22 or OL", "F": "470u"}.get(unit, "4.98")


def _plain(observation: Observation, echo: str) -> Entry:
    return Entry(observation, echo)


def _zero(word: str, unit: str) -> Entry:
    if unit == "V":
        if word != "0":
            raise WrongUnitError(
                "“short” is no voltage.", "Type the volts the meter shows, 0 for nothing at all."
            )
        return _plain(Observation(Form.VALUE, 0.0, 0.0, "V"), "0 V: nothing there")
    if unit == "F":
        raise WrongUnitError("A capacitance is asked for.", "Type it as 470u, or OL.")
    return _plain(short_circuit(unit), "short: the meter beeps or shows the leads only")


def _quantity(text: str, unit: str) -> Quantity:
    found = parse_quantity(text)
    if found is None and (either := thousands_or_decimal(text)):
        raise BadEntryError(f"“{text.strip()}” can be read in two ways.", f"Type {either}.")
    if found is None:
        raise BadEntryError(
            f"“{text.strip()}” is not a reading.",
            f"Nearest form that works: {_nearest(text, unit)}",
        )
    if found.unit and found.unit != unit:
        raise WrongUnitError(
            f"This probe measures {UNIT_NAMES.get(unit, unit)}, and “{text.strip()}” is in "
            f"{UNIT_NAMES.get(found.unit, found.unit).split(' ')[0]}.",
            "Check the meter's setting, or press O for another probe.",
        )
    return found


def _nearest(text: str, unit: str) -> str:
    """The digits that can be made out, in a form that works; an example where there are none."""
    digits = re.search(r"\d+(?:[.,]\d+)?", text)
    if digits is None:
        return f"{_example(unit)}."
    rest = text[digits.end() : digits.end() + 1]
    prefix = rest if rest in "pnukKMm" else ""
    return f"{digits[0].replace(',', '.')}{prefix}."


def _read_value(number: float, unit: str) -> Entry:
    observation = Observation(Form.VALUE, number, number, unit)
    if number < 0 and unit == "V":
        return Entry(observation, f"{observation.text()}: leads swapped?", swapped=True)
    if number < 0:
        raise BadEntryError(
            f"{engineering(number, unit)} can't be: ohms and farads are never negative.",
            "A charge left in the circuit does this: check that it is drained, then read again.",
        )
    return Entry(observation, observation.text())


def _read_above(text: str, unit: str) -> Entry:
    body = text.strip()
    rising = body.lower().endswith("rising")
    number = _quantity(body[: -len("rising")] if rising else body, unit).value
    form = Form.RISING if rising else Form.ABOVE
    observation = Observation(form, number, math.inf, unit)
    return Entry(observation, observation.text())


def _read_range(text: str, unit: str) -> Entry:
    match = _RANGE.match(text)
    if match is None:
        raise BadEntryError(f"“{text}” is not a range.", "Nearest form that works: 0.6..3.9")
    first, last = _quantity(match[1], unit).value, _quantity(match[2], unit).value
    low, high = min(first, last), max(first, last)
    if match[3] is None:
        observation = Observation(Form.RANGE, low, high, unit)
        return Entry(observation, observation.text())
    rate = parse_quantity(match[3])
    if rate is None or rate.unit not in ("", "Hz") or not 0 < rate.value < 1000:
        raise BadEntryError(
            f"“{match[3]}” is not a rate.", f"Nearest form that works: {low:g}..{high:g}@1.1Hz"
        )
    observation = Observation(Form.TICKING, low, high, unit, rate.value)
    return Entry(observation, observation.text())


def _read_trend(form: Form, rest: str, unit: str) -> Entry:
    took = _TOOK.match(rest)
    seconds = _seconds(took[2]) if took else None
    rest = took[1] if took else rest
    if not rest.strip():
        observation = Observation(form, math.nan, math.nan, unit, seconds=seconds)
        return Entry(observation, f"{observation.text()}, no end value noted")
    parts = re.split(r"\s*(?:>|\.\.|to)\s*", rest.strip())
    if len(parts) != 2:
        raise BadEntryError(f"“{rest}” is not a trend.", f"Nearest form that works: {form} 212>180")
    first, last = (_quantity(part, unit).value for part in parts)
    observation = Observation(form, min(first, last), max(first, last), unit, seconds=seconds)
    return Entry(observation, observation.text())


def _seconds(text: str) -> float:
    match = _TIME.match(text.strip())
    seconds = float(match[1].replace(",", ".")) * TIME_UNITS[match[2].lower()] if match else 0.0
    if not 0.0 < seconds <= MOST_SECONDS:
        raise BadEntryError(
            f"“{text}” is no time up to an hour.", "Nearest form that works: rising 0..5 in 8s"
        )
    return seconds
