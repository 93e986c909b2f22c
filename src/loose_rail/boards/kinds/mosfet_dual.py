"""Dual N and P MOSFET."""

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
    Trait,
)
from loose_rail.boards.profile import Component
from loose_rail.vocabulary.meter_mode import MeterMode


def _body(part: Component) -> Elements:
    p = part.pins
    return {
        f"{part.ref}.n": junction(p["S1"], p["D1"], "body"),
        f"{part.ref}.p": junction(p["D2"], p["S2"], "body"),
    }


KIND = ComponentKind(
    name="mosfet_dual",
    words="dual N and P MOSFET",
    body=_body,
    probes=(
        ColdProbe("n", MeterMode.DIODE, "S1", "D1", "N half, body diode"),
        ColdProbe("p", MeterMode.DIODE, "D2", "S2", "P half, body diode"),
    ),
    faults=(
        FaultMode(
            mode="short",
            title="N half shorted",
            rate=1.0,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.05),),
            pins=("D1", "S1"),
        ),
        FaultMode(
            mode="short_p",
            title="P half shorted",
            rate=1.0,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.05),),
            pins=("D2", "S2"),
        ),
        FaultMode(
            mode="open",
            title="open",
            rate=0.3,
            effect=Effect.OPEN,
        ),
    ),
    traits=frozenset({Trait.GATED}),
    test=ComponentTest(
        title="Dual N and P package",
        steps=(
            "Take the pinout from the marking, never from a look-alike.",
            "Each half as a part of its own: gate to its source shorted first, then the body "
            "diode.",
            "Where the drains are joined they read both body diodes at once: lift what leads away "
            "from them.",
        ),
        caution="",
    ),
)
