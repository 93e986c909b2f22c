"""Resistor."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import resistor
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
    name="resistor",
    words="resistor",
    body=resistor,
    probes=(ColdProbe("ohms", MeterMode.OHMS, "1", "2", "ohms in place"),),
    faults=(
        FaultMode(
            mode="open",
            title="open",
            rate=0.5,
            effect=Effect.OPEN,
        ),
        FaultMode(
            mode="drifted",
            title="drifted high",
            rate=0.3,
            effect=Effect.SCALE,
            severities=(
                Severity(weight=0.5, alone=0.4, value=1.25),
                Severity(weight=0.5, alone=0.4, value=2.2),
                Severity(weight=0.0, alone=0.2, value=4.5),
            ),
        ),
    ),
    traits=frozenset({Trait.VALUED, Trait.RESISTOR}),
    lifted=("ohms",),
    test=ComponentTest(
        title="Resistor",
        steps=(
            "Ohms in place, nothing charged: can't read higher than its value. Higher means "
            "drifted or open, lower means something across it.",
            "Compare with its twin on the same board, then lift one leg.",
            "A burnt one has no value to read: take it from its twin, the bands' rest, or what"
            " it does.",
        ),
        caution="Fusible and safety types: the same type only.",
    ),
    look="Colour bands burnt, body split, board browned beneath.",
    letters=("R",),
)
