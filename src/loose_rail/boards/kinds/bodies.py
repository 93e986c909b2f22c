"""What a cold meter sees of the kinds that conduct alike: values and junctions that several share.

Source of the junction values: fitted to the diode-test bands of the electrical reference, section 5
[P], and to some megohms at no voltage, as sound silicon reads [T]; elements are named after the
part: `R8`, `BD1.d1`, `Q1.ds`.
"""

from __future__ import annotations

from collections.abc import Mapping

from loose_rail.boards.kinds.kind import Elements
from loose_rail.boards.profile import Component
from loose_rail.circuit.elements import Capacitor, Junction, Resistor
from loose_rail.kernel.quantities import component_value

CONTROLLER_OHMS = 150e3
"""What a chip draws from its supply pin below its own threshold, as ohms [E]."""
GATE_FARADS = 1e-9
"""Gate of a power switch, farads [E]."""
GATE_ESR_OHMS = 2.0
"""In series with it, ohms [E]."""
GATE_LEAK_OHMS = 1e9
"""Across it, ohms [E]."""
JUNCTIONS: Mapping[str, Mapping[str, float]] = {
    "silicon": {"saturation_amps": 7e-09, "emission": 1.62, "series_ohms": 0.05},
    "small_signal": {"saturation_amps": 3e-09, "emission": 1.85, "series_ohms": 0.6},
    "fast": {"saturation_amps": 9e-09, "emission": 1.55, "series_ohms": 0.05},
    "schottky": {"saturation_amps": 1.3e-06, "emission": 1.08, "series_ohms": 0.02},
    "body": {"saturation_amps": 7e-09, "emission": 1.55, "series_ohms": 0.05},
    "led": {"saturation_amps": 2.6e-13, "emission": 1.9, "series_ohms": 5.0},
    "base": {"saturation_amps": 1.2e-13, "emission": 1.1, "series_ohms": 2.0},
    "collector": {"saturation_amps": 1.6e-13, "emission": 1.1, "series_ohms": 2.0},
    "zener": {
        "saturation_amps": 7e-09,
        "emission": 1.62,
        "series_ohms": 2.0,
        "breakdown_volts": 12.0,
    },
    "chip": {"saturation_amps": 7e-09, "emission": 1.73, "series_ohms": 8.0},
}
"""Amperes, no unit, ohms, volts."""


def two_ends(part: Component) -> tuple[str, str]:
    """The nets of a part's first two pins."""
    first, second = list(part.pins.values())[:2]
    return first, second


def nothing(part: Component) -> Elements:
    """Nothing that a cold meter sees."""
    return {}


def resistor(part: Component) -> Elements:
    """Its printed ohms between two ends."""
    a, b = two_ends(part)
    return {part.ref: Resistor(a, b, component_value(part.value))}


def small_capacitor(part: Component) -> Elements:
    """A film or ceramic capacitor."""
    a, b = two_ends(part)
    return {part.ref: Capacitor(a, b, component_value(part.value), 0.03, 1e9)}


def junction(anode: str, cathode: str, name: str) -> Junction:
    """A junction by its name in the table."""
    return Junction(anode, cathode, **JUNCTIONS[name])


def gate(part: Component, source: str) -> Capacitor:
    """The gate of a switch against its source or emitter."""
    p = part.pins
    return Capacitor(p["G"], p[source], GATE_FARADS, GATE_ESR_OHMS, GATE_LEAK_OHMS)


def chip_pins(part: Component, supply: str) -> Elements:
    """A chip seen from its pins: a junction from ground to each, some load on the supply."""
    p = part.pins
    elements: Elements = {f"{part.ref}.load": Resistor(p[supply], p["GND"], CONTROLLER_OHMS)}
    for pin in p:
        if pin != "GND":
            elements[f"{part.ref}.{pin.lower()}"] = junction(p["GND"], p[pin], "chip")
    return elements
