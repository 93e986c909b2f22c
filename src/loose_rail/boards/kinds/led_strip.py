"""LED strips.

Of LED sets that come in without light and with sound, more than half have an open strip [E]: tens
of LEDs in series, driven near their limit, against one driver.
"""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import nothing
from loose_rail.boards.kinds.kind import (
    ColdProbe,
    ComponentKind,
    ComponentTest,
    Effect,
    FaultMode,
    Severity,
    Trait,
)
from loose_rail.vocabulary.meter_mode import MeterMode

PROBE = "on the strip tester"

KIND = ComponentKind(
    name="led_strip",
    words="LED strips",
    body=nothing,
    probes=(
        ColdProbe(
            "lit",
            MeterMode.STRIP,
            "1",
            "2",
            PROBE,
            good="all of it lights, evenly",
            unplugged=True,
        ),
    ),
    pins={"1": "plus at its plug, off the board", "2": "minus at its plug"},
    faults=(
        FaultMode(
            mode="open",
            title="one LED open, string dark",
            rate=8.0,
            effect=Effect.OPEN,
        ),
        FaultMode(
            mode="intermittent",
            title="opens when it is warm",
            rate=2.0,
            effect=Effect.INTERMITTENT,
            of="open",
            share=0.4,
        ),
        FaultMode(
            mode="short",
            title="LEDs shorted, string low",
            rate=1.2,
            effect=Effect.SCALE,
            severities=(Severity(weight=0.6, value=0.95), Severity(weight=0.4, value=0.55)),
        ),
        FaultMode(
            mode="string",
            title="one of several strings open",
            rate=4.0,
            effect=Effect.WEAK,
            several="strings",
        ),
    ),
    traits=frozenset({Trait.BACKLIGHT, Trait.BODILESS}),
    test=ComponentTest(
        title="LED strip",
        steps=(
            "A strip tester with the current limited: all light, evenly.",
            "Diode by diode: one that is open breaks its string, one that is short stays dark and "
            "takes some 3 V off the string; the current is regulated, its neighbours stay as "
            "they are.",
            "Without it the driver climbs to its clamp, a third above its label, and rests or "
            "tries again: healthy.",
        ),
        caution="Up to 300 V at the driver: it stays charged for minutes.",
    ),
    look="Connectors burnt, lenses fallen off.",
)
