"""Ceramic capacitor."""

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
    name="ceramic",
    words="ceramic capacitor",
    body=small_capacitor,
    probes=(ColdProbe("ohms", MeterMode.OHMS, "1", "2", "ohms across"),),
    faults=(
        FaultMode(
            mode="short",
            title="shorted",
            rate=0.4,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.5),),
        ),
        FaultMode(
            mode="leaky",
            title="leaky",
            rate=0.15,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=800),),
        ),
    ),
    traits=frozenset({Trait.CAPACITOR, Trait.VALUED}),
    lifted=("ohms",),
    test=ComponentTest(
        title="Ceramic capacitor: the short hunt",
        steps=(
            "All on the rail beep. The ohms between neighbours tell nothing: find it by warmth.",
            "Inject a bench supply below the rail's volts with the current limited (1 V, 1 to "
            "3 A): the short warms first. Flux or alcohol on the parts shows it, or a "
            "fingertip after the supply is off.",
            "Or follow the millivolts: inject 1 A and read along the trace; the lowest drop "
            "sits at the short.",
            "Multilayer parts near screws and board edges crack first.",
        ),
        caution="Never inject above the rail's own volts, never with another board connected.",
    ),
)
