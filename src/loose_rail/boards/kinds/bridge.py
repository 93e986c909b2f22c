"""Bridge rectifier."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import junction
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
from loose_rail.vocabulary.meter_mode import MeterMode


def _body(part: Component) -> Elements:
    p = part.pins
    ends = (("ac1", "plus"), ("ac2", "plus"), ("minus", "ac1"), ("minus", "ac2"))
    return {
        f"{part.ref}.d{number}": junction(p[a], p[k], "silicon")
        for number, (a, k) in enumerate(ends, start=1)
    }


KIND = ComponentKind(
    name="bridge",
    words="bridge rectifier",
    body=_body,
    probes=(
        ColdProbe("d1", MeterMode.DIODE, "ac1", "plus", "diode 1 forward"),
        ColdProbe("d2", MeterMode.DIODE, "ac2", "plus", "diode 2 forward"),
        ColdProbe("d3", MeterMode.DIODE, "minus", "ac1", "diode 3 forward"),
        ColdProbe("d4", MeterMode.DIODE, "minus", "ac2", "diode 4 forward"),
    ),
    faults=(
        FaultMode(
            mode="short",
            title="one diode shorted",
            rate=1.2,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.05),),
            pins=("ac1", "plus"),
        ),
        FaultMode(
            mode="open",
            title="one diode open",
            rate=0.3,
            effect=Effect.OPEN,
            element="d1",
        ),
    ),
    traits=frozenset({Trait.BURSTS}),
    pins={"ac1": "first ~", "ac2": "second ~", "plus": "+", "minus": "−"},
    test=ComponentTest(
        title="Bridge rectifier",
        steps=(
            "Diode test over all four diodes, both ways: four times a drop, four times open.",
            "A beep between two AC pins or AC and plus: shorted. Lift it where the suppressor "
            "or a switch stands across.",
            "From minus to plus two drops in a row.",
        ),
        caution="Screwed to a heat sink: washers and paste go back as they were.",
    ),
    short="bridge",
    look="Body and joints: cracked, blown, board browned beneath.",
    letters=("BD",),
)
