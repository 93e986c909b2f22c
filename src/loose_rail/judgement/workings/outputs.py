"""Workings of the outputs: dummy load, ripple, divider, cable, LED strings, an injected supply."""

from __future__ import annotations

import math

from loose_rail.judgement.limits import limit
from loose_rail.judgement.workings.calculator import Calculator, Given, Input, Result
from loose_rail.markings.series import nearest

COPPER_OHM_METRES, COPPER_PER_KELVIN = 1.724e-8, 0.0039
"""Annealed copper at 20 °C (IEC 60028)."""
CERAMIC_KELVIN_PER_WATT = 25.0
"""Surface of a ceramic 10 W resistor over the room [P]."""
CERAMIC_WATTS = 10.0
ROOM_CELSIUS = 25.0
INSTALLED_SHARE = 0.5
"""Of its rating, what a dummy load is used at [P]."""
LAMP_COLD_SHARE = 12.5
"""Hot over cold ohms of a 12 V car lamp (electrical reference section 10) [E]."""


def _dummy(given: Given) -> tuple[Result, ...]:
    ohms, watts = given["volts"] / given["amps"], given["volts"] * given["amps"]
    surface = ROOM_CELSIUS + CERAMIC_KELVIN_PER_WATT * watts
    lamp = given["volts"] ** 2 / given["lamp"]
    return (
        Result("Load resistor", ohms, "Ω", f"nearest E12: {nearest(ohms, 'E12'):g} Ω"),
        Result("It takes", watts, "W"),
        Result("Rated at least", watts / INSTALLED_SHARE, "W"),
        Result("Surface of a 10 W ceramic", surface, "°C", _bears(watts)),
        Result("A lamp of those watts, hot", lamp, "Ω"),
        Result("The lamp's first amperes", given["volts"] / (lamp / LAMP_COLD_SHARE), "A"),
    )


def _bears(watts: float) -> str:
    if watts > CERAMIC_WATTS:
        return "more than it bears: take one of the rating above, or several"
    return "stand it on something that bears that"


def _ripple(given: Given) -> tuple[Result, ...]:
    by_esr = given["amps"] * given["esr"]
    by_farads = given["amps"] / (8.0 * given["hertz"] * given["farads"])
    return (
        Result("Ripple by the ESR", by_esr, "V", "peak to peak"),
        Result("Ripple by the capacitance", by_farads, "V", "peak to peak, triangular current"),
        Result("As a true-RMS meter shows", (by_esr + by_farads) / (2.0 * math.sqrt(3.0)), "V"),
        Result("Share of the rail", 100.0 * (by_esr + by_farads) / given["volts"], "%"),
        Result("Corner of the ESR", 1.0 / (2.0 * math.pi * given["esr"] * given["farads"]), "Hz"),
    )


def _divider(given: Given) -> tuple[Result, ...]:
    volts = given["reference"] * (1.0 + given["upper"] / given["lower"])
    drifted = given["reference"] * (1.0 + given["upper"] * 1.1 / given["lower"])
    parallel = given["upper"] * given["meter"] / (given["upper"] + given["meter"])
    loaded = given["reference"] * (1.0 + parallel / given["lower"])
    return (
        Result("It regulates to", volts, "V"),
        Result("With the upper one 10 % high", drifted, "V", "resistors drift upwards"),
        Result("Through the divider", volts / (given["upper"] + given["lower"]), "A"),
        Result("With the meter across it", loaded, "V", "measure dividers unpowered"),
    )


def _cable(given: Given) -> tuple[Result, ...]:
    warm = 1.0 + COPPER_PER_KELVIN * (given["celsius"] - 20.0)
    ohms = COPPER_OHM_METRES * warm * 2.0 * given["metres"] / (given["square_mm"] * 1e-6)
    whole = ohms + given["contacts"]
    return (
        Result("Drop there and back", whole * given["amps"], "V"),
        Result("Ohms of the copper", ohms, "Ω"),
        Result("Watts in it", whole * given["amps"] ** 2, "W"),
        Result("Watts in the contacts", given["contacts"] * given["amps"] ** 2, "W"),
    )


def _string(given: Given) -> tuple[Result, ...]:
    volts = given["leds"] * given["forward"]
    clamp = limit("led_clamp_share") * volts
    watts = volts * given["amps"] * given["strings"]
    return (
        Result("A string stands at", volts, "V", "above 60 V it is a hazard"),
        Result("The driver clamps at about", clamp, "V", "an open string climbs there"),
        Result("One LED shorted in it", volts - given["forward"], "V"),
        Result("Duty of the boost", 100.0 * (1.0 - given["feed"] / volts), "%"),
        Result("From the feed", watts / (given["efficiency"] / 100.0 * given["feed"]), "A"),
        Result("Watts of the backlight", watts, "W"),
    )


def _injected(given: Given) -> tuple[Result, ...]:
    watts = given["amps"] ** 2 * given["short"]
    return (
        Result("Watts in the short", watts, "W", _seen_by(watts)),
        Result("It warms by about", given["kelvin_per_watt"] * watts, "K"),
        Result("Volts that are needed", given["amps"] * (given["short"] + given["leads"]), "V"),
        Result("Watts in the leads", given["amps"] ** 2 * given["leads"], "W"),
        Result("Never above", min(given["rail"], INJECT_SHARE * given["rail"]), "V"),
    )


INJECT_SHARE = 0.5
"""Of the rail's volts: loads stay below what wakes them [P]."""


def _seen_by(watts: float) -> str:
    """What shows so many watts in one spot (electrical reference section 7) [E]."""
    if watts > 0.3:
        return "a thermal camera shows it"
    return "alcohol or freeze spray shows it" if watts > 0.05 else "only millivolts along it do"


OUTPUTS = (
    Calculator(
        "dummy",
        "Dummy load",
        (
            Input("volts", "Rail", "V", 12.0, 0.5, 500.0),
            Input("amps", "Amperes wanted", "A", 2.0, 0.001, 100.0),
            Input("lamp", "Or a lamp of", "W", 21.0, 0.1, 500.0),
        ),
        _dummy,
        "R = V/I;  P = V·I;  rating = 2·P",
        "Ohm and Joule; half the rating, 25 K for each watt of a ceramic 10 W part [P]",
        along="amps",
        caution="It burns skin and paint. The resistor first, then the lamp: a cold lamp trips the "
        "over-current stop.",
    ),
    Calculator(
        "ripple",
        "Ripple and ESR",
        (
            Input("volts", "Rail", "V", 12.0, 0.5, 500.0),
            Input("amps", "Ripple current, peak to peak", "A", 2.0, 0.001, 100.0),
            Input("esr", "ESR", "Ω", 0.036, 1e-4, 100.0),
            Input("farads", "Capacitor", "F", 1000e-6, 1e-8, 1.0),
            Input("hertz", "Frequency", "Hz", 65e3, 50.0, 5e6),
        ),
        _ripple,
        "ΔV = I·ESR;  ΔV_C = I/8·f·C;  f_z = 1/2π·ESR·C",
        "triangular ripple current into C and ESR (textbook)",
        along="esr",
    ),
    Calculator(
        "divider",
        "Divider and reference",
        (
            Input("reference", "Reference", "V", 2.5, 0.1, 50.0),
            Input("upper", "Upper resistor", "Ω", 3.9e6, 1.0, 1e8),
            Input("lower", "Lower resistor", "Ω", 25.2e3, 1.0, 1e8),
            Input("meter", "Meter", "Ω", 10e6, 1e3, 1e12),
        ),
        _divider,
        "V = V_ref·(1 + R_upper/R_lower)",
        "feedback divider (textbook)",
        along="upper",
        reach=1.3,
        caution="A drifted divider raises the rail: unplug before a capacitor vents.",
    ),
    Calculator(
        "cable",
        "Cable and contacts",
        (
            Input("amps", "Amperes", "A", 4.0, 0.001, 200.0),
            Input("metres", "Length, one way", "m", 0.4, 0.001, 1000.0),
            Input("square_mm", "Copper, mm²", "", 0.33, 0.01, 100.0),
            Input("contacts", "Contacts", "Ω", 0.01, 0.0, 10.0),
            Input("celsius", "Copper, °C", "", 40.0, -40.0, 150.0),
        ),
        _cable,
        "R = ρ·2·l/A·(1 + 0.0039·ΔT)",
        "copper (IEC 60028)",
        along="metres",
    ),
    Calculator(
        "led",
        "LED strings",
        (
            Input("leds", "LEDs in a string", "", 16.0, 1.0, 200.0),
            Input("forward", "Forward volts of one", "V", 3.0, 1.5, 15.0),
            Input("amps", "Amperes of a string", "A", 0.12, 0.001, 2.0),
            Input("strings", "Strings", "", 3.0, 1.0, 40.0),
            Input("feed", "Feed", "V", 24.0, 3.0, 400.0),
            Input("efficiency", "Efficiency, %", "", 88.0, 30.0, 100.0),
        ),
        _string,
        "V = n·V_f;  D = 1 − V_in/V_out;  I_in = P/η·V_in",
        "boost conversion ratio (textbook); clamp 1.1 to 1.4 times the string [P]",
        along="leds",
        reach=2.0,
        caution="LED outputs reach hundreds of volts and hold them for minutes.",
    ),
    Calculator(
        "injected",
        "Injected supply into a short",
        (
            Input("rail", "Rail", "V", 12.0, 0.5, 100.0),
            Input("amps", "Amperes", "A", 2.0, 0.01, 20.0),
            Input("short", "The short", "Ω", 0.08, 1e-4, 100.0),
            Input("leads", "Leads and path", "Ω", 0.06, 0.0, 10.0),
            Input("kelvin_per_watt", "Thermal, K/W", "", 80.0, 1.0, 500.0),
        ),
        _injected,
        "P = I²·R;  ΔT = R_th·P",
        "Joule; 60 to 100 K/W for a ceramic capacitor on a board [E]",
        along="amps",
        caution="Unplugged and drained. Ten seconds at a time, never above the rail's own volts.",
    ),
)
