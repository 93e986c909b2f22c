"""CCFL tubes. After ten years the tubes are as often worn as their inverter has failed [E]."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import nothing
from loose_rail.boards.kinds.kind import (
    ColdProbe,
    ComponentKind,
    ComponentTest,
    Effect,
    FaultMode,
    Trait,
)
from loose_rail.vocabulary.meter_mode import MeterMode

PROBE = "on the tube tester"

KIND = ComponentKind(
    name="tubes",
    words="CCFL tubes",
    body=nothing,
    probes=(
        ColdProbe(
            "lit",
            MeterMode.TUBE,
            "1",
            "2",
            PROBE,
            good="each lights, at once and evenly",
            unplugged=True,
        ),
    ),
    pins={"1": "its hot end, off the inverter", "2": "its other end"},
    faults=(
        FaultMode(
            mode="open",
            title="a tube broken or worn out",
            rate=4.0,
            effect=Effect.OPEN,
        ),
    ),
    traits=frozenset({Trait.BACKLIGHT, Trait.BODILESS}),
    test=ComponentTest(
        title="Cold-cathode tubes",
        steps=(
            "Each tube on a tube tester, off the inverter: it lights at once, white and evenly.",
            "Or a known good tube on each output in turn.",
            "Dark or red ends: worn. One dead tube shuts the inverter after a second or two.",
        ),
        caution="1 to 2 kV at 50 kHz: no meter and no hand on these leads.",
    ),
)
