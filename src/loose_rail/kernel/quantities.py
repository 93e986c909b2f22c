"""Numbers with units: reading what people type and writing engineering notation.

Values inside the program are plain SI floats. This module is the only place that turns text
into a value or a value into text. Notation follows IEC 60062 (letter as decimal point: 4k7,
0R22, 4u7) and ISO 80000-1 (space before the unit, a real minus sign).
"""

from __future__ import annotations

import math
import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

MINUS = "\N{MINUS SIGN}"

_PREFIX = {
    "p": 1e-12,
    "n": 1e-9,
    "u": 1e-6,
    "µ": 1e-6,
    "μ": 1e-6,
    "m": 1e-3,
    "": 1.0,
    "R": 1.0,
    "Ω": 1.0,
    "k": 1e3,
    "K": 1e3,
    "M": 1e6,
    "G": 1e9,
}
_UNIT_WORDS = {
    "v": "V",
    "volt": "V",
    "volts": "V",
    "ω": "Ω",
    "ohm": "Ω",
    "ohms": "Ω",
    "f": "F",
    "a": "A",
    "amp": "A",
    "hz": "Hz",
    "h": "H",
    "s": "s",
    "w": "W",
    "vdc": "V",
    "vac": "V",
    "adc": "A",
    "aac": "A",
}
_KIND_APART = re.compile(r"(?i)(?<=v)\s+(?:dc|ac)\s*$")
_GROUPED = re.compile(r"[-+−]?\s*[1-9]\d{0,2},\d{3}(?!\d)")
_SPACED = re.compile(r"(?<=\d)[ '’\u00a0\u2009\u202f](?=\d{3}(?:\D|$))")
_NUMBER = re.compile(
    r"""^\s*(?P<sign>[-+−]?)\s*
    (?:(?P<whole>\d+)(?P<mid>[pnuµμmRΩkKMGV])(?P<part>\d+)     # 4k7, 0R22, 3V3
      |(?P<number>\d+(?:\.\d*)?|\.\d+)(?:[eE](?P<exp>[-+]?\d{1,3}))?\s*(?P<prefix>[pnuµμmRkKMG]?)
    )\s*(?P<unit>[A-Za-zΩω]*)\s*$""",
    re.VERBOSE,
)


@dataclass(frozen=True, slots=True)
class Quantity:
    """A value in SI units with the unit that was written, `""` where none was."""

    value: float
    unit: str


def parse_quantity(text: str) -> Quantity | None:
    """Read one number with an optional prefix and unit, or return None where it is not one.

    Accepts 4.98, 4.98V, 5V DC, 1k2, 0R22, 4Ω7, 3V3, 4u7, 4u7F, -5.02, 100 nF, 1e3, 4 700. A lone
    `m` is milli and a lone `M` is mega; the comma of some keyboards counts as a decimal point, but
    not where it may as well part thousands (`thousands_or_decimal`). Digits of every script count.
    """
    match = _NUMBER.match(_with_point(plain_digits(text)))
    if match is None:
        return None
    unit_text = match["unit"]
    unit = _UNIT_WORDS.get(unit_text.lower()) if unit_text else ""
    if unit is None:
        return None
    if match["mid"]:
        value = float(f"{match['whole']}.{match['part']}") * _PREFIX.get(match["mid"], 1.0)
        implied = {"R": "Ω", "Ω": "Ω", "V": "V"}.get(match["mid"], "")
        if implied and unit not in ("", implied):
            return None
        unit = unit or implied
    else:
        value = float(f"{match['number']}e{match['exp'] or 0}") * _PREFIX[match["prefix"]]
        unit = unit or ("Ω" if match["prefix"] == "R" else "")
    if not math.isfinite(value):
        return None
    return Quantity(-value if match["sign"] in ("-", MINUS) else value, unit)


def plain_digits(text: str) -> str:
    """The digits and decimal signs of any script as 0 to 9, point and comma; superscripts are none
    of them."""
    if text.isascii():
        return text
    shown = (str(unicodedata.decimal(one, "")) or one for one in text)
    return "".join(shown).replace("٫", ".").replace("٬", ",").replace("\u2126", "Ω")


def thousands_or_decimal(text: str) -> str:
    """What a number with one comma before three digits may be, in words; empty where it is clear:
    `1,234` is 1.234 on one desk and 1234 on another."""
    match = _GROUPED.match(plain_digits(text).strip())
    if match is None or "." in text:
        return ""
    return f"{match[0].replace(',', '.')} or {match[0].replace(',', '')}"


def _with_point(text: str) -> str:
    """The number with a decimal point and no groups; with its comma where that is ambiguous, which
    no pattern takes."""
    bare = _SPACED.sub("", _KIND_APART.sub("", text.strip()))
    if thousands_or_decimal(bare):
        return bare
    if "," in bare and "." in bare:
        last = max(bare.rfind(","), bare.rfind("."))
        other = "," if bare[last] == "." else "."
        return bare.replace(other, "").replace(",", ".")
    return bare.replace(",", ".")


@cache
def component_value(text: str) -> float:
    """Read a component value such as `4k7`, `150u`, `0R22` into SI units.

    Raises ValueError where the text is no value: board files are checked before use.
    """
    quantity = parse_quantity(text)
    if quantity is None:
        raise ValueError(f"“{text}” is not a component value; write 4k7, 0R22 or 150u")
    return quantity.value


MICRO = 1e-6
LARGEST_MICROFARADS = 0.1
LEAST_VOLTS = 5e-4
"""Below half a millivolt a bench meter on its volts range shows nothing."""

_STEPS = ((1e9, "G"), (1e6, "M"), (1e3, "k"), (1.0, ""), (1e-3, "m"), (1e-6, "µ"), (1e-9, "n"))


def _scale(magnitude: float, unit: str) -> tuple[float, str]:
    """Largest prefix not above the magnitude; ohms stay in ohms below one, as the bench says."""
    if magnitude == 0.0 or not math.isfinite(magnitude):
        return 1.0, ""
    if unit == "Ω" and magnitude < 1e3:
        return 1.0, ""
    if unit in ("V", "Hz", "s", "W", "°C") and 1e-3 <= magnitude < 1e4:
        return 1.0, ""
    if unit == "F" and MICRO <= magnitude < LARGEST_MICROFARADS:
        return MICRO, "µ"
    for step, prefix in _STEPS:
        if magnitude >= step * 0.9995:
            return step, prefix
    return 1e-12, "p"


def engineering(value: float, unit: str, digits: int = 3) -> str:
    """Write a value with `digits` significant digits: 4.70 kΩ, 0.12 Ω, 470 µF, −5.02 V.

    Infinite values are written as words because no meter shows them as a number.
    """
    if math.isnan(value):
        return "not known"
    if math.isinf(value):
        return "open" if value > 0 else f"{MINUS}open"
    if unit == "V" and abs(value) < LEAST_VOLTS:
        return "0 V"
    scale, prefix = _scale(abs(value), unit)
    number = fixed(value / scale, digits)
    return f"{number} {prefix}{unit}".rstrip()


def nominal(value: float, unit: str) -> str:
    """Write a printed value as it stands on the part: 1000 µF, 16 V, 4.7 kΩ."""
    scale, prefix = _scale(abs(value), unit)
    return f"{value / scale:.6g} {prefix}{unit}"


def fixed(value: float, digits: int) -> str:
    """Write a plain number with `digits` significant digits and at most three decimals."""
    magnitude = abs(value)
    if magnitude < 5e-4:
        return "0"
    decimals = digits - 1 - math.floor(math.log10(magnitude) + 1e-9)
    rounded = round(value, decimals)
    text = f"{abs(rounded):.{max(0, min(decimals, 3))}f}"
    return f"{MINUS}{text}" if value < 0 else text


def span(low: float, high: float, unit: str, digits: int = 3) -> str:
    """Write a range with the unit once where the prefixes agree: 0.03–0.12 Ω, 155–170 V."""
    if math.isinf(high):
        return f"> {engineering(low, unit, digits)}"
    if math.isinf(low) or (low <= 0 and unit in ("Ω", "F")):
        return f"< {engineering(high, unit, digits)}"
    scale_low, prefix_low = _scale(abs(low), unit)
    scale_high, prefix_high = _scale(abs(high), unit)
    if low == 0 or (unit == "V" and abs(low) < LEAST_VOLTS):
        scale_low, prefix_low = scale_high, prefix_high
    if prefix_low == prefix_high:
        left, right = fixed(low / scale_low, digits), fixed(high / scale_high, digits)
        if left == right:
            return f"{left} {prefix_high}{unit}"
        joiner = " to " if low < 0 or high < 0 else "–"
        return f"{left}{joiner}{right} {prefix_high}{unit}"
    return f"{engineering(low, unit, digits)} – {engineering(high, unit, digits)}"


def percent(fraction: float) -> str:
    """Write a probability or share as a whole percentage without claiming certainty."""
    if fraction <= 0.0:
        return "0 %"
    if fraction < 0.01:
        return "< 1 %"
    if fraction > 0.99:
        return "> 99 %"
    return f"{100 * fraction:.0f} %"


def percents(fractions: Sequence[float]) -> list[str]:
    """Shares that are shown together, as whole percentages that add up as they do: each as
    `percent` writes it, and one that rounding would lose is the last one's, the rest of all. Where
    that is not enough, it goes to those that were cut most (largest remainder)."""
    plain = [k for k, share in enumerate(fractions) if 0.01 <= share <= 0.99]
    total = round(100 * sum(fractions[k] for k in plain))
    whole = {k: round(100 * fractions[k]) for k in plain}
    last = len(fractions) - 1
    off = total - sum(whole.values())
    if last in whole and abs(whole[last] + off - 100 * fractions[last]) < 1.0 <= whole[last] + off:
        whole[last] += off
    else:
        whole = {k: int(100 * fractions[k]) for k in plain}
        cut = sorted(plain, key=lambda k: (whole[k] - 100 * fractions[k], k))
        for k in cut[: total - sum(whole.values())]:
            whole[k] += 1
    return [f"{whole[k]} %" if k in whole else percent(f) for k, f in enumerate(fractions)]


def minutes_text(minutes: float) -> str:
    """Write a bench duration: under a minute, or whole minutes."""
    return "under 1 min" if minutes < 0.75 else f"about {minutes:.0f} min"
