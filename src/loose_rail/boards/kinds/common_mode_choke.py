"""Mains choke."""

from __future__ import annotations

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
    p = part.pins
    ohms, henries = component_value(part.params["ohms"]), component_value(part.params["henries"])
    ends = ((p["1"], p["2"]), (p["3"], p["4"]))
    return {part.ref: Windings(ends, (ohms, ohms), (henries, henries), 0.99)}


KIND = ComponentKind(
    name="common_mode_choke",
    words="mains choke",
    body=_body,
    probes=(ColdProbe("ohms", MeterMode.OHMS, "1", "2", "ohms, live winding"),),
    faults=(
        FaultMode(
            mode="joint",
            title="cracked joint",
            rate=0.4,
            effect=Effect.OPEN,
        ),
        FaultMode(
            mode="intermittent",
            title="cracked joint, intermittent",
            rate=0.2,
            effect=Effect.INTERMITTENT,
            of="joint",
            share=0.3,
        ),
    ),
    traits=frozenset({Trait.JOINS}),
    test=ComponentTest(
        title="Mains choke",
        steps=(
            "Each winding end to end: tenths of an ohm. Open: a lead burnt off at its pin.",
            "Winding to winding, removed: open. In place the discharge resistor stands across, "
            "often 1 MΩ, and all that is on the mains.",
        ),
        caution="Like for like: its rating is that of the whole set.",
    ),
    short="choke",
)
