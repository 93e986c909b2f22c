"""From a value to what would be printed: bands, digits, letters; the way back of the decoders."""

from __future__ import annotations

import math

from loose_rail.markings.bands import COLOURS, MULTIPLIERS, TOLERANCES
from loose_rail.markings.capacitor import FILM_VOLTS, PERCENT, PICO
from loose_rail.markings.resistor import EIA96
from loose_rail.markings.series import values_of

CLOSE = 1e-6
_POWER_COLOURS = {round(math.log10(factor)): colour for colour, factor in MULTIPLIERS.items()}
_PERCENT_COLOURS = {percent: colour for colour, percent in TOLERANCES.items()}
_PERCENT_LETTERS = {percent: letter for letter, percent in PERCENT.items()}


def figures_of(value: float, count: int) -> tuple[int, int] | None:
    """So many figures and the power of ten that make a value, None where more are needed."""
    power = math.floor(math.log10(value)) - count + 1
    figures = round(value / 10.0**power)
    if figures == 10**count:
        figures, power = figures // 10, power + 1
    close = abs(figures * 10.0**power / value - 1.0) < CLOSE
    return (figures, power) if close else None


def bands(ohms: float, percent: float) -> tuple[str, ...] | None:
    """The colours of a resistor: four bands, five where two figures are too few or the tolerance
    is below 2 %; None where bands can't say it."""
    if ohms == 0:
        return ("bk",)
    count = 3 if percent < 2.0 else 2
    found = figures_of(ohms, count) or figures_of(ohms, 3)
    if found is None or found[1] not in _POWER_COLOURS:
        return None
    digits = tuple(COLOURS[int(one)] for one in str(found[0]))
    ends = () if percent == 20.0 and len(digits) == 2 else (_PERCENT_COLOURS.get(percent),)
    if None in ends:
        return None
    return (*digits, _POWER_COLOURS[found[1]], *(one for one in ends if one))


def smd(ohms: float, count: int) -> str:
    """`count` is 3 or 4 letters on a chip resistor; empty where they can't say it."""
    if ohms == 0:
        return "0" * count
    found = figures_of(ohms, count - 1)
    if found is not None and 0 <= found[1] <= 9:
        return f"{found[0]}{found[1]}"
    text = f"{ohms:.{count}g}"
    if "e" in text or ohms >= 10 ** (count - 1):
        return ""
    whole, _, part = text.partition(".")
    shown = f"{'' if whole == '0' else whole}R{part}".ljust(count, "0")
    return shown if len(shown) == count else ""


def eia96(ohms: float) -> str:
    """Two digits and a letter on a 1 % chip; empty where the value is none of E96."""
    values = [round(100 * one) for one in values_of("E96")]
    for letter, factor in EIA96.items():
        for number, figures in enumerate(values, start=1):
            if abs(figures * factor / ohms - 1.0) < CLOSE:
                return f"{number:02d}{letter}"
    return ""


def rkm(value: float, unit: str) -> str:
    """A letter as decimal point: 4K7 for Ω, 4n7 for F; empty outside its letters."""
    letters = {"Ω": ((0, "R"), (3, "K"), (6, "M")), "F": ((-12, "p"), (-9, "n"), (-6, "u"))}[unit]
    power, letter = max(
        ((p, x) for p, x in letters if value >= 10.0**p * (1 - CLOSE)), default=letters[0]
    )
    number = float(f"{value / 10.0**power:.4g}")
    if number >= 1000 or abs(number * 10.0**power / value - 1.0) > CLOSE:
        return ""
    whole, _, part = f"{number:g}".partition(".")
    return f"{whole}{letter}{part}" if whole != "0" else f"{letter}{part}"


def disc(farads: float, percent: float | None = None) -> str:
    """Three digits of pF and a tolerance letter; two below 100 pF where they say it."""
    found = figures_of(farads / PICO, 2)
    if found is None or not -2 <= found[1] <= 7:
        return ""
    last = {-2: 8, -1: 9}.get(found[1], found[1])
    letter = _PERCENT_LETTERS.get(percent, "") if percent is not None else ""
    if percent is not None and not letter:
        return ""
    return f"{found[0]}{last}{letter}"


def film(farads: float, volts: float, percent: float) -> str:
    """Voltage letter, three digits, tolerance; empty where letters can't say it."""
    code = disc(farads, percent)
    for power in range(4):
        for letter, factor in FILM_VOLTS.items():
            if abs(10**power * factor / volts - 1.0) < 1e-3 and code:
                return f"{power}{letter}{code}"
    return ""


def inductor(henries: float) -> str:
    """Three digits of µH, or R as their point."""
    micro = henries * 1e6
    found = figures_of(micro, 2)
    if found is not None and 0 <= found[1] <= 9:
        return f"{found[0]}{found[1]}"
    whole, _, part = f"{micro:.3g}".partition(".")
    return f"{'' if whole == '0' else whole}R{part}" if micro < 10 and "e" not in part else ""


def codes_of(value: float, unit: str, percent: float, volts: float | None) -> dict[str, str]:
    """What would be printed for a value, by where it stands; only what can say it."""
    found: dict[str, str] = {}
    if unit == "Ω":
        colours = bands(value, percent)
        found = {
            "colour bands": " ".join(colours or ()),
            "chip, three letters": smd(value, 3),
            "chip, four letters": smd(value, 4),
            "chip, E96": eia96(value) if value > 0 else "",
            "letter as point": rkm(value, "Ω") if value > 0 else "0R",
        }
    elif unit == "F":
        found = {
            "disc or film": disc(value, percent),
            "film with volts": film(value, volts, percent) if volts else "",
            "letter as point": rkm(value, "F"),
        }
    elif unit == "H":
        found = {"inductor": inductor(value)}
    return {where: code for where, code in found.items() if code}
