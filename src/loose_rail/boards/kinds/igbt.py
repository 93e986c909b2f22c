"""IGBT."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import gate, junction
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
from loose_rail.vocabulary.meter_mode import MeterMode


def _body(part: Component) -> Elements:
    """Without its diode nothing conducts below the meter's open voltage."""
    p = part.pins
    elements: Elements = {f"{part.ref}.ge": gate(part, "E")}
    if part.params.get("diode", "yes") == "no":
        return elements
    return {f"{part.ref}.ce": junction(p["E"], p["C"], "fast"), **elements}


KIND = ComponentKind(
    name="igbt",
    words="IGBT",
    body=_body,
    probes=(
        ColdProbe("ce", MeterMode.OHMS, "C", "E", "ohms C to E"),
        ColdProbe("ec", MeterMode.DIODE, "E", "C", "diode E to C"),
    ),
    faults=(
        FaultMode(
            mode="short",
            title="shorted",
            rate=3.0,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.05),),
            pins=("C", "E"),
        ),
        FaultMode(
            mode="gate",
            title="gate shorted",
            rate=0.4,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=5),),
            pins=("G", "E"),
        ),
        FaultMode(
            mode="open",
            title="open",
            rate=0.3,
            effect=Effect.OPEN,
        ),
    ),
    traits=frozenset({Trait.GATED, Trait.BURSTS}),
    lifted=("ce", "ec"),
    pins={"G": "gate", "C": "collector", "E": "emitter"},
    test=ComponentTest(
        title="IGBT",
        steps=(
            "Short gate to emitter first.",
            "Collector to emitter: open both ways without an inner diode, one drop with it.",
            "Gate to emitter: the resistor across it in place, megohms removed.",
        ),
        caution="On sustain boards: the rail is drained and measured first, each time.",
    ),
    letters=("Q",),
)
