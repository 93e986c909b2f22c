"""CCFL tubes. After ten years the tubes are as often worn as their inverter has failed [E]."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import nothing
from loose_rail.boards.kinds.kind import ComponentKind, ComponentTest, Effect, FaultMode, Trait

KIND = ComponentKind(
    name="tubes",
    words="CCFL tubes",
    body=nothing,
    probes=(),
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
            "A known good tube on each output in turn.",
            "Dark or red ends: worn. One dead tube shuts the inverter after a second or two.",
        ),
        caution="1 to 2 kV at 50 kHz: no meter and no hand on these leads.",
    ),
)
