"""Bridge rectifier."""

from __future__ import annotations

from itertools import combinations

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

ARMS = (("ac1", "plus"), ("ac2", "plus"), ("minus", "ac1"), ("minus", "ac2"))
"""Anode and cathode of d1 to d4."""


SHORT_OHMS = 0.05
"""A diode that broke through [P]."""


def _body(part: Component) -> Elements:
    p = part.pins
    return {
        f"{part.ref}.d{number}": junction(p[a], p[k], "silicon")
        for number, (a, k) in enumerate(ARMS, start=1)
    }


KIND = ComponentKind(
    name="bridge",
    words="bridge rectifier",
    body=_body,
    probes=(
        ColdProbe("ac", MeterMode.OHMS, "ac1", "ac2", "ohms from AC to AC"),
        ColdProbe("d1", MeterMode.DIODE, "ac1", "plus", "diode 1 forward"),
        ColdProbe("d2", MeterMode.DIODE, "ac2", "plus", "diode 2 forward"),
        ColdProbe("d3", MeterMode.DIODE, "minus", "ac1", "diode 3 forward"),
        ColdProbe("d4", MeterMode.DIODE, "minus", "ac2", "diode 4 forward"),
    ),
    faults=(
        FaultMode(
            mode="short",
            title="one diode shorted",
            rate=0.9,
            effect=Effect.BRIDGE,
            severities=tuple(Severity(0.25, SHORT_OHMS, pairs=(arm,)) for arm in ARMS),
        ),
        FaultMode(
            mode="short_pair",
            title="two diodes shorted",
            rate=0.3,
            effect=Effect.BRIDGE,
            severities=tuple(
                Severity(1 / 6, SHORT_OHMS, pairs=pair) for pair in combinations(ARMS, 2)
            ),
        ),
        FaultMode(
            mode="open",
            title="one diode open",
            rate=0.3,
            effect=Effect.OPEN,
            severities=tuple(Severity(0.25, elements=(f"d{n}",)) for n in range(1, 5)),
        ),
        FaultMode(
            mode="open_pair",
            title="two diodes open",
            rate=0.05,
            effect=Effect.OPEN,
            severities=tuple(
                Severity(1 / 6, elements=(f"d{a}", f"d{b}"))
                for a, b in combinations(range(1, 5), 2)
            ),
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
