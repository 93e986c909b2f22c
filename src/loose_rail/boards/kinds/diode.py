"""Diode."""

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
    kind = part.params.get("junction", "silicon")
    return {part.ref: junction(part.pins["A"], part.pins["K"], kind)}


KIND = ComponentKind(
    name="diode",
    words="diode",
    body=_body,
    probes=(
        ColdProbe("fwd", MeterMode.DIODE, "A", "K", "diode test forward"),
        ColdProbe("rev", MeterMode.OHMS, "K", "A", "ohms backward"),
    ),
    faults=(
        FaultMode(
            mode="open",
            title="open",
            rate=0.4,
            effect=Effect.OPEN,
        ),
        FaultMode(
            mode="joint",
            title="cracked joint",
            rate=0.15,
            effect=Effect.CONTACT,
            least_stress=1.2,
        ),
        FaultMode(
            mode="short",
            title="shorted",
            rate=1.0,
            effect=Effect.BRIDGE,
            severities=(
                Severity(weight=0.8, ohms=0.05),
                Severity(weight=0.2, ohms=2.5),
            ),
        ),
        FaultMode(
            mode="leaky",
            title="leaky",
            rate=0.4,
            effect=Effect.BRIDGE,
            severities=(
                Severity(weight=0.5, ohms=8),
                Severity(weight=0.5, ohms=150),
            ),
        ),
        FaultMode(
            mode="warm",
            title="leaks when it is warm",
            rate=0.08,
            effect=Effect.INTERMITTENT,
            of="short",
            share=0.5,
            least_stress=1.2,
        ),
    ),
    lifted=("fwd", "rev"),
    pins={"A": "anode", "K": "cathode (band)"},
    test=ComponentTest(
        title="Rectifier diode",
        steps=(
            "Diode test forward, then backward in ohms.",
            "A choke or winding across it reads as a short: lift one leg where the predicted "
            "readings are alike.",
            "A leaky one reads well on diode test and warms in use. Removed and backward, silicon "
            "reads megohms, a Schottky some ten kilohms and more: compare with what is expected.",
        ),
        caution="",
    ),
    short="diode",
    letters=("D",),
)
