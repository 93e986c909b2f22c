"""Controller chip."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import chip_pins
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
from loose_rail.vocabulary.meter_mode import MeterMode


def _body(part: Component) -> Elements:
    return chip_pins(part, "VCC")


KIND = ComponentKind(
    name="controller",
    words="controller chip",
    body=_body,
    probes=(ColdProbe("vcc", MeterMode.OHMS, "VCC", "GND", "supply pin ohms"),),
    faults=(
        FaultMode(
            mode="dead",
            title="dead, gives no drive",
            rate=1.2,
            effect=Effect.DEAD,
        ),
        FaultMode(
            mode="warm",
            title="stops when it is warm",
            rate=0.15,
            effect=Effect.INTERMITTENT,
            of="dead",
            share=0.5,
        ),
        FaultMode(
            mode="no_drive",
            title="runs, but holds the drive back (brown-in, over-voltage or feedback pin)",
            rate=0.4,
            effect=Effect.WEAK,
            severities=(Severity(value=0.0),),
        ),
        FaultMode(
            mode="weak_drive",
            title="drives weakly",
            rate=0.15,
            effect=Effect.WEAK,
            severities=(
                Severity(weight=0.6, alone=0.3, value=0.45),
                Severity(weight=0.4, alone=0.2, value=0.2),
                Severity(weight=0.0, alone=0.2, value=0.32),
                Severity(weight=0.0, alone=0.15, value=0.08),
                Severity(weight=0.0, alone=0.15, value=0.26),
            ),
        ),
        FaultMode(
            mode="short",
            title="supply pin shorted",
            rate=0.8,
            effect=Effect.BRIDGE,
            severities=(Severity(weight=0.6, ohms=12), Severity(weight=0.4, ohms=1.5)),
            pins=("VCC", "GND"),
        ),
    ),
    pins={"VCC": "supply pin", "GND": "ground pin"},
    test=ComponentTest(
        title="Controller chip",
        steps=(
            "Supply pin to ground: kilohms. A beep: the chip or its reservoir.",
            "Under power: its supply between its start and stop volts, still or pulsing.",
            "The driver pin to ground, compared with a good board's: a dead switch often kills it.",
        ),
        caution="Hot side: black on bulk minus, not chassis.",
    ),
    short="chip",
    look="Body cracked or blown, above all at the driver pins.",
    letters=("U", "IC"),
)
