"""Workings of the mains side: bulk under its load, hold-up, discharge, limiter, inrush and fuse."""

from __future__ import annotations

import math

from loose_rail.judgement.limiter import Limiter
from loose_rail.judgement.limits import limit
from loose_rail.judgement.workings.calculator import Calculator, Given, Input, Result
from loose_rail.powered.ripple import energy_share, mean_and_foot

BRIDGE_DROP = 1.0
"""Volts of two diodes that carry little [T]."""
LOADED_DROP = 1.96
"""Volts of two diodes under load, 0.98 V each (electrical reference section 1) [T]."""


def _bulk(given: Given) -> tuple[Result, ...]:
    peak = math.sqrt(2.0) * given["volts"]
    top = peak - (LOADED_DROP if given["watts"] else BRIDGE_DROP)
    share = energy_share(given["watts"], given["hertz"], given["farads"], top)
    mean, foot = (top * float(one) for one in mean_and_foot(share, 1.0))
    return (
        Result("Ripple, peak to peak", top - foot, "V"),
        Result("Bulk, as a meter shows it", mean, "V", f"{mean / given['volts']:.2f} of the mains"),
        Result("Foot of the ripple", foot, "V"),
        Result("Without a load", peak - BRIDGE_DROP, "V"),
        Result("Without its capacitor", 0.9 * given["volts"], "V", "mean of the rectified sine"),
    )


def _hold_up(given: Given) -> tuple[Result, ...]:
    volts, least = given["volts"], given["least"]
    if least >= volts:
        raise ValueError("it ends where it begins")
    joules = 0.5 * given["farads"] * (volts**2 - least**2)
    seconds = joules / given["watts"]
    ripple = given["watts"] / (2.0 * math.pi * given["hertz"] * given["farads"] * volts)
    return (
        Result("Hold-up", seconds, "s", f"{seconds * given['hertz']:.1f} periods of the mains"),
        Result("Energy used", joules, "J"),
        Result("Ripple of a boosted bulk", ripple, "V", "peak to peak, at twice the mains"),
    )


def _discharge(given: Given) -> tuple[Result, ...]:
    volts, farads, ohms = given["volts"], given["farads"], given["ohms"]
    tau = ohms * farads
    safe, hazard = limit("drained_volts"), limit("hazard_volts")

    def wait(to: float) -> float:
        return tau * math.log(volts / to) if volts > to else 0.0

    return (
        Result(f"Below {safe:.0f} V after", wait(safe), "s", "then measure"),
        Result(f"Below {hazard:.0f} V after", wait(hazard), "s"),
        Result("Energy", 0.5 * farads * volts**2, "J"),
        Result("First watts in the resistor", volts**2 / ohms, "W"),
        Result("First amperes", volts / ohms, "A"),
    )


def _limiter(given: Given) -> tuple[Result, ...]:
    resistor = Limiter(given["watts"], ohms=given["ohms"])
    lamp, volts = Limiter(given["lamp"]), given["volts"]
    bears = resistor.bears_seconds(volts) or 0.0
    return (
        Result("The resistor bears a short for", bears, "s", "hand on the plug"),
        Result("A short behind it takes", resistor.short_watts(volts), "W"),
        Result("Load that runs behind it", resistor.most_load_watts(volts), "W"),
        Result("The lamp, hot", lamp.hot_ohms(volts), "Ω"),
        Result("Load that runs behind the lamp", lamp.most_load_watts(volts), "W"),
    )


def _fuse(given: Given) -> tuple[Result, ...]:
    """Inrush into an empty bulk through a resistance: i²t = ½·I²·R·C (textbook)."""
    peak = math.sqrt(2.0) * given["volts"]
    amps = peak / given["ohms"]
    let_through = 0.5 * amps**2 * given["ohms"] * given["farads"]
    needed = let_through / limit("fuse_inrush_share")
    return (
        Result("i²t of the inrush", let_through, "A²s"),
        Result("First amperes", amps, "A"),
        Result("i²t that the fuse needs", needed, "A²s", "the inrush is a quarter of it at most"),
    )


_VOLTS = Input("volts", "Mains", "V", 230.0, 50.0, 480.0)
_HERTZ = Input("hertz", "Frequency", "Hz", 50.0, 40.0, 70.0)
_BULK = Input("farads", "Bulk capacitor", "F", 100e-6, 1e-7, 0.1)

MAINS = (
    Calculator(
        "bulk",
        "Bulk from the mains",
        (_VOLTS, _HERTZ, _BULK, Input("watts", "Load", "W", 100.0, 0.0, 5000.0)),
        _bulk,
        "½·C·(V_pk² − v²) = P·t until the next crest takes over",
        "energy balance of a bulk under constant power (textbook)",
        along="farads",
        caution="The hot side is live and stays charged: trained people only.",
    ),
    Calculator(
        "hold_up",
        "Hold-up",
        (
            Input("volts", "Bulk", "V", 390.0, 1.0, 1000.0),
            Input("least", "Down to", "V", 300.0, 0.0, 1000.0),
            _BULK,
            Input("watts", "Load", "W", 200.0, 0.01, 5000.0),
            _HERTZ,
        ),
        _hold_up,
        "t = C·(V₁² − V₂²)/2P;  ΔV = P/2πf·C·V",
        "energy of a capacitor (textbook)",
        along="farads",
    ),
    Calculator(
        "discharge",
        "Discharge",
        (
            Input("volts", "Volts", "V", 390.0, 0.0, 2000.0),
            Input("farads", "Capacitor", "F", 150e-6, 1e-9, 1.0),
            Input("ohms", "Through", "Ω", 2200.0, 1.0, 1e8),
        ),
        _discharge,
        "t = R·C·ln(V/V_t);  E = ½·C·V²;  P = V²/R",
        "RC discharge (textbook); limits of IEC 62368-1 and of this bench",
        along="ohms",
        caution="Insulated probe, resistor rated for the volts and the joules; measure afterwards. "
        "Never a screwdriver. Local rules and licensed practice come first.",
    ),
    Calculator(
        "limiter",
        "Limiter at the first power",
        (
            _VOLTS,
            Input("ohms", "Resistor", "Ω", 100.0, 10.0, 2200.0),
            Input("watts", "Its rating", "W", 50.0, 0.5, 500.0),
            Input("lamp", "Or a lamp of", "W", 60.0, 15.0, 500.0),
        ),
        _limiter,
        "P = V²/R;  t = 25 J/W · P_r/P;  R_hot = V²/P_n",
        "Ohm and Joule; 25 J for each watt of a wirewound resistor [P]",
        along="ohms",
        caution="It stands on the mains and passes 250 °C: never touch it.",
    ),
    Calculator(
        "fuse",
        "Inrush and fuse",
        (_VOLTS, Input("ohms", "In series", "Ω", 5.5, 0.05, 1000.0), _BULK),
        _fuse,
        "I = √2·V/R;  i²t = ½·I²·R·C",
        "RC charging (textbook); a fifth to a quarter of the pre-arcing i²t (IEC 60127 data) [P]",
        along="ohms",
    ),
)
