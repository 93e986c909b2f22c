"""Mains cord and what it is plugged into."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import nothing
from loose_rail.boards.kinds.kind import ComponentKind, ComponentTest, Effect, FaultMode, Trait

KIND = ComponentKind(
    name="cord",
    words="mains cord",
    body=nothing,
    probes=(),
    faults=(
        FaultMode(mode="joint", title="brings no mains", rate=2.5, effect=Effect.CONTACT),
        FaultMode(
            mode="intermittent",
            title="comes and goes",
            rate=0.3,
            effect=Effect.INTERMITTENT,
            of="joint",
            share=0.3,
        ),
    ),
    traits=frozenset({Trait.BOARD, Trait.BODILESS}),
    test=ComponentTest(
        title="Mains cord and outlet",
        steps=(
            "Another appliance at this outlet, another cord at this set.",
            "The cord unplugged at both ends: ohms of each conductor while it is bent.",
        ),
        caution="Ohms on a cord only with both ends free.",
    ),
)
