"""Workings of parts: life of a capacitor, snubber, values of a series and their combinations."""

from __future__ import annotations

import math

from loose_rail.judgement.workings.calculator import Calculator, Given, Input, Result
from loose_rail.markings.series import nearest, values_of

CORE_RISE_AT_RATED = 5.0
"""K in the core of a 105 °C part at its rated ripple [P]."""
DAYS_A_YEAR = 365.25
MOST_YEARS = 15.0
"""Then the seal is through [P]."""


def _life(given: Given) -> tuple[Result, ...]:
    rise = CORE_RISE_AT_RATED * given["ripple"] ** 2
    steps = (given["rated"] + CORE_RISE_AT_RATED - given["can"] - rise) / 10.0
    hours = given["hours"] * 2.0**steps
    a_day = given["day"]
    years = min(hours / (DAYS_A_YEAR * a_day), MOST_YEARS) if a_day else MOST_YEARS
    doubled = given["hours"] * 2.0 ** (steps - rise / 10.0)
    return (
        Result("Life", hours, "h"),
        Result("At so many hours a day, years", years, "", "15 at most: the seal"),
        Result("With twice the ESR", doubled, "h", "twice the ripple's heat"),
        Result("Ten degrees cooler", 2.0 * hours, "h"),
    )


def _snubber(given: Given) -> tuple[Result, ...]:
    henries, parasitic = given["henries"], given["parasitic"]
    impedance = math.sqrt(henries / parasitic)
    farads = given["times"] * parasitic
    watts = farads * given["volts"] ** 2 * given["hertz"]
    return (
        Result("Resistor", impedance, "Ω", f"nearest E24: {nearest(impedance, 'E24'):g} Ω"),
        Result("Capacitor", farads, "F"),
        Result("It loses", watts, "W", "in the resistor"),
        Result("It rings at", 1.0 / (2.0 * math.pi * math.sqrt(henries * parasitic)), "Hz"),
    )


def _combined(given: Given) -> tuple[Result, ...]:
    wanted = given["ohms"]
    best = {series: nearest(wanted, series) for series in ("E12", "E24", "E96")}
    pair = best_pair(wanted)
    return (
        Result("Nearest E12", best["E12"], "Ω", _off(best["E12"], wanted)),
        Result("Nearest E24", best["E24"], "Ω", _off(best["E24"], wanted)),
        Result("Nearest E96", best["E96"], "Ω", _off(best["E96"], wanted)),
        Result(f"Two of E12 {pair[0]}", pair[3], "Ω", f"{pair[1]:g} and {pair[2]:g} Ω"),
    )


def best_pair(wanted: float) -> tuple[str, float, float, float]:
    """Two E12 values in series or side by side that come closest: how, both, what they make."""
    decade = 10.0 ** math.floor(math.log10(wanted))
    values = [step * decade * scale for scale in (0.1, 1.0, 10.0) for step in values_of("E12")]
    made = [
        found
        for number, one in enumerate(values)
        for other in values[number:]
        for found in (
            ("in series", one, other, one + other),
            ("side by side", one, other, one * other / (one + other)),
        )
    ]
    return min(made, key=lambda found: (abs(math.log(found[3] / wanted)), found[1]))


def _off(value: float, wanted: float) -> str:
    return f"{100.0 * (value / wanted - 1.0):+.1f} %"


PARTS = (
    Calculator(
        "life",
        "Life of an electrolytic",
        (
            Input("hours", "Rated life, h", "", 2000.0, 100.0, 50000.0),
            Input("rated", "Rated temperature, °C", "", 105.0, 60.0, 150.0),
            Input("can", "At the can, °C", "", 65.0, 0.0, 150.0),
            Input("ripple", "Ripple over its rating", "", 0.8, 0.0, 5.0),
            Input("day", "Hours a day", "", 24.0, 0.0, 24.0),
        ),
        _life,
        "L = L₀·2^((T₀ + ΔT₀ − T − ΔT)/10),  ΔT = ΔT₀·(I/I_R)²",
        "twice for each 10 K (Arrhenius; makers' data) [P]",
        along="can",
        reach=1.5,
    ),
    Calculator(
        "snubber",
        "Snubber",
        (
            Input("henries", "Leakage inductance", "H", 3e-6, 1e-9, 1e-2),
            Input("parasitic", "Stray capacitance", "F", 150e-12, 1e-12, 1e-6),
            Input("times", "Capacitor over the stray", "", 3.0, 0.5, 10.0),
            Input("volts", "Volts", "V", 400.0, 1.0, 2000.0),
            Input("hertz", "Switching frequency", "Hz", 65e3, 1e3, 5e6),
        ),
        _snubber,
        "R = √(L/C_p);  P = C_s·V²·f",
        "damping at the characteristic impedance (textbook)",
        along="times",
        caution="Hot side: the resistor is flame-proof and stands clear of the board.",
    ),
    Calculator(
        "series",
        "Values of a series",
        (Input("ohms", "Value wanted", "Ω", 4500.0, 0.01, 1e9),),
        _combined,
        "nearest by ratio; R₁ + R₂,  R₁·R₂/(R₁ + R₂)",
        "IEC 60063",
        along="ohms",
        drawn=1,
        reach=1.6,
    ),
)
