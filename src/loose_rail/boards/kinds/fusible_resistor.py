"""Fusible resistor."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import resistor
from loose_rail.boards.kinds.kind import (
    ColdProbe,
    ComponentKind,
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
    lifted=("ohms",),
    look="A fusible one opens without a mark: looks clear little.",
    letters=("R",),
)
