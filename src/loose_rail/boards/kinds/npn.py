"""NPN transistor."""

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
from loose_rail.vocabulary.meter_mode import MeterMode


def _body(part: Component) -> Elements:
    p = part.pins
    return {
        f"{part.ref}.be": junction(p["B"], p["E"], "base"),
        f"{part.ref}.bc": junction(p["B"], p["C"], "collector"),
    }


KIND = ComponentKind(
    name="npn",
    words="NPN transistor",
    body=_body,
    probes=(
        ColdProbe("be", MeterMode.DIODE, "B", "E", "base–emitter junction"),
        ColdProbe("ce", MeterMode.OHMS, "C", "E", "ohms C to E"),
    ),
    faults=(
        FaultMode(
            mode="open",
            title="open",
            rate=0.4,
            effect=Effect.OPEN,
        ),
        FaultMode(
            mode="short",
            title="shorted C–E",
            rate=0.5,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.3),),
            pins=("C", "E"),
        ),
    ),
    test=ComponentTest(
        title="NPN transistor",
        steps=(
            "Base to emitter and base to collector: two drops, the collector's a little lower.",
            "The other way: open. Collector to emitter: open both ways.",
            "A base resistor across the junction shunts it: see the predicted reading.",
        ),
        caution="",
    ),
    letters=("Q",),
)
