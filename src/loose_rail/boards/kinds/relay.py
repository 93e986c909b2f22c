"""Relay."""

from __future__ import annotations

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
from loose_rail.circuit.elements import Windings
from loose_rail.kernel.quantities import component_value
from loose_rail.vocabulary.meter_mode import MeterMode

RELAY_HENRIES = 0.3
"""Inductance of the coil [E]."""


def _body(part: Component) -> Elements:
    p = part.pins
    ohms = component_value(part.params.get("ohms", "360R"))
    return {f"{part.ref}.coil": Windings(((p["A1"], p["A2"]),), (ohms,), (RELAY_HENRIES,))}


KIND = ComponentKind(
    name="relay",
    words="relay",
    body=_body,
    probes=(ColdProbe("coil", MeterMode.OHMS, "A1", "A2", "coil ohms"),),
    faults=(
        FaultMode(
            mode="coil",
            title="coil open",
            rate=0.4,
            effect=Effect.OPEN,
            element="coil",
        ),
        FaultMode(
            mode="contact",
            title="contact burnt, never closes",
            rate=0.6,
            effect=Effect.DEAD,
        ),
        FaultMode(
            mode="welded",
            title="contact welded",
            rate=0.5,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.02),),
            pins=("1", "2"),
        ),
    ),
    traits=frozenset({Trait.JOINS}),
    test=ComponentTest(
        title="Relay",
        steps=(
            "Coil: its ohms, often 100 to 700 Ω, less what the diode across it passes one way.",
            "Contact: open without coil current, below 0.1 Ω with it (bench supply at the coil's "
            "volts, board unplugged).",
            "It clicks and the contact still reads ohms: burnt. It never opens: welded.",
        ),
        caution="Its contact carries mains: unplugged and drained, or not at all.",
    ),
)
