"""Switch (N-channel MOSFET)."""

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
        f"{part.ref}.ds": junction(p["S"], p["D"], "body"),
        f"{part.ref}.gs": gate(part, "S"),
    }


KIND = ComponentKind(
    name="mosfet_n",
    words="switch (N-channel MOSFET)",
    body=_body,
    probes=(
        ColdProbe("ds", MeterMode.OHMS, "D", "S", "ohms D to S"),
        ColdProbe("sd", MeterMode.DIODE, "S", "D", "body diode"),
        ColdProbe("gs", MeterMode.OHMS, "G", "S", "ohms G to S"),
    ),
    faults=(
        FaultMode(
            mode="short",
            title="shorted",
            rate=4.0,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.05),),
            pins=("D", "S"),
        ),
        FaultMode(
            mode="gate",
            title="gate shorted to source",
            rate=0.3,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=5),),
            pins=("G", "S"),
        ),
        FaultMode(
            mode="joint",
            title="cracked joint at the drain",
            rate=0.15,
            effect=Effect.CONTACT,
        ),
        FaultMode(
            mode="open",
            title="open",
            rate=0.3,
            effect=Effect.OPEN,
        ),
    ),
    traits=frozenset({Trait.GATED, Trait.BURSTS}),
    lifted=("ds", "sd"),
    pins={"G": "gate", "D": "drain", "S": "source"},
    test=ComponentTest(
        title="N-channel MOSFET",
        steps=(
            "Short gate to source for a second: a charged gate reads as a short from drain to "
            "source.",
            "Ohms drain to source, then the body diode: a drop from source to drain, open the "
            "other way.",
            "Gate to source in place: the resistor across it, often 10 kΩ; removed, megohms, as "
            "gate to drain. A beep there: the driver and its resistor have had it too.",
            "Removed: charge the gate with the diode test, drain to source conducts; discharge"
            " it, it opens. A meter that gives less than some 3 V there can't charge it.",
        ),
        caution="A dead switch takes gate resistor, sense resistor, snubber and fuse along: read "
        "them all.",
    ),
    short="switch",
    look="Body blown or cracked, mica and screw, joints of the legs.",
    letters=("Q",),
)
