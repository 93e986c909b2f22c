"""Film capacitor."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import small_capacitor
from loose_rail.boards.kinds.kind import (
    ColdProbe,
    ComponentKind,
    ComponentTest,
    Effect,
    FaultMode,
    Severity,
    Trait,
)
from loose_rail.vocabulary.meter_mode import MeterMode

KIND = ComponentKind(
    name="film",
    words="film capacitor",
    body=small_capacitor,
    probes=(
        ColdProbe("cap", MeterMode.CAPACITANCE, "1", "2", "capacitance"),
        ColdProbe("ohms", MeterMode.OHMS, "1", "2", "ohms across"),
    ),
    faults=(
        FaultMode(
            mode="open",
            title="lost its capacitance",
            rate=0.3,
            effect=Effect.SCALE,
            severities=(Severity(weight=0.6, value=0.3), Severity(weight=0.4, value=0.03)),
        ),
        FaultMode(
            mode="short",
            title="shorted",
            rate=0.3,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.5),),
        ),
    ),
    traits=frozenset({Trait.CAPACITOR, Trait.VALUED, Trait.BURSTS}),
    lifted=("cap", "ohms"),
    test=ComponentTest(
        title="Film or safety capacitor",
        steps=(
            "Capacitance in place where nothing large stands across, else lift one leg.",
            "One that has lost a fifth or more: replace; droppers fail so without a mark.",
        ),
        caution="X and Y classes: the same class only.",
    ),
)
