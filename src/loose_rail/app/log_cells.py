"""What stands in a cell of a meter's log: a number, an overload, a unit, a time.

A decimal comma, digits in groups of three, a unit beside the number, clock times that pass
midnight, dates with the day or the month first.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Sequence
from datetime import datetime

import numpy as np
from numpy.typing import NDArray

from loose_rail.kernel.quantities import plain_digits

Floats = NDArray[np.float64]

OVERLOAD_WORDS = {"OL", "OVLD", "OVERLOAD", "OVERFLOW", "INF", "O.L", ".OL", "0.L", "0L", "∞"}
OVERLOAD = 1e30
"""A meter that sends numbers only sends 9.9e37 for an overload (SCPI-99, volume 1, 7.2.1.5); no
reading of a bench comes near it."""
DAY_SECONDS = 86_400.0
MOST_SECONDS = 1e10
"""Three hundred years: larger times are no times of a log."""
UNITS = {"V": "V", "A": "A", "Ω": "Ω", "OHM": "Ω", "OHMS": "Ω", "F": "F", "HZ": "Hz", "S": "s"}
WITH_KIND = re.compile(r"(?i)^([pnuµμmkMG]?V)[ _-]?(?:DC|AC|RMS)$")
PREFIXES = {"p": 1e-12, "n": 1e-9, "u": 1e-6, "µ": 1e-6, "μ": 1e-6, "m": 1e-3, "": 1.0}
PREFIXES |= {"k": 1e3, "K": 1e3, "M": 1e6, "G": 1e9}
TIME_UNITS = {"s": 1.0, "sec": 1.0, "seconds": 1.0, "ms": 1e-3, "us": 1e-6, "µs": 1e-6}
TIME_UNITS |= {"μs": 1e-6, "min": 60.0, "minutes": 60.0, "h": 3600.0, "hours": 3600.0}
_WITH_UNIT = re.compile(r"([-+]?[\d.,]+(?:[eE][-+]?\d{1,3})?)\s*([^\d\s.,]\S{0,7})")
_CLOCK = re.compile(r"(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,](\d{1,9}))?)?\s*([AaPp]\.?[Mm]\.?)?")
_DATE = re.compile(r"(\d{1,4})([./-])(\d{1,2})\2(\d{1,4})\.?[T,; ]*")


def number(cell: str) -> float:
    """A cell as a number; an overload is +inf, anything else NaN."""
    text = plain_digits(cell.strip())
    if text.upper().lstrip("+-") in OVERLOAD_WORDS:
        return math.inf
    try:
        value = float(_with_point(text))
    except ValueError:
        return math.nan
    return math.inf if abs(value) >= OVERLOAD else value


def _with_point(text: str) -> str:
    """The last of comma and point is the decimal one; the others, and spaces, group digits."""
    if "_" in text:
        return "no number"  # Python reads 1_000, no meter writes it
    if "," not in text:
        return text
    if "." in text and text.rfind(".") > text.rfind(","):
        return text.replace(",", "")
    if text.count(",") > 1:
        return text.replace(",", "") if "." not in text else "no number"
    return text.replace(".", "").replace(",", ".")


def numbers(cells: Sequence[str]) -> Floats:
    """Cells of a column as numbers `(n,)`: at once where all are plain, else one by one."""
    try:
        found = np.array(cells, dtype=np.str_).astype(float)
    except ValueError:
        return np.array([number(cell) for cell in cells], dtype=float)
    found[np.abs(found) >= OVERLOAD] = math.inf
    return found


def unit_of(text: str) -> tuple[str, float] | None:
    """A unit as it is written beside a number or in a heading, and its factor to SI."""
    kind = WITH_KIND.match(text)
    words = kind.group(1) if kind else text
    for prefix in (words[:1], ""):
        name = words[len(prefix) :].upper().rstrip(".")
        if prefix in PREFIXES and name in UNITS and (name != "S" or len(words) < 3):
            return UNITS[name], PREFIXES[prefix]
    return None


def quantities(cells: Sequence[str]) -> tuple[Floats, str]:
    """Cells as numbers with their units beside them (`12.3 mV`) in SI, and the unit; NaN where one
    is none, or is of another unit than the first."""
    found, unit = numbers(cells), ""
    for place in np.flatnonzero(np.isnan(found)).tolist():
        match = _WITH_UNIT.fullmatch(cells[place].strip())
        told = unit_of(match.group(2)) if match else None
        if match is None or told is None or (unit and told[0] != unit):
            continue
        unit = told[0]
        found[place] = number(match.group(1)) * told[1]
    return found, unit


def seconds_of(cells: Sequence[str], factor: float) -> tuple[Floats | None, int]:
    """A column of times in seconds, and the row that is none. Numbers are taken times `factor`;
    clock times may pass midnight; of dates the day stands first, unless the months say otherwise.
    """
    plain = numbers(cells)
    if np.isfinite(plain).all():
        found = plain * factor
        odd = np.abs(found) > MOST_SECONDS
        return (None, int(np.argmax(odd))) if odd.any() else (found, -1)
    if np.isfinite(plain).any():  # numbers, and among them one that is none
        return None, int(np.argmin(np.isfinite(plain)))
    reader = _reader(cells)
    stamps = np.empty(len(cells))
    for row, cell in enumerate(cells):
        stamp = reader(cell)
        if stamp is None:
            return None, row
        stamps[row] = stamp
    if _DATE.match(plain_digits(cells[0].strip())) is None:
        stamps = _past_midnight(stamps)
    return stamps, -1


def _past_midnight(stamps: Floats) -> Floats:
    """Clock times go on where they fall by more than half a day."""
    days = np.cumsum(np.diff(stamps, prepend=stamps[:1]) < -DAY_SECONDS / 2)
    return np.asarray(stamps + DAY_SECONDS * days)


def _reader(cells: Sequence[str]) -> Callable[[str], float | None]:
    dates = [found for cell in cells if (found := _DATE.match(plain_digits(cell.strip())))]
    first = {int(one.group(1)) for one in dates}
    second = {int(one.group(3)) for one in dates}
    halves = re.search(r"(?i)[ap]\.?m\.?$", cells[0].strip()) is not None
    day_first = _day_first(first, second, halves) if dates else True
    return lambda cell: _stamp(plain_digits(cell.strip()), day_first)


def _day_first(first: set[int], second: set[int], halves: bool) -> bool:
    """Which of the first two numbers of dates is the day: the one that passes 12; else the second
    with AM and PM; else the one that changes more often, the first where none does."""
    if max(first) > 12 or max(second) > 12:
        return max(first) > 12
    return not halves and len(first) >= len(second)


def _stamp(text: str, day_first: bool) -> float | None:
    """Seconds of one date and time, or of a clock time alone."""
    date = _DATE.match(text)
    clock = _CLOCK.fullmatch(text[date.end() :] if date else text)
    if clock is None and not (date and date.end() == len(text)):
        return _iso(text)
    seconds = _clock_seconds(clock) if clock else 0.0
    if date is None or seconds is None:
        return seconds
    one, two, three = (int(date.group(k)) for k in (1, 3, 4))
    if len(date.group(1)) == 4:
        year, month, day = one, two, three
    else:
        day, month = (one, two) if day_first else (two, one)
        year = three if three > 99 else 2000 + three
    try:
        return datetime(year, month, day).toordinal() * DAY_SECONDS + seconds
    except ValueError:
        return None


def _clock_seconds(clock: re.Match[str]) -> float | None:
    hours, minutes, seconds = (int(clock.group(k) or 0) for k in (1, 2, 3))
    half = (clock.group(5) or "").lower()
    if half:
        if not 1 <= hours <= 12:
            return None
        hours = hours % 12 + (12 if half.startswith("p") else 0)
    if hours > 23 or minutes > 59 or seconds > 59:
        return None
    part = float(f"0.{clock.group(4)}") if clock.group(4) else 0.0
    return hours * 3600.0 + minutes * 60.0 + seconds + part


def _iso(text: str) -> float | None:
    """A time as ISO 8601 writes it, with its zone."""
    try:
        at = datetime.fromisoformat(text)
    except ValueError:
        return None
    zone = at.utcoffset()
    plain = at.replace(tzinfo=None)
    since = plain - datetime(1, 1, 1)
    return since.total_seconds() + DAY_SECONDS - (zone.total_seconds() if zone else 0.0)
