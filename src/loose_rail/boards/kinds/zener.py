"""Zener diode."""

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
    name="zener",
    words="zener diode",
    body=_body,
    probes=(
        ColdProbe("fwd", MeterMode.DIODE, "A", "K", "diode test forward"),
        ColdProbe("rev", MeterMode.OHMS, "K", "A", "ohms backward"),
    ),
    faults=(
        FaultMode(
            mode="open",
            title="open",
            rate=0.3,
            effect=Effect.OPEN,
        ),
        FaultMode(
            mode="short",
            title="shorted",
            rate=0.8,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.1),),
        ),
        FaultMode(
            mode="leaky",
            title="leaky",
            rate=0.3,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=400),),
        ),
    ),
    lifted=("fwd", "rev"),
    pins={"A": "anode", "K": "cathode (band)"},
    letters=("D",),
    test=ComponentTest(
        title="Zener diode",
        steps=(
            "Diode test forward: as silicon. Backward: open, as long as the meter's volts are "
            "below its own.",
            "Removed: a bench supply above its volts through 1 kΩ; what stands across it is its "
            "voltage.",
            "Shorted is its usual way to fail, and what it protected is then often whole.",
        ),
    ),
)
