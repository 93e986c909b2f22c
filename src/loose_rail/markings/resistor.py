"""Digits and letters on resistors: three and four digits, EIA-96, letter as decimal point."""

from __future__ import annotations

import re

from loose_rail.markings.reading import MarkedKind, MarkReading, Tolerance
from loose_rail.markings.series import is_of, values_of

RESISTOR = MarkedKind.RESISTOR
EIA96 = {
    **{"Z": 1e-3, "Y": 1e-2, "R": 1e-2, "X": 0.1, "S": 0.1, "A": 1.0, "B": 10.0, "H": 10.0},
    **{"C": 1e2, "D": 1e3, "E": 1e4, "F": 1e5},
}
POINTS = {"L": 1e-3, "R": 1.0, "Ω": 1.0, "K": 1e3, "M": 1e6, "G": 1e9, "T": 1e12}
TOLERANCE_LETTERS = {
    **{"B": 0.1, "C": 0.25, "D": 0.5, "F": 1.0, "G": 2.0, "H": 3.0, "J": 5.0, "K": 10.0},
    **{"M": 20.0, "N": 30.0},
}
_RKM = re.compile(r"(\d*)([LRΩKMGT])(\d*)([BCDFGHJKMN]?)")


def smd_resistor(text: str) -> list[MarkReading]:
    """Every reading of a marking as a chip resistor, in Ω."""
    code = text.strip().upper().replace("Ω", "R")
    found: list[MarkReading] = []
    if re.fullmatch(r"0{1,4}", code):
        return [MarkReading(RESISTOR, 0.0, ("noughts only: a jumper",))]
    if re.fullmatch(r"\d{3,4}", code):
        figures, power = code[:-1], int(code[-1])
        value = float(f"{int(figures) * 10.0**power:.6g}")
        steps = (f"figures {figures}", f"last digit {power}: times 10^{power}")
        note = ""
        if power == 0:
            note = f"Not {code} Ω: the last digit counts noughts."
        found.append(MarkReading(RESISTOR, value, steps, note=note))
    found += _eia96(code)
    match = re.fullmatch(r"(\d*)R(\d*)", code)
    if match and (match[1] or match[2]):
        value = float(f"{match[1] or '0'}.{match[2] or '0'}")
        rank = 1 if found else 0
        note = "R as the decimal point." if found else ""
        found.append(
            MarkReading(RESISTOR, value, ("R: the decimal point, in Ω",), note=note, rank=rank)
        )
    return found


def _eia96(code: str) -> list[MarkReading]:
    match = re.fullmatch(r"(\d{2})([A-Z])", code)
    if not match or match[2] not in EIA96 or not 1 <= int(match[1]) <= 96:
        return []
    figures = round(100 * values_of("E96")[int(match[1]) - 1])
    factor = EIA96[match[2]]
    value = float(f"{figures * factor:.6g}")
    steps = (f"{match[1]}: the value {figures} of E96", f"{match[2]}: times {factor:g}")
    note = f"Not {int(match[1])} Ω: the digits count through E96."
    return [MarkReading(RESISTOR, value, steps, Tolerance.even(1.0), note=note)]


def rkm_resistor(text: str) -> list[MarkReading]:
    """A letter as decimal point and multiplier, and a tolerance letter after it (IEC 60062)."""
    match = _RKM.fullmatch(text.strip().upper())
    if not match or not (match[1] or match[3]):
        return []
    value = float(f"{match[1] or '0'}.{match[3] or '0'}") * POINTS[match[2]]
    steps = [f"{match[2]}: the decimal point, times {POINTS[match[2]]:g} Ω"]
    tolerance = None
    if match[4]:
        tolerance = Tolerance.even(TOLERANCE_LETTERS[match[4]])
        steps.append(f"{match[4]}: {tolerance.words}")
    value = float(f"{value:.6g}")
    note = "" if is_of(value, "E24") or is_of(value, "E96") else "Not a value of E24 or E96."
    return [MarkReading(RESISTOR, value, tuple(steps), tolerance, note=note)]
