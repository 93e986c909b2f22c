"""Colour bands: resistors of three to six bands, and small fuses (IEC 60062, IEC 60127-3).

Bands can be counted from the wrong end: both readings are given where both make sense.
"""

from __future__ import annotations

import re

from loose_rail.markings.reading import MarkedKind, MarkReading, Tolerance
from loose_rail.markings.series import is_usual

COLOURS = ("bk", "bn", "rd", "or", "ye", "gn", "bu", "vi", "gy", "wh")
NAMES = {
    **{"black": "bk", "brown": "bn", "red": "rd", "orange": "or", "yellow": "ye", "green": "gn"},
    **{"blue": "bu", "violet": "vi", "purple": "vi", "grey": "gy", "gray": "gy", "white": "wh"},
    **{"gold": "gd", "silver": "sv", "pink": "pk"},
}
FULL = {short: name for name, short in NAMES.items() if name not in ("purple", "gray")}
DIGITS = {colour: digit for digit, colour in enumerate(COLOURS)}
MULTIPLIERS = {**{c: 10.0**d for c, d in DIGITS.items()}, "gd": 0.1, "sv": 0.01, "pk": 0.001}
TOLERANCES = {
    **{"bn": 1.0, "rd": 2.0, "or": 0.05, "ye": 0.02, "gn": 0.5, "bu": 0.25, "vi": 0.1},
    **{"gy": 0.01, "gd": 5.0, "sv": 10.0},
}
PPM = {"bk": 250, "bn": 100, "rd": 50, "or": 15, "ye": 25, "gn": 20, "bu": 10, "vi": 5, "gy": 1}
FUSE_KINDS = {"bk": "FF", "rd": "F", "ye": "M", "bu": "T", "gy": "TT"}
WITHOUT_BAND = Tolerance.even(20.0)
FROM_THE_OTHER_END = "Counted from the other end."
OFF_SERIES = "Not a value of its series: count again, or look at the colours in white light."


def bands_of(text: str) -> tuple[str, ...] | None:
    """The colours of a marking in short, None where a word is none."""
    words = [word for word in re.split(r"[\s,;/-]+", text.strip().lower()) if word]
    found = tuple(NAMES.get(word, word) for word in words)
    return found if found and all(word in FULL for word in found) else None


def resistor_bands(text: str) -> list[MarkReading]:
    """Every reading of colour bands as a resistor, in Ω."""
    bands = bands_of(text)
    if bands is None:
        return []
    if bands == ("bk",):
        return [MarkReading(MarkedKind.RESISTOR, 0.0, ("one black band: a jumper",))]
    found = []
    for turned, order in ((False, bands), (True, bands[::-1])):
        reading = _resistor(order)
        if reading is None or (turned and order == bands):
            continue
        percent = reading.tolerance.high if reading.tolerance else None
        usual = is_usual(reading.value, percent)
        rank = 2 * turned + (not usual)
        notes = (FROM_THE_OTHER_END if turned else "", "" if usual else OFF_SERIES)
        found.append(reading.ranked(rank, " ".join(filter(None, notes))))
    return found


def _resistor(bands: tuple[str, ...]) -> MarkReading | None:
    if not 3 <= len(bands) <= 6:
        return None
    figures = 3 if len(bands) >= 5 else 2
    digits = [DIGITS.get(band) for band in bands[:figures]]
    factor = MULTIPLIERS.get(bands[figures])
    if any(digit is None for digit in digits) or factor is None:
        return None
    number = int("".join(str(digit) for digit in digits))
    steps = [f"{FULL[band]} {digit}" for band, digit in zip(bands, digits, strict=False)]
    steps.append(f"{FULL[bands[figures]]}: times {factor:g}")
    tolerance, ppm = WITHOUT_BAND, None
    if len(bands) > figures + 1:
        percent = TOLERANCES.get(bands[figures + 1])
        if percent is None:
            return None
        tolerance = Tolerance.even(percent)
        steps.append(f"{FULL[bands[figures + 1]]}: ±{percent:g} %")
    else:
        steps.append("no fourth band: ±20 %")
    if len(bands) == 6:
        ppm = PPM.get(bands[5])
        if ppm is None:
            return None
        steps.append(f"{FULL[bands[5]]}: {ppm} ppm/K")
    value = float(f"{number * factor:.6g}")
    return MarkReading(MarkedKind.RESISTOR, value, tuple(steps), tolerance, ppm=ppm)


def fuse_bands(text: str) -> list[MarkReading]:
    """Four colour bands as a sub-miniature fuse, in A."""
    bands = bands_of(text)
    if bands is None or len(bands) != 4 or bands[3] not in FUSE_KINDS:
        return []
    first, second, factor = DIGITS.get(bands[0]), DIGITS.get(bands[1]), MULTIPLIERS.get(bands[2])
    if first is None or second is None or factor is None:
        return []
    number = 10 * first + second
    steps = (
        f"{FULL[bands[0]]} {first}, {FULL[bands[1]]} {second}",
        f"{FULL[bands[2]]}: times {factor:g} mA",
        f"{FULL[bands[3]]}: {FUSE_KINDS[bands[3]]}",
    )
    amperes = float(f"{number * factor * 1e-3:.6g}")
    return [MarkReading(MarkedKind.FUSE, amperes, steps, characteristic=FUSE_KINDS[bands[3]])]
