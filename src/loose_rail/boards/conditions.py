"""Temperature and age of a board: what they make of its electrolytic capacitors.

ESR over temperature, and life by Arrhenius' law (twice per 10 K): electrical reference section 6.
Over one life the ESR doubles and a fifth of the capacitance goes, the usual end-of-life limits of
low-impedance series [P]; between and beyond them both laws go on as they are [E].
"""

from __future__ import annotations

import math

import msgspec

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board, Component
from loose_rail.boards.typical import ESR_SCALE, FARADS_SCALE

REFERENCE_CELSIUS = 20.0
KELVIN_PER_E_BELOW, KELVIN_PER_E_ABOVE = 30.0, 60.0
LEAST_ESR_SHARE = 0.35
RATED_HOURS, RATED_CELSIUS = 2000.0, 105.0
RIPPLE_HEATING_KELVIN = 5.0
"""Self-heating at rated ripple of a part rated for 105 °C [P]."""
RIPPLE_SHARE = 0.8
LONGEST_LIFE_HOURS = 15 * 8766.0
"""The seal's own life [P]."""
LOSS_PER_LIFE = 0.2
"""Share of the capacitance lost in one rated life (IEC 60384-4 end of life)."""
LEAST_FARADS_SHARE = 0.1
"""What a wholly dried one keeps [E]."""


def esr_over_temperature(celsius: float, series: str = "GP") -> float:
    """ESR at a temperature over that at 20 °C; polymer parts hardly change."""
    if series == "PO":
        return 1.0
    below = celsius < REFERENCE_CELSIUS
    scale = KELVIN_PER_E_BELOW if below else KELVIN_PER_E_ABOVE
    return max(math.exp((REFERENCE_CELSIUS - celsius) / scale), LEAST_ESR_SHARE)


def life_hours(part: Component, can_celsius: float) -> float:
    """Expected life of a capacitor whose can stands at a temperature in use, in hours."""
    rated = float(part.params.get("hours", RATED_HOURS))
    limit = float(part.params.get("celsius", RATED_CELSIUS))
    own = RIPPLE_HEATING_KELVIN * RIPPLE_SHARE**2
    life = rated * 2.0 ** ((limit + RIPPLE_HEATING_KELVIN - can_celsius - own) / 10.0)
    return float(min(life, LONGEST_LIFE_HOURS))


def under(board: Board, celsius: float, hours: float, can_celsius: float) -> Board:
    """The board at a temperature now, after hours of use with its capacitors at `can_celsius`."""
    parts = [
        _under(part, celsius, hours, can_celsius) if is_a(part, Trait.ELECTROLYTIC) else part
        for part in board.components
    ]
    return msgspec.structs.replace(board, components=parts)


def _under(part: Component, celsius: float, hours: float, can_celsius: float) -> Component:
    lives = hours / life_hours(part, can_celsius)
    esr = esr_over_temperature(celsius, part.params.get("series", "GP")) * 2.0**lives
    farads = max(1.0 - LOSS_PER_LIFE * lives, LEAST_FARADS_SHARE)
    params = {**part.params, ESR_SCALE: f"{esr:.6g}", FARADS_SCALE: f"{farads:.6g}"}
    return msgspec.structs.replace(part, params=params)
