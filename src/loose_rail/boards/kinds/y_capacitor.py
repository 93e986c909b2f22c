"""Y capacitor: a safety part across the barrier between mains side and outputs."""

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
    name="y_capacitor",
    words="Y capacitor",
    body=small_capacitor,
    probes=(ColdProbe("ohms", MeterMode.OHMS, "1", "2", "ohms from hot to cold side"),),
    faults=(
        FaultMode(
            mode="short",
            title="shorted: hot and cold side are joined",
            rate=0.4,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.5),),
        ),
        FaultMode(
            mode="leaky",
            title="leaky across the barrier",
            rate=0.15,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=800),),
        ),
    ),
    traits=frozenset({Trait.CAPACITOR, Trait.VALUED}),
    lifted=("ohms",),
    test=ComponentTest(
        title="Y capacitor across the barrier",
        steps=(
            "Board alone, unplugged and drained: ohms from hot ground to cold ground. Over 1 MΩ "
            "is sound; below 100 kΩ the outputs would be at mains: no power.",
            "Lift one leg to tell it from a transformer, a coupler or a bridge of solder.",
            "Replace it by the same class (Y1), value, voltage and approvals, with the same "
            "spacing of its legs: never by an ordinary ceramic.",
            "After any work at the barrier: insulation tested as the local rules ask.",
        ),
        caution="A safety part. Never inject a supply across it, never leave it out, never fit a "
        "larger one: it sets the touch current of the whole set.",
    ),
    short="Y capacitor",
    look="Cracked or burnt body, carbon on the board between its legs.",
    letters=("CY",),
)
