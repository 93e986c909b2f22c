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

LAMPS = "lamps"
"""The parameter of a transformer whose last winding drives lamps: thin wire at a kilovolt or two,
which opens by itself, and is read by itself."""


def _body(part: Component) -> Elements:
    nets = list(part.pins.values())
    ends = tuple(zip(nets[::2], nets[1::2], strict=True))
    ohms = tuple(component_value(text) for text in part.params["ohms"].split())
    henries = tuple(component_value(text) for text in part.params["henries"].split())
    coupling = component_value(part.params["coupling"])
    if LAMPS not in part.params:
        return {f"{part.ref}.w1": Windings(ends, ohms, henries, coupling)}
    return {
        f"{part.ref}.w1": Windings(ends[:-1], ohms[:-1], henries[:-1], coupling),
        f"{part.ref}.s1": Windings(ends[-1:], ohms[-1:], henries[-1:], 0.0),
    }


KIND = ComponentKind(
    name="transformer",
    words="transformer",
    body=_body,
    probes=(
        ColdProbe("ohms", MeterMode.OHMS, "p1", "p2", "primary ohms"),
        ColdProbe("secondary", MeterMode.OHMS, "s1", "s2", "secondary ohms", param=LAMPS),
    ),
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
            effect=Effect.OPEN,
            element="s1",
            param=LAMPS,
        ),
        FaultMode(
            mode="turns",
            title="shorted turns",
            rate=0.25,
            effect=Effect.TURNS,
        ),
    ),
    traits=frozenset({Trait.JOINS, Trait.WINDINGS}),
    pins={
        "p1": "first primary pin",
        "p2": "second primary pin",
        "s1": "low end of the secondary",
        "s2": "high end of the secondary",
    },
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
