"""Choke."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import two_ends
from loose_rail.boards.kinds.kind import (
    ColdProbe,
    ComponentKind,
    ComponentTest,
    Effect,
    Elements,
    FaultMode,
    Trait,
)
from loose_rail.boards.profile import Component
from loose_rail.circuit.elements import Windings
from loose_rail.kernel.quantities import component_value
from loose_rail.vocabulary.meter_mode import MeterMode


def _body(part: Component) -> Elements:
    a, b = two_ends(part)
    ohms, henries = component_value(part.params["ohms"]), component_value(part.params["henries"])
    return {part.ref: Windings(((a, b),), (ohms,), (henries,))}


KIND = ComponentKind(
    name="inductor",
    words="choke",
    body=_body,
    probes=(ColdProbe("ohms", MeterMode.OHMS, "1", "2", "ohms in place"),),
    faults=(
        FaultMode(
            mode="joint",
            title="cracked joint",
            rate=0.5,
            effect=Effect.OPEN,
        ),
        FaultMode(
            mode="intermittent",
            title="cracked joint, intermittent",
            rate=0.25,
            effect=Effect.INTERMITTENT,
            of="joint",
            share=0.3,
        ),
    ),
    traits=frozenset({Trait.JOINS}),
    test=ComponentTest(
        title="Choke",
        steps=(
            "Ohms: next to nothing.",
            "Browned or loose: its joint or its core.",
        ),
        caution="",
    ),
    short="choke",
    letters=("L",),
)
