"""External adapter with its lead: what a board without a mains inlet is fed by."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import nothing
from loose_rail.boards.kinds.kind import (
    ComponentKind,
    ComponentTest,
    Effect,
    FaultMode,
    Severity,
    Trait,
)

KIND = ComponentKind(
    name="adapter",
    words="adapter",
    body=nothing,
    probes=(),
    faults=(
        FaultMode(mode="joint", title="gives nothing", rate=6.0, effect=Effect.CONTACT),
        FaultMode(
            mode="weak",
            title="gives up under load",
            rate=3.0,
            effect=Effect.WEAK,
            severities=(Severity(weight=0.5, value=0.3), Severity(weight=0.5, value=0.08)),
        ),
        FaultMode(
            mode="intermittent",
            title="comes and goes",
            rate=1.5,
            effect=Effect.INTERMITTENT,
            of="joint",
            share=0.3,
        ),
    ),
    traits=frozenset({Trait.BOARD, Trait.BODILESS}),
    test=ComponentTest(
        title="Adapter and its lead",
        steps=(
            "Volts at its plug by itself: what is printed on it, within a twentieth.",
            "The same with the set on: it stays; one that drops or pulses gives up under load.",
            "Bend the lead at plug and case while the meter is on.",
            "Another adapter of the same volts, polarity and at least its amperes.",
        ),
        caution="A sealed adapter is replaced, not opened.",
    ),
)
