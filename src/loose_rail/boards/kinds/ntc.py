"""Inrush limiter."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import resistor
from loose_rail.boards.kinds.kind import (
    ColdProbe,
    ComponentKind,
    ComponentTest,
    Effect,
    FaultMode,
    Trait,
)
from loose_rail.vocabulary.meter_mode import MeterMode

KIND = ComponentKind(
    name="ntc",
    words="inrush limiter",
    body=resistor,
    probes=(ColdProbe("ohms", MeterMode.OHMS, "1", "2", "ohms in place"),),
    faults=(
        FaultMode(
            mode="open",
            title="open or cracked",
            rate=0.8,
            effect=Effect.OPEN,
        ),
    ),
    traits=frozenset({Trait.VALUED, Trait.JOINS}),
    test=ComponentTest(
        title="Inrush limiter",
        steps=(
            "A few ohms cold. Open or cracked: replace.",
            "It was hot a minute ago: it reads less until it has cooled.",
        ),
        caution="It runs hot enough to burn.",
    ),
)
