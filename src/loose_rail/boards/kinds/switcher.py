"""Controller chip with its power switch inside."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import CONTROLLER_OHMS, junction
from loose_rail.boards.kinds.kind import (
    ColdProbe,
    ComponentKind,
    ComponentTest,
    Effect,
    Elements,
    FaultMode,
    Severity,
    Trait,
)
from loose_rail.boards.profile import Component
from loose_rail.circuit.elements import Resistor
from loose_rail.vocabulary.meter_mode import MeterMode


def _body(part: Component) -> Elements:
    p = part.pins
    return {
        f"{part.ref}.load": Resistor(p["VCC"], p["GND"], CONTROLLER_OHMS),
        f"{part.ref}.vcc": junction(p["GND"], p["VCC"], "chip"),
        f"{part.ref}.fb": junction(p["GND"], p["FB"], "chip"),
        f"{part.ref}.ds": junction(p["GND"], p["D"], "body"),
    }


KIND = ComponentKind(
    name="switcher",
    words="controller chip with its switch",
    body=_body,
    probes=(
        ColdProbe("ds", MeterMode.OHMS, "D", "GND", "ohms drain pin to ground pin"),
        ColdProbe("sd", MeterMode.DIODE, "GND", "D", "diode of its switch"),
        ColdProbe("vcc", MeterMode.OHMS, "VCC", "GND", "supply pin ohms"),
    ),
    faults=(
        FaultMode(
            mode="short",
            title="its switch shorted",
            rate=3.0,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.05),),
            pins=("D", "GND"),
        ),
        FaultMode(
            mode="supply",
            title="supply pin shorted",
            rate=0.8,
            effect=Effect.BRIDGE,
            severities=(Severity(weight=0.6, ohms=12), Severity(weight=0.4, ohms=1.5)),
            pins=("VCC", "GND"),
        ),
        FaultMode(mode="dead", title="dead, gives no drive", rate=1.5, effect=Effect.DEAD),
        FaultMode(
            mode="no_drive",
            title="runs, but holds its switch back (brown-in, over-voltage or feedback pin)",
            rate=0.4,
            effect=Effect.WEAK,
            severities=(Severity(value=0.0),),
        ),
    ),
    traits=frozenset({Trait.BURSTS}),
    pins={"VCC": "supply pin", "GND": "ground pin", "D": "drain pin", "FB": "feedback pin"},
    test=ComponentTest(
        title="Controller chip with its switch",
        steps=(
            "Drain pin to ground pin: the diode of its switch one way, megohms the other. A beep: "
            "the chip, and the fuse.",
            "Supply pin to ground: kilohms. A beep: the chip or its reservoir.",
            "Under power: its supply between its start and stop volts, still or pulsing. Many "
            "start themselves from the drain pin and have no start-up resistor.",
        ),
        caution="Hot side: black on bulk minus, not chassis. The drain pin stands at the bulk and "
        "rings far above it: no meter there under power.",
    ),
    short="chip",
    look="Body cracked or blown beside the drain pins.",
    letters=("U", "IC"),
)
