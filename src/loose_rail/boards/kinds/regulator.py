"""Regulator chip."""

from __future__ import annotations

from loose_rail.boards.kinds.bodies import chip_pins
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
from loose_rail.vocabulary.meter_mode import MeterMode


def _body(part: Component) -> Elements:
    return chip_pins(part, "IN")


KIND = ComponentKind(
    name="regulator",
    words="regulator chip",
    body=_body,
    probes=(
        ColdProbe("in", MeterMode.OHMS, "IN", "GND", "input pin ohms"),
        ColdProbe("io", MeterMode.DIODE, "OUT", "IN", "diode test output to input"),
    ),
    faults=(
        FaultMode(
            mode="dead",
            title="dead, gives nothing",
            rate=1.0,
            effect=Effect.DEAD,
        ),
        FaultMode(
            mode="short",
            title="input shorted to ground",
            rate=0.6,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.8),),
            pins=("IN", "GND"),
        ),
        FaultMode(
            mode="through",
            title="shorted through, input on the output",
            rate=0.4,
            effect=Effect.BRIDGE,
            severities=(Severity(ohms=0.3),),
            pins=("IN", "OUT"),
        ),
    ),
    pins={"IN": "input pin", "OUT": "output pin", "GND": "ground pin"},
    test=ComponentTest(
        title="Regulator",
        steps=(
            "Input there, enable there, output missing: the regulator or a short behind it.",
            "Output to ground in ohms before it is blamed.",
        ),
        caution="",
    ),
    short="chip",
    letters=("U", "IC"),
)
