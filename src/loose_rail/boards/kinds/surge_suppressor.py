"""Varistor (MOV)."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import two_ends
from loose_rail.boards.kinds.kind import (
    ColdProbe,
    ComponentKind,
    ComponentTest,
    Effect,
    Elements,
    FaultMode,
    Severity,
    Trait,
)
from loose_rail.boards.profile import Component
from loose_rail.circuit.elements import Resistor
from loose_rail.vocabulary.meter_mode import MeterMode

SUPPRESSOR_OHMS = 1e9
"""Ohms across one at rest [E]."""


def _body(part: Component) -> Elements:
    a, b = two_ends(part)
    return {part.ref: Resistor(a, b, SUPPRESSOR_OHMS)}


KIND = ComponentKind(
    name="surge_suppressor",
    words="varistor (MOV)",
    body=_body,
    probes=(ColdProbe("ohms", MeterMode.OHMS, "1", "2", "ohms across"),),
    faults=(
        FaultMode(
            mode="short",
            title="shorted",
            rate=1.2,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=1.0),),
        ),
        FaultMode(mode="burst", title="burst, its bits read open", rate=0.15, effect=Effect.OPEN),
    ),
    traits=frozenset({Trait.BURSTS}),
    test=ComponentTest(
        title="Varistor (MOV)",
        steps=(
            "Removed, ohms across: open. Anything else: it has done its work, replace it. In place "
            "the discharge resistor stands across it, often 1 MΩ: compare with what is expected.",
            "Cracked or blackened: replace even when it reads open.",
        ),
        caution="The fuse in front of it was opened by it.",
    ),
    short="varistor",
    letters=("RV",),
)
