"""Electrolytic capacitor."""

from __future__ import annotations

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
from loose_rail.boards.typical import leakage_ohms, part_esr_ohms, part_farads, part_volts
from loose_rail.circuit.elements import Capacitor
from loose_rail.vocabulary.meter_mode import MeterMode


def _body(part: Component) -> Elements:
    plus, minus, farads = part.pins["plus"], part.pins["minus"], part_farads(part)
    leak = leakage_ohms(farads, part_volts(part))
    return {part.ref: Capacitor(plus, minus, farads, part_esr_ohms(part), leak)}


KIND = ComponentKind(
    name="electrolytic",
    words="electrolytic capacitor",
    body=_body,
    probes=(
        ColdProbe("esr", MeterMode.ESR, "plus", "minus", "ESR in place"),
        ColdProbe("ohms", MeterMode.OHMS, "plus", "minus", "ohms across"),
    ),
    faults=(
        FaultMode(
            mode="dried",
            title="dried out (high ESR)",
            rate=3.0,
            effect=Effect.SCALE,
            severities=(
                Severity(weight=0.35, alone=0.18, value=0.75, esr=10),
                Severity(weight=0.4, alone=0.18, value=0.4, esr=40),
                Severity(weight=0.25, alone=0.14, value=0.12, esr=150),
                Severity(weight=0.0, alone=0.16, value=0.55, esr=20),
                Severity(weight=0.0, alone=0.14, value=0.25, esr=80),
                Severity(weight=0.0, alone=0.12, value=0.85, esr=5),
                Severity(weight=0.0, alone=0.08, value=0.06, esr=300),
            ),
            high_volts=(
                Severity(weight=0.35, alone=0.18, value=0.75, esr=10),
                Severity(weight=0.38, alone=0.18, value=0.4, esr=40),
                Severity(weight=0.22, alone=0.17, value=0.12, esr=150),
                Severity(weight=0.05, value=0.03, esr=500),
                Severity(weight=0.0, alone=0.16, value=0.55, esr=20),
                Severity(weight=0.0, alone=0.14, value=0.25, esr=80),
                Severity(weight=0.0, alone=0.12, value=0.85, esr=5),
            ),
        ),
        FaultMode(
            mode="joint",
            title="cracked joint",
            rate=0.02,
            effect=Effect.CONTACT,
        ),
        FaultMode(
            mode="open",
            title="open",
            rate=0.15,
            effect=Effect.OPEN,
        ),
        FaultMode(
            mode="short",
            title="shorted",
            rate=0.35,
            effect=Effect.BRIDGE,
            severities=(
                Severity(weight=0.7, ohms=0.15),
                Severity(weight=0.3, ohms=4.0),
            ),
        ),
        FaultMode(
            mode="leaky",
            title="leaky",
            rate=0.3,
            effect=Effect.BRIDGE,
            severities=(
                Severity(weight=0.5, ohms=22),
                Severity(weight=0.5, ohms=330),
            ),
            high_volts=(
                Severity(weight=0.5, ohms=15e3),
                Severity(weight=0.5, ohms=150e3),
            ),
        ),
        FaultMode(
            mode="warm",
            title="leaks when it is warm",
            rate=0.1,
            effect=Effect.INTERMITTENT,
            of="leaky",
            share=0.5,
            least_stress=1.6,
        ),
    ),
    traits=frozenset({Trait.CAPACITOR, Trait.ELECTROLYTIC, Trait.VALUED, Trait.BURSTS}),
    lifted=("esr", "ohms"),
    pins={"plus": "+", "minus": "− (striped side)"},
    test=ComponentTest(
        title="Electrolytic capacitor",
        steps=(
            "ESR in place at 100 kHz: the first and best test, with under 0.2 V, so that "
            "junctions sleep, Schottky diodes too.",
            "Ohms across: climbs while it charges. One that stays low: a short on the rail, "
            "not always this part.",
            "Removed: capacitance within −20 %, ESR within twice a fresh one's. Leakage at rated "
            "volts through 10 kΩ, after 2 to 5 minutes, under 0.01·C·V (µA, with C in µF); from "
            "60 V up only with a supply and leads for it, one hand, and drained after.",
        ),
        caution="Drained first, each time. Polarity before it is pulled, and again before it is "
        "fitted.",
    ),
    short="reservoir",
    look="Top and pins, from the side: bulging, leaked, tilted. Flat clears little.",
    letters=("C",),
)
