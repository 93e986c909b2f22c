"""Fuse."""

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
    name="fuse",
    words="fuse",
    body=resistor,
    probes=(ColdProbe("ohms", MeterMode.OHMS, "1", "2", "ohms in place", "fuse whole"),),
    faults=(
        FaultMode(
            mode="open",
            title="open",
            rate=1.0,
            effect=Effect.OPEN,
        ),
    ),
    traits=frozenset({Trait.VALUED, Trait.JOINS, Trait.FUSE}),
    test=ComponentTest(
        title="Fuse",
        steps=(
            "Ohms across it, leads zeroed: a sound one reads what the leads read.",
            "One that is open has been opened by something: read the bridge, the switches and "
            "the suppressor before a new one goes in.",
            "Clear glass with a broken wire: overload. Blackened: a hard short.",
        ),
        caution="Like for like only: amps, characteristic, breaking capacity, volts.",
    ),
    look="Glass: clear, wire broken, or blackened. Blackened means a hard short behind it.",
    letters=("F",),
)
