"""PNP transistor."""

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
        f"{part.ref}.be": junction(p["E"], p["B"], "base"),
        f"{part.ref}.bc": junction(p["C"], p["B"], "collector"),
    }


KIND = ComponentKind(
    name="pnp",
    words="PNP transistor",
    body=_body,
    probes=(
        ColdProbe("be", MeterMode.DIODE, "E", "B", "base–emitter junction"),
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
        title="PNP transistor",
        steps=(
            "Black on the base: two drops to emitter and collector.",
            "Emitter to collector: open both ways.",
        ),
        caution="",
    ),
    letters=("Q",),
)
