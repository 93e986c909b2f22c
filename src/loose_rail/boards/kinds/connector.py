"""Connector."""

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
    name="connector",
    words="connector",
    body=nothing,
    probes=(),
    faults=(
        FaultMode(
            mode="joint",
            title="cracked joint, no contact",
            rate=0.4,
            effect=Effect.CONTACT,
        ),
        FaultMode(
            mode="loose",
            title="poor contact",
            rate=0.3,
            effect=Effect.RESISTIVE,
            severities=(
                Severity(weight=0.5, ohms=1.5),
                Severity(weight=0.5, ohms=40),
            ),
        ),
        FaultMode(
            mode="intermittent",
            title="cracked joint, intermittent",
            rate=0.3,
            effect=Effect.INTERMITTENT,
            of="joint",
            share=0.3,
        ),
    ),
    traits=frozenset({Trait.CONNECTOR, Trait.BODILESS}),
    test=ComponentTest(
        title="Connector and its joints",
        steps=(
            "Ohms from pad to pin while it is moved.",
            "Under load: millivolts from board to plug, pin by pin. Above a tenth of a volt it"
            " is the connector.",
            "Both ends of its cable: the volts that leave must arrive (key E).",
        ),
        caution="",
    ),
    short="plug",
    look="Joints from below, with a lens and raking light: cracked ring, dull, burnt.",
)
