"""Optocoupler."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import junction
from loose_rail.boards.kinds.kind import (
    ColdProbe,
    ComponentKind,
    ComponentTest,
    Effect,
    Elements,
    FaultMode,
    Severity,
)
from loose_rail.boards.profile import Component
from loose_rail.circuit.elements import Resistor
from loose_rail.vocabulary.meter_mode import MeterMode

DARK_COUPLER_OHMS = 1e8
"""Ohms of the dark transistor side [E]."""


def _body(part: Component) -> Elements:
    p = part.pins
    return {
        f"{part.ref}.led": junction(p["A"], p["K"], "led"),
        f"{part.ref}.ce": Resistor(p["C"], p["E"], DARK_COUPLER_OHMS),
    }


KIND = ComponentKind(
    name="optocoupler",
    words="optocoupler",
    body=_body,
    probes=(
        ColdProbe("led", MeterMode.DIODE, "A", "K", "LED, diode test"),
        ColdProbe("ce", MeterMode.OHMS, "C", "E", "ohms C to E"),
    ),
    faults=(
        FaultMode(
            mode="led_open",
            title="LED dead or too weak",
            rate=0.6,
            effect=Effect.OPEN,
            element="led",
        ),
        FaultMode(
            mode="weak",
            title="aged, passes too little on",
            rate=0.5,
            effect=Effect.WEAK,
            severities=(
                Severity(weight=0.5, alone=0.28, value=0.4),
                Severity(weight=0.25, alone=0.16, value=0.15),
                Severity(weight=0.25, alone=0.14, value=0.1),
                Severity(weight=0.0, alone=0.12, value=0.25),
                Severity(weight=0.0, alone=0.1, value=0.05),
                Severity(weight=0.0, alone=0.1, value=0.21),
                Severity(weight=0.0, alone=0.1, value=0.18),
            ),
        ),
        FaultMode(
            mode="transistor_open",
            title="transistor side open",
            rate=0.3,
            effect=Effect.OPEN,
            element="ce",
        ),
        FaultMode(
            mode="transistor_short",
            title="transistor side shorted",
            rate=0.2,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=2.0),),
            pins=("C", "E"),
        ),
    ),
    pins={"A": "LED anode", "K": "LED cathode", "C": "collector", "E": "emitter"},
    test=ComponentTest(
        title="Optocoupler",
        steps=(
            "LED side, removed: a drop of about 1 V one way, open the other. In place a resistor "
            "of about 1 kΩ stands across it: less than that, both ways.",
            "Transistor side: open while the LED is dark.",
            "Removed: 5 to 10 mA through the LED from a bench supply of 5 V with 470 Ω, the other "
            "side falls to a few hundred ohms.",
            "A weak one lets the rail rise: compare its transfer with a new one.",
        ),
        caution="It crosses the barrier: the same class, spacing and approval only.",
    ),
)
