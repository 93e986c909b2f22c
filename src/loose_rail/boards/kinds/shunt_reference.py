"""Shunt regulator (431 type)."""

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
        f"{part.ref}.ak": junction(p["A"], p["K"], "small_signal"),
        f"{part.ref}.ra": junction(p["A"], p["R"], "chip"),
    }


KIND = ComponentKind(
    name="shunt_reference",
    words="shunt regulator (431 type)",
    body=_body,
    probes=(
        ColdProbe("ak", MeterMode.DIODE, "A", "K", "diode test A to K"),
        ColdProbe("ka", MeterMode.OHMS, "K", "A", "ohms K to A"),
    ),
    faults=(
        FaultMode(
            mode="open",
            title="never conducts",
            rate=0.6,
            effect=Effect.OPEN,
        ),
        FaultMode(
            mode="short",
            title="shorted",
            rate=0.5,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=1.0),),
            pins=("K", "A"),
        ),
        FaultMode(
            mode="early",
            title="leaks, conducts below its threshold",
            rate=0.35,
            effect=Effect.WEAK,
            severities=(
                Severity(weight=0.5, alone=0.35, value=0.85),
                Severity(weight=0.5, alone=0.35, value=0.6),
                Severity(weight=0.0, alone=0.2, value=0.35),
                Severity(weight=0.0, alone=0.1, value=0.12),
            ),
        ),
    ),
    test=ComponentTest(
        title="Shunt regulator (431 type)",
        steps=(
            "Cathode to anode: a drop one way as of a diode, high ohms the other.",
            "Under power: 2.5 V (or 1.24 V) at its reference pin when the rail is right.",
            "Removed: reference tied to cathode, 1 kΩ from 5 V: it holds 2.5 V.",
        ),
        caution="",
    ),
    short="regulator",
)
