"""Fusible resistor."""

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
    name="fusible_resistor",
    words="fusible resistor",
    body=resistor,
    probes=(ColdProbe("ohms", MeterMode.OHMS, "1", "2", "ohms in place"),),
    faults=(
        FaultMode(
            mode="open",
            title="open",
            rate=0.8,
            effect=Effect.OPEN,
        ),
        FaultMode(
            mode="drifted",
            title="drifted high",
            rate=0.3,
            effect=Effect.SCALE,
            severities=(Severity(value=1.8),),
        ),
    ),
    traits=frozenset({Trait.RESISTOR, Trait.FUSE}),
    test=ComponentTest(
        title="Fusible resistor",
        steps=(
            "Ohms in place: its printed value or a little less. Open: it did its work; find the "
            "short behind it first.",
            "Removed where something stands across it: within its tolerance.",
        ),
        caution="Replaced by a fusible one of the same value and watts, spaced off the board: an "
        "ordinary one burns where this one opens.",
    ),
    lifted=("ohms",),
    look="A fusible one opens without a mark: looks clear little.",
    letters=("R",),
)
