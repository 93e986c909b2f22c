"""Transformer."""

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
    nets = list(part.pins.values())
    ends = tuple(zip(nets[::2], nets[1::2], strict=True))
    ohms = tuple(component_value(text) for text in part.params["ohms"].split())
    henries = tuple(component_value(text) for text in part.params["henries"].split())
    coupling = component_value(part.params["coupling"])
    return {f"{part.ref}.w1": Windings(ends, ohms, henries, coupling)}


KIND = ComponentKind(
    name="transformer",
    words="transformer",
    body=_body,
    probes=(ColdProbe("ohms", MeterMode.OHMS, "p1", "p2", "primary ohms"),),
    faults=(
        FaultMode(
            mode="joint",
            title="cracked joint at the primary",
            rate=0.5,
            effect=Effect.OPEN,
            element="w1",
        ),
        FaultMode(
            mode="intermittent",
            title="cracked joint, intermittent",
            rate=0.3,
            effect=Effect.INTERMITTENT,
            of="joint",
            share=0.3,
        ),
        FaultMode(
            mode="secondary",
            title="one secondary open",
            rate=0.8,
            effect=Effect.CONTACT,
            param="lamps",
        ),
        FaultMode(
            mode="turns",
            title="shorted turns",
            rate=0.25,
            effect=Effect.TURNS,
        ),
    ),
    traits=frozenset({Trait.JOINS, Trait.WINDINGS}),
    pins={"p1": "first primary pin", "p2": "second primary pin"},
    test=ComponentTest(
        title="Transformer",
        steps=(
            "Ohms of each winding: tenths to a few ohms; open means a broken joint or lead.",
            "Shorted turns show in no ohms: a ring test or its inductance against a good one.",
            "Primary to secondary: open on every range.",
        ),
        caution="It is the barrier: nothing is wound or repaired here.",
    ),
    look="Joints at the pins, tape discoloured, core cracked.",
    letters=("T",),
)
