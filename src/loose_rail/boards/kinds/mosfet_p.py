"""Switch (P-channel MOSFET)."""

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
    p = part.pins
    return {
        f"{part.ref}.ds": junction(p["D"], p["S"], "body"),
        f"{part.ref}.gs": gate(part, "S"),
    }


KIND = ComponentKind(
    name="mosfet_p",
    words="switch (P-channel MOSFET)",
    body=_body,
    probes=(
        ColdProbe("sd", MeterMode.OHMS, "S", "D", "ohms S to D"),
        ColdProbe("ds", MeterMode.DIODE, "D", "S", "body diode"),
    ),
    faults=(
        FaultMode(
            mode="short",
            title="shorted, stuck on",
            rate=0.8,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.05),),
            pins=("D", "S"),
        ),
        FaultMode(
            mode="open",
            title="open, never on",
            rate=0.6,
            effect=Effect.OPEN,
        ),
    ),
    traits=frozenset({Trait.GATED}),
    lifted=("sd", "ds"),
    pins={"G": "gate", "D": "drain", "S": "source"},
    test=ComponentTest(
        title="P-channel MOSFET",
        steps=(
            "Short gate to source first.",
            "Body diode from drain to source, the other way round than an N-channel.",
            "Gate to source: megohms, or the pull-up that stands across it.",
        ),
        caution="",
    ),
    short="switch",
    letters=("Q",),
)
