"""Values of parts that follow from a rail's voltage: dividers, ratings, rectifiers, windings.

Textbook relations; ratings are the next step of the usual series above what `worst_volts` asks for.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping

from loose_rail.boards.worst_volts import STANDARD_RATINGS_VOLTS, place_share, rating_margin
from loose_rail.kernel.quantities import component_value

LEAST_CAPACITOR_VOLTS = 10
"""The lowest rating that supplies are built with [P]."""
SCHOTTKY_UP_TO_VOLTS = 26.0
"""Output volts up to which the rectifier is a Schottky diode; types of 100 to 200 V are usual at 24
V [P]."""
LOWER_OHMS = 10e3
"""The lower divider resistor that example boards have [E]."""
SHUNT_VOLTS = 2.495
"""Reference of the 431 type (its data sheets)."""
STEP_DOWN_VOLTS = 0.8
"""Feedback reference of a common step-down chip [P]."""
REFLECTED_VOLTS = 100.0
"""Output volts seen through the transformer while the switch is off [P]."""
RESONANT_REFLECTED_VOLTS = 195.0
"""The same of a half-bridge at a bulk of 390 V: half of it [T]."""
AUXILIARY_VOLTS = 14.4
"""What the winding of the controller's supply gives [P]."""
LED_AMPS = 4.5e-3
"""Through the LED of an optocoupler at full feedback [P]."""
LED_HEADROOM_VOLTS = 3.7
"""LED and shunt regulator under the output: 1.2 and 2.5 V."""
CLAMPED_BIG_FROM_WATTS = 30.0
"""From here a flyback's clamp is one of a main supply: 33 kΩ with 10 nF holds the drain under 730 V
at 110 W, where 100 kΩ with 2.2 nF lets it reach 950 V [T, ngspice]."""
PRELOAD_WATTS, SMALL_PRELOAD_WATTS = 0.1, 0.025
"""What keeps an output that no loop senses from drifting up without load, and what one that is
sensed is loaded with so that its loop stays in hand [P]."""
OVER_VOLTS = 2.5
"""Threshold of an LED driver's over-voltage pin [P]."""
TANK_WATTS, TANK_FARADS = 160.0, 22e-9
"""A half-bridge of this power has a resonant capacitor of this size; both go together [E]."""
BALLAST_FARADS = 22e-12
"""Of one tube [P]."""
E12 = (10, 12, 15, 18, 22, 27, 33, 39, 47, 56, 68, 82)
"""Steps of a decade (IEC 60063)."""
_DIGITS = 4
"""Digits of a written value."""


def value_text(value: float) -> str:
    """A value in the notation of the parts: 38k1, 330R, 3u3."""
    for scale, letter in (
        (1e6, "M"),
        (1e3, "k"),
        (1.0, "R"),
        (1e-3, "m"),
        (1e-6, "u"),
        (1e-9, "n"),
    ):
        if value >= scale * 0.9995:
            whole = f"{value / scale:.{_DIGITS}g}"
            return whole.replace(".", letter) if "." in whole else f"{whole}{letter}"
    return f"{value / 1e-12:.{_DIGITS}g}p"


def nearest_e96(ohms: float) -> float:
    """The nearest value of the E96 series (IEC 60063)."""
    steps = 96 * math.log10(ohms)
    decade, step = divmod(round(steps), 96)
    return float(round(100 * 10 ** (step / 96)) * 10.0 ** (decade - 2))


def nearest_e12(value: float) -> float:
    """The nearest value of the E12 series (IEC 60063)."""
    decade = 10.0 ** (math.floor(math.log10(value)) - 1)
    return float(min((step * decade for step in (*E12, 100)), key=lambda v: abs(v - value)))


def winding_henries(primary: float, volts: float, reflected_volts: float) -> str:
    """Inductance of a secondary winding: turns go as volts, inductance as their square."""
    return value_text(primary * ((volts + 0.6) / reflected_volts) ** 2)


def _volts(params: Mapping[str, str]) -> float:
    return component_value(params["volts"])


def _capacitor_volts(params: Mapping[str, str]) -> str:
    """Of an output: at its clamp where it has one, as a slave winding where it hangs on another."""
    if "clamp" in params:
        worst = component_value(params["clamp"])
    else:
        worst = _volts(params) * place_share("slave" if "from" in params else "regulated")
    wanted = max(rating_margin() * worst, LEAST_CAPACITOR_VOLTS)
    return f"{next(v for v in STANDARD_RATINGS_VOLTS if v >= wanted):g}"


def _divider(reference: float) -> Callable[[Mapping[str, str]], str]:
    def upper(params: Mapping[str, str]) -> str:
        return value_text(nearest_e96(LOWER_OHMS * (_volts(params) / reference - 1.0)))

    return upper


def _henries(params: Mapping[str, str]) -> str:
    primary = component_value(params["primary"])
    count = len(params["ohms"].split())
    volts = [AUXILIARY_VOLTS, _volts(params)] if count == 3 else [_volts(params)]
    reflected = REFLECTED_VOLTS
    if params.get("halves"):
        volts, reflected = [_volts(params)] * 2, RESONANT_REFLECTED_VOLTS
        primary *= TANK_WATTS / component_value(params["watts"])
    others = (winding_henries(primary, v, reflected) for v in volts)
    return " ".join([value_text(primary), *others])


def _big(params: Mapping[str, str]) -> bool:
    return component_value(params["watts"]) >= CLAMPED_BIG_FROM_WATTS


def _led(params: Mapping[str, str]) -> str:
    supply = component_value(
        params.get("led_supply", params["volts"]).replace("$volts", params["volts"])
    )
    return value_text(nearest_e96(max((supply - LED_HEADROOM_VOLTS) / LED_AMPS, 100)))


def _over_upper(params: Mapping[str, str]) -> str:
    return value_text(nearest_e96(LOWER_OHMS * (component_value(params["clamp"]) / OVER_VOLTS - 1)))


RULES: dict[str, Callable[[Mapping[str, str]], str]] = {
    "cap_volts": _capacitor_volts,
    "junction": lambda p: "schottky" if _volts(p) <= SCHOTTKY_UP_TO_VOLTS else "fast",
    "upper": _divider(SHUNT_VOLTS),
    "upper08": _divider(STEP_DOWN_VOLTS),
    "led": _led,
    "clamp_ohms": lambda p: "33k" if _big(p) else "100k",
    "clamp_farads": lambda p: "10n" if _big(p) else "2n2",
    "preload": lambda p: value_text(nearest_e12(_volts(p) ** 2 / PRELOAD_WATTS)),
    "small_preload": lambda p: value_text(nearest_e12(_volts(p) ** 2 / SMALL_PRELOAD_WATTS)),
    "over_upper": _over_upper,
    "tank_farads": lambda p: value_text(
        nearest_e12(TANK_FARADS * component_value(p["watts"]) / TANK_WATTS)
    ),
    "ballast_farads": lambda p: value_text(BALLAST_FARADS * component_value(p["tubes"])),
    "henries": _henries,
}
