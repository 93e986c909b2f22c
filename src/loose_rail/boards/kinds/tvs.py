"""TVS."""

from __future__ import annotations

import math

from loose_rail.boards.kinds.bodies import JUNCTIONS
from loose_rail.boards.kinds.kind import (
    ColdProbe,
    ComponentKind,
    ComponentTest,
    Effect,
    Elements,
    FaultMode,
    Severity,
)
from loose_rail.boards.profile import Component
from loose_rail.circuit.elements import Junction
from loose_rail.circuit.junction import THERMAL_VOLTS
from loose_rail.kernel.quantities import component_value
from loose_rail.vocabulary.meter_mode import MeterMode

ZENER_AMPS = 5e-3
"""The usual test current of a zener voltage [P]; the law of breakdown begins at the leakage."""


def _body(part: Component) -> Elements:
    a, k = part.pins["A"], part.pins["K"]
    values = dict(JUNCTIONS["zener"])
    volts = component_value(part.params.get("zener_volts", "24"))
    rise = values["emission"] * THERMAL_VOLTS * math.log(ZENER_AMPS / values["saturation_amps"])
    values["breakdown_volts"] = max(volts - rise - ZENER_AMPS * values["series_ohms"], 0.1)
    return {part.ref: Junction(a, k, **values)}


KIND = ComponentKind(
    name="tvs",
    words="TVS",
    body=_body,
    probes=(ColdProbe("rev", MeterMode.OHMS, "K", "A", "ohms backward"),),
    faults=(
        FaultMode(
            mode="short",
            title="shorted",
            rate=1.2,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.1),),
        ),
        FaultMode(
            mode="open",
            title="open",
            rate=0.1,
            effect=Effect.OPEN,
        ),
    ),
    pins={"A": "anode", "K": "cathode (band)"},
    test=ComponentTest(
        title="Clamp diode",
        steps=(
            "One drop one way, open the other; a two-way one is open both ways.",
            "Shorted: something pushed the rail above it.",
        ),
        caution="",
    ),
)
