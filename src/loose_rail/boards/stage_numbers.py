"""What every kind of stage asks of its profile: numbers of the kind, and the load of its resistors.

Numbers of the kind itself come from the stage's `params`; the defaults below are estimates [E].
"""

from __future__ import annotations

import math

from loose_rail.boards.bleeders import bleed_siemens
from loose_rail.boards.effective_parts import Health
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Stage
from loose_rail.kernel.quantities import component_value

SWITCHING_HERTZ = 65e3
"""Of the usual converter [P]."""
UNREGULATED_VOLTS = 60.0
"""Where a loop without its feedback would go, were nothing to trip [E]."""
OPEN_OHMS = 1e12
"""Stands for no connection."""
DEFAULTS = {
    "watts": "14",
    "amps": "5",
    "diode_volts": "0.45",
    "over_share": "1.32",
    "soft_start": "0.012",
    "overload": "0.06",
    "restart": "0.8",
    "least_bulk": "60",
    "full_bulk": "100",
    "ripple_share": "1",
    "aux_volts": "14.4",
    "vcc_on": "16",
    "vcc_off": "9",
    "vcc_over": "21.5",
    "run_amps": "4m",
    "standby_share": "1",
    "winding_ohms": "0.3",
    "fed_by": "standby",
}


def number(stage: Stage, name: str, default: str = "") -> float:
    text = stage.params.get(name) or default or DEFAULTS[name]
    return math.inf if text == "latch" else component_value(text)


def with_reactance(esr_ohms: float, farads: float) -> float:
    """Impedance of a capacitor at the switching frequency, from its ESR and its reactance."""
    return math.hypot(esr_ohms, 1.0 / (2.0 * math.pi * SWITCHING_HERTZ * farads))


def preload_siemens(health: Health, role_name: str) -> float:
    """What the resistors across a stage's output capacitor draw."""
    refs = [r for r in health.refs(role_name) if is_a(health.board.component(r), Trait.CAPACITOR)]
    if not refs:
        return 0.0
    pins = health.board.component(refs[0]).pins
    first, second = list(pins.values())[:2]
    return bleed_siemens(health.board, first, second)
