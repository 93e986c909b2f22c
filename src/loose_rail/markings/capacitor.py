"""Markings of capacitors: discs, films, chips and cans.

J, K and M are tolerances here, never kilo or mega; the third digit counts noughts of pF.
"""

from __future__ import annotations

import re

from loose_rail.markings.reading import MarkedKind, MarkReading, Tolerance

CAPACITOR = MarkedKind.CAPACITOR
PICO, MICRO = 1e-12, 1e-6
PERCENT = {
    **{"B": 0.1, "C": 0.25, "D": 0.5, "F": 1.0, "G": 2.0, "H": 3.0, "J": 5.0, "K": 10.0},
    **{"M": 20.0, "N": 30.0},
}
UNEVEN = {"Q": (-10, 30), "T": (-10, 50), "S": (-20, 50), "Z": (-20, 80), "P": (0, 100)}
IN_PICOFARADS = {"B": 0.1, "C": 0.25, "D": 0.5, "F": 1.0, "G": 2.0}
"""Below 10 pF a letter is a number of pF (IEC 60062)."""
TEN_PICOFARADS = 10e-12
FILM_VOLTS = {
    **{"A": 1.0, "B": 1.25, "C": 1.6, "D": 2.0, "E": 2.5, "F": 3.15, "G": 4.0, "H": 5.0},
    **{"V": 3.5, "J": 6.3, "K": 8.0, "W": 4.5},
}
CAN_VOLTS = {
    **{"E": 2.5, "G": 4.0, "J": 6.3, "A": 10.0, "C": 16.0, "D": 20.0, "V": 35.0, "H": 50.0},
    "T": 50.0,
}
"""Single letters of cans and chips; `e` is 2.5 V and `E` 25 V where both are used [trade]."""
CAN_BIG_E = 25.0
LETTER_VALUES = {
    **{"A": 1.0, "B": 1.1, "C": 1.2, "D": 1.3, "E": 1.5, "F": 1.6, "G": 1.8, "H": 2.0},
    **{"J": 2.2, "K": 2.4, "L": 2.7, "M": 3.0, "N": 3.3, "P": 3.6, "Q": 3.9, "R": 4.3},
    **{"S": 4.7, "T": 5.1, "U": 5.6, "V": 6.2, "W": 6.8, "X": 7.5, "Y": 8.2, "Z": 9.1},
}
"""EIA-198; a digit after it is the exponent of pF."""
POINTS = {"p": PICO, "n": 1e-9, "u": MICRO, "µ": MICRO, "μ": MICRO, "m": 1e-3}
LEAST_CAN, MOST_DISC = 0.5e-6, 100e-6
"""Nothing smaller stands on a can, nothing larger on a disc, film or chip [E]."""
_RKM = re.compile(r"(\d*)([pnuµμm])(\d*)F?([BCDFGHJKMN]?)")
_PLAIN = re.compile(r"(\d+(?:\.\d+)?)\s*(?:[uµμ]F?)?\s+(\d+(?:\.\d+)?)\s*V", re.IGNORECASE)


def capacitor(text: str) -> list[MarkReading]:
    """Every reading of a marking as a capacitor, in F."""
    code = " ".join(text.split())
    return [*_plain_can(code), *_rkm(code), *_film(code), *_digits(code), *_can(code)]


def tolerance_of(letter: str, farads: float) -> Tolerance | None:
    """What a letter allows at this value, None where it is no tolerance there."""
    if letter in IN_PICOFARADS and 0 < farads < TEN_PICOFARADS:
        return Tolerance(0.0, 0.0, IN_PICOFARADS[letter] * PICO)
    if letter in UNEVEN:
        return Tolerance(*UNEVEN[letter])
    if letter in ("B", "C", "D") and farads >= TEN_PICOFARADS:
        return None  # tenths of a per cent are for resistors
    return Tolerance.even(PERCENT[letter]) if letter in PERCENT else None


def _made(
    farads: float, steps: list[str], letter: str = "", volts: float | None = None, rank: int = 0
) -> MarkReading | None:
    value = float(f"{farads:.6g}")
    tolerance = None
    if letter:
        tolerance = tolerance_of(letter, value)
        if tolerance is None:
            return None
        steps = [*steps, f"{letter}: {tolerance.words}"]
    note = ""
    if letter in ("J", "K", "M"):
        wrong = {"J": "joule", "K": "kilo", "M": "mega"}[letter]
        note = f"{letter} is the tolerance, not {wrong}."
    return MarkReading(CAPACITOR, value, tuple(steps), tolerance, volts, note=note, rank=rank)


def _some(*readings: MarkReading | None) -> list[MarkReading]:
    return [one for one in readings if one is not None]


def _plain_can(code: str) -> list[MarkReading]:
    match = _PLAIN.fullmatch(code)
    if match is None:
        return []
    steps = [f"{match[1]} on a can: µF", f"{match[2]} V"]
    return _some(_made(float(match[1]) * MICRO, steps, volts=float(match[2])))


def _rkm(code: str) -> list[MarkReading]:
    match = _RKM.fullmatch(code)
    if match is None or not (match[1] or match[3]):
        return []
    farads = float(f"{match[1] or '0'}.{match[3] or '0'}") * POINTS[match[2]]
    step = f"{match[2]}: the decimal point, times {POINTS[match[2]]:g} F"
    made = _made(farads, [step], match[4])
    if made is not None and match[2] == "m":
        made = made.ranked(0, "m is milli here: thousands of µF.")
    return _some(made)


def _film(code: str) -> list[MarkReading]:
    match = re.fullmatch(r"([0-3])([A-Z])(\d{3})([A-Z]?)", code.upper())
    if match is None or match[2] not in FILM_VOLTS:
        return []
    volts = round(10 ** int(match[1]) * FILM_VOLTS[match[2]], 2)
    farads, step = _three(match[3])
    steps = [f"{match[1]}{match[2]}: {volts:g} V", step]
    return _some(_made(farads, steps, match[4], volts))


def _three(digits: str) -> tuple[float, str]:
    """Three digits on a disc, film or chip."""
    figures, last = int(digits[:2]), int(digits[2])
    power = {8: -2, 9: -1}.get(last, last)
    step = f"figures {figures}, last digit {last}: times 10^{power} pF"
    return figures * 10.0**power * PICO, step


def _digits(code: str) -> list[MarkReading]:
    """Two or three digits, or a figure with R as its point, on a disc, film or chip."""
    upper = code.upper()
    if match := re.fullmatch(r"(\d*)R(\d*)([A-Z]?)", upper):
        if not (match[1] or match[2]):
            return []
        farads = float(f"{match[1] or '0'}.{match[2] or '0'}") * PICO
        return _some(_made(farads, ["R: the decimal point, in pF"], match[3]))
    if match := re.fullmatch(r"(\d{1,2})([A-Z]?)", upper):
        made = _made(int(match[1]) * PICO, [f"{match[1]} plain: pF"], match[2])
        return _some(made)
    if match := re.fullmatch(r"\.(\d+)([A-Z]?)", upper):
        return _some(_made(float(f"0.{match[1]}") * MICRO, ["a point first: µF"], match[2]))
    match = re.fullmatch(r"(\d{3})([A-Z]?)", upper)
    if match is None:
        return []
    farads, step = _three(match[1])
    rank = 3 if farads > MOST_DISC else 0
    made = _made(farads, [step], match[2], rank=rank)
    if made is not None and match[1][2] == "0":
        made = made.ranked(rank, f"Not {match[1]} pF: the last digit counts noughts.")
    elif made is not None and match[1][2] == "1":
        made = made.ranked(rank, f"Not {match[1][:2]} pF: that would be printed {match[1][:2]}.")
    return _some(made)


def _can(code: str) -> list[MarkReading]:
    """Three digits and a letter of volts, or a letter each of volts and value, on a can or chip."""
    if match := re.fullmatch(r"(\d{2})([4-8])([A-Za-z]?)", code):
        farads = int(match[1]) * 10.0 ** int(match[2]) * PICO
        volts = _can_volts(match[3]) if match[3] else None
        if farads < LEAST_CAN or (match[3] and volts is None):
            return []
        steps = [f"figures {match[1]}, times 10^{match[2]} pF"]
        steps += [f"{match[3]}: {volts:g} V"] if volts else []
        rank = -1 if volts else 2 if farads <= MOST_DISC else 1
        made = _made(farads, steps, volts=volts, rank=rank)
        return [made.ranked(rank, "On an electrolytic, tantalum or polymer part.")] if made else []
    match = re.fullmatch(r"([A-Za-z])([A-Z])([5-8])", code)
    if match is None or match[2] not in LETTER_VALUES:
        return []
    volts = _can_volts(match[1])
    if volts is None:
        return []
    farads = LETTER_VALUES[match[2]] * 10.0 ** int(match[3]) * PICO
    steps = [f"{match[1]}: {volts:g} V", f"{match[2]}{match[3]}: {farads * 1e6:g} µF"]
    return _some(_made(farads, steps, volts=volts))


def _can_volts(letter: str) -> float | None:
    return CAN_BIG_E if letter == "E" else CAN_VOLTS.get(letter.upper())
