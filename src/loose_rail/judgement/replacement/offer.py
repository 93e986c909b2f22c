"""What is offered for a place, as a line of words: `1000u 16V 105C low-esr 10x20 p5`, `650V 10A
rds=0.6 n to-220 insulated`, `T3.15AL250V`. The same line says what the old part was.

Units: SI; sizes in millimetres, temperatures in °C, tolerances and accuracies in per cent.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from loose_rail.kernel.errors import BadEntryError
from loose_rail.kernel.quantities import parse_quantity
from loose_rail.markings.capacitor import tolerance_of
from loose_rail.markings.fuse import fuse

Value = float | str
NAMED = {
    **{"esr": "esr", "ripple": "ripple", "rds": "ohms_on", "qg": "gate_charge", "trr": "recovery"},
    **{
        "vgs": "gate_volts",
        "ctr": "ctr",
        "iso": "isolation",
        "ref": "reference",
        "acc": "accuracy",
    },
    **{
        "coil": "coil_volts",
        "strings": "strings",
        "type": "type",
        "number": "number",
        "make": "make",
    },
    **{"pins": "pins", "pitch": "pitch", "hfe": "gain", "ir": "amps_hot", "i100": "amps_hot"},
    **{"body": "body_volts", "joules": "joules", "out": "out_volts", "forward": "string_volts"},
    **{"contacts": "contacts", "length": "length", "i2t": "i2t", "vceo": "volts", "vf": "forward"},
}
"""Names before an equals sign, and the attribute they give."""
WORDS: dict[str, tuple[str, Value]] = {
    **{w: ("series", "low-esr") for w in ("low-esr", "lowesr", "low-z", "lz")},
    **{w: ("series", "polymer") for w in ("polymer", "po")},
    **{w: ("series", "general") for w in ("general", "gp")},
    **{w: ("safety", w.upper()) for w in ("x1", "x2", "x3", "y1", "y2", "y3", "y4")},
    **{w: ("dielectric", "C0G") for w in ("c0g", "np0", "cog")},
    **{w: ("dielectric", w.upper()) for w in ("x7r", "x5r", "y5v", "pp", "pet")},
    "polypropylene": ("dielectric", "PP"),
    "polyester": ("dielectric", "PET"),
    **{w: ("body", w) for w in ("electrolytic", "ceramic", "film", "tantalum")},
    **{w: ("junction", w) for w in ("schottky", "ultrafast", "fast", "standard", "zener", "tvs")},
    **{w: ("polarity", w.upper()) for w in ("n", "p", "npn", "pnp")},
    "n-channel": ("polarity", "N"),
    "p-channel": ("polarity", "P"),
    **{w: ("gate", w) for w in ("logic",)},
    "standard-gate": ("gate", "standard"),
    **{w: ("insulated", "yes") for w in ("insulated", "fullpack")},
    **{w: ("insulated", "no") for w in ("bare", "metal-tab")},
    **{w: (w, "yes") for w in ("fusible", "flameproof", "wirewound", "noninductive", "bipolar")},
    **{w: ("pinout", w) for w in ("same-pinout",)},
    **{w: ("diode", "yes") for w in ("co-pack", "with-diode")},
    "no-diode": ("diode", "no"),
    "fast-diode": ("body_diode", "fast"),
    "earthed": ("earth", "yes"),
    **{w: ("characteristic", w.upper()) for w in ("ff", "f", "m", "t", "tt")},
    **{w: ("breaking", w.upper()) for w in ("h", "e", "l")},
}
_SIZE = re.compile(r"(\d+(?:\.\d+)?)[x×](\d+(?:\.\d+)?)")
_PITCH = re.compile(r"p(\d+(?:\.\d+)?)")
_CELSIUS = re.compile(r"(-?\d+)\s?°?C")
_PERCENT = re.compile(r"±?(\d+(?:\.\d+)?)%")
_HOT = re.compile(r"(\d+(?:\.\d+)?)A@(\d+)C?", re.IGNORECASE)
_RANGE = re.compile(r"(\d+(?:\.\d+)?)-(\d+(?:\.\d+)?)%?")
_PACKAGE = re.compile(r"(?:to|so|sot|dip|do|sma|smb|smc|dpak|d2pak)[-]?\w*", re.IGNORECASE)
_UNIT_OF = {"Ω": "ohms", "F": "farads", "H": "henries", "V": "volts", "A": "amps", "W": "watts"}
_UNIT_OF |= {"s": "recovery"}
MOST_WORDS = 40
"""Of an offer: a full line has a dozen [E]."""


@dataclass(frozen=True)
class Offer:
    """Attributes by name; `left` are words that are not understood and count for nothing."""

    text: str
    values: dict[str, Value] = field(default_factory=dict)
    left: tuple[str, ...] = ()

    def number(self, name: str) -> float | None:
        """A numeric attribute, None where it is not said."""
        found = self.values.get(name)
        return found if isinstance(found, float) else None

    def word(self, name: str) -> str:
        """An attribute that is a word, empty where it is not said."""
        found = self.values.get(name, "")
        return found if isinstance(found, str) else f"{found:g}"


def read_offer(text: str, value_unit: str) -> Offer:
    """Read a line; `value_unit` is what a bare number means at this place (F, Ω, H, A or none).

    Raises BadEntryError for an empty or endless line.
    """
    words = text.split()
    if not words or len(words) > MOST_WORDS:
        raise BadEntryError(
            "An offer is a line of words.", "Write it as 1000u 16V 105C low-esr 10x20 p5."
        )
    values: dict[str, Value] = {}
    left = [word for word in words if not _take(word, value_unit, values)]
    return Offer(text, values, tuple(left))


def _take(word: str, value_unit: str, values: dict[str, Value]) -> bool:
    lower = word.lower()
    name, equals, rest = lower.partition("=")
    if equals and name in NAMED and rest:
        return _take_named(NAMED[name], word.partition("=")[2], values)
    return (
        _take_fuse(word, value_unit, values)
        or _take_word(lower, values)
        or _take_shape(word, values)
        or _take_quantity(word, value_unit, values)
    )


def _take_named(name: str, rest: str, values: dict[str, Value]) -> bool:
    if name == "make":
        values[name] = rest
        return True
    if name in ("type", "number", "contacts"):
        values[name] = rest.upper()
        return True
    span = _RANGE.fullmatch(rest)
    if name == "ctr" and span:
        values["ctr_low"], values["ctr_high"] = float(span[1]), float(span[2])
        return True
    found = parse_quantity(rest.rstrip("%"))
    if found is None:
        return False
    values[name] = found.value
    return True


def _take_fuse(word: str, value_unit: str, values: dict[str, Value]) -> bool:
    """A fuse's mark as one word."""
    found = fuse(word) if value_unit == "A" else []
    if not found or not found[0].characteristic:
        return False
    one = found[0]
    values["amps"], values["characteristic"] = one.value, one.characteristic
    if one.breaking:
        values["breaking"] = one.breaking
    if one.volts is not None:
        values["volts"] = one.volts
    return True


def _take_word(lower: str, values: dict[str, Value]) -> bool:
    if lower in WORDS:
        name, value = WORDS[lower]
        values[name] = value
        return True
    if _PACKAGE.fullmatch(lower):
        values["package"] = lower.replace("-", "").upper()
        return True
    return False


def _take_shape(word: str, values: dict[str, Value]) -> bool:
    if match := _SIZE.fullmatch(word):
        values["diameter"], values["height"] = float(match[1]), float(match[2])
    elif match := _PITCH.fullmatch(word):
        values["pitch"] = float(match[1])
    elif match := _CELSIUS.fullmatch(word):
        values["celsius"] = float(match[1])
    elif match := _PERCENT.fullmatch(word):
        values["tolerance"] = float(match[1])
    elif match := _HOT.fullmatch(word):
        values["amps_hot"] = float(match[1])
    else:
        return False
    return True


def _take_quantity(word: str, value_unit: str, values: dict[str, Value]) -> bool:
    alternating = re.fullmatch(r"(?i)(\d+(?:\.\d+)?)\s?v?ac|(\d+(?:\.\d+)?)v~", word)
    if alternating:
        values["volts_ac"] = float(alternating[1] or alternating[2])
        return True
    letter = ""
    if value_unit == "F" and len(word) > 1 and word[-1] in "JKMZ" and word[-2].isalpha():
        word, letter = word[:-1], word[-1]  # 100nK: the tolerance, as on the part
    found = parse_quantity(word)
    if found is None:
        return False
    name = _UNIT_OF.get(found.unit or value_unit, "")
    if not name:
        return False
    values[name] = found.value
    tolerance = tolerance_of(letter, found.value) if letter else None
    if tolerance is not None:
        values["tolerance"] = tolerance.high
    return True
