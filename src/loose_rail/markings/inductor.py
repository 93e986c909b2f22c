"""Digits on inductors: three digits count noughts of µH; R is the point of µH, N of nH."""

from __future__ import annotations

import re

from loose_rail.markings.reading import MarkedKind, MarkReading, Tolerance
from loose_rail.markings.resistor import TOLERANCE_LETTERS

INDUCTOR = MarkedKind.INDUCTOR
MICRO, NANO = 1e-6, 1e-9


def inductor(text: str) -> list[MarkReading]:
    """Every reading of a marking as an inductor, in H."""
    code = text.strip().upper()
    if match := re.fullmatch(r"(\d*)([RN])(\d*)([FGHJKMN]?)", code):
        if not (match[1] or match[3]):
            return []
        unit, words = (MICRO, "µH") if match[2] == "R" else (NANO, "nH")
        value = float(f"{match[1] or '0'}.{match[3] or '0'}") * unit
        return [_made(value, [f"{match[2]}: the decimal point, in {words}"], match[4])]
    match = re.fullmatch(r"(\d{2})(\d)([FGHJKMN]?)", code)
    if match is None:
        return []
    value = int(match[1]) * 10.0 ** int(match[2]) * MICRO
    steps = [f"figures {match[1]}, last digit {match[2]}: times 10^{match[2]} µH"]
    made = _made(value, steps, match[3])
    if match[2] == "0":
        made = made.ranked(0, f"Not {match[1]}{match[2]} µH: the last digit counts noughts.")
    return [made]


def _made(value: float, steps: list[str], letter: str) -> MarkReading:
    tolerance = Tolerance.even(TOLERANCE_LETTERS[letter]) if letter else None
    if tolerance is not None:
        steps = [*steps, f"{letter}: {tolerance.words}"]
    return MarkReading(INDUCTOR, float(f"{value:.6g}"), tuple(steps), tolerance)
