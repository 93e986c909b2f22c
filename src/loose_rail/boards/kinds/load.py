"""Board behind the connector.

Of sets that won't start about one in six is the main board's fault: it drags its rail, or never
asks for power [E].
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

KIND = ComponentKind(
    name="load",
    words="board behind the connector",
    body=nothing,
    probes=(
        ColdProbe(
            "supply",
            MeterMode.OHMS,
            "",
            "",
            "its supply to ground, by itself",
            good="no short",
            unplugged=True,
        ),
        *(
            ColdProbe(
                name,
                MeterMode.OHMS,
                "",
                "",
                "its supply to ground, by itself",
                good="no short",
                param=param,
                unplugged=True,
            )
            for name, param in (("main_supply", "main_rail"), ("second_supply", "second_rail"))
        ),
    ),
    faults=(
        *(
            FaultMode(
                mode=mode,
                title=f"loads its {which} rail down",
                rate=rate,
                effect=Effect.DRAG,
                severities=(
                    Severity(weight=0.5, alone=0.3, ohms=0.5),
                    Severity(weight=0.5, alone=0.25, ohms=2.5),
                    Severity(weight=0.0, alone=0.2, ohms=0.2),
                    Severity(weight=0.0, alone=0.25, ohms=1.1),
                ),
                param=param,
            )
            for mode, which, rate, param in (
                ("drags", "supply", 3.0, ""),
                ("drags_main", "main", 1.5, "main_rail"),
                ("drags_second", "third", 1.0, "second_rail"),
            )
        ),
        FaultMode(
            mode="overdraws",
            title="draws too much once it works",
            rate=1.5,
            effect=Effect.OVERDRAW,
            severities=(
                Severity(weight=0.5, alone=0.4, ohms=1.5),
                Severity(weight=0.5, alone=0.3, ohms=4.0),
                Severity(weight=0.0, alone=0.3, ohms=2.5),
            ),
            param="wakes",
        ),
        FaultMode(
            mode="elsewhere",
            title="does not do its work, though its supply is right",
            rate=3.0,
            effect=Effect.ELSEWHERE,
        ),
        FaultMode(
            mode="shorted",
            title="shorts its supply, which another board switches off",
            rate=1.0,
            effect=Effect.ELSEWHERE,
            severities=(Severity(ohms=2.0),),
            param="switched",
        ),
        FaultMode(
            mode="never_asserts",
            title="never requests power-on",
            rate=6.0,
            effect=Effect.MUTE,
        ),
        FaultMode(
            mode="always_asserts",
            title="requests power-on all the time",
            rate=0.4,
            effect=Effect.MUTE,
        ),
        *(
            FaultMode(
                mode=f"no_{signal}",
                title=f"never gives the {words} enable",
                rate=1.0,
                effect=Effect.MUTE,
                param=f"gives_{signal}",
            )
            for signal, words in (("lamps", "lamp"), ("panel", "panel"), ("sustain", "sustain"))
        ),
        FaultMode(
            mode="no_dim",
            title="gives no brightness signal",
            rate=0.5,
            effect=Effect.MUTE,
            param="gives_dim",
        ),
    ),
    traits=frozenset({Trait.BOARD, Trait.BODILESS}),
    test=ComponentTest(
        title="The board behind the cable",
        steps=(
            "The same rail with its cable off and on (key L).",
            "Ohms of each supply pin at the board's own connector, drained.",
        ),
        caution="",
    ),
)
