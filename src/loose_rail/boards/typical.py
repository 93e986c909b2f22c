"""Typical values of fresh parts that a profile need not spell out.

ESR of a fresh aluminium electrolytic at 100 kHz and 20 °C: electrical reference section 6,
generator laws [E], scatter ×/÷2. Series: GP general purpose, LZ low impedance, PO polymer.
"""

from __future__ import annotations

from loose_rail.boards.profile import Component
from loose_rail.kernel.quantities import component_value

MICRO = 1e-6
HIGH_VOLTAGE = 160.0
_VOLTAGE_FACTORS = ((10.0, 1.3), (25.0, 1.0), (63.0, 0.8), (160.0, 1.2))
LEAKAGE_SHARE_OF_LIMIT = 0.1
LEAKAGE_AMPS_PER_FARAD_VOLT = 0.01
LEAST_LEAKAGE_AMPS = 3e-6
ESR_SCALE, FARADS_SCALE = "esr_scale", "farads_scale"
"""Parameters of a part that `conditions` sets: temperature and age as factors."""


def fresh_esr_ohms(farads: float, volts: float, series: str) -> float:
    """Typical ESR of a fresh capacitor at 100 kHz, 20 °C, in ohms, scatter ×/÷2.

    Raises ValueError for a series other than GP, LZ and PO.
    """
    micro = farads / MICRO
    if series == "PO":
        return float(0.025 * (100.0 / micro) ** 0.45)
    if series not in ("GP", "LZ"):
        raise ValueError(f"“{series}” is no capacitor series: GP, LZ or PO")
    if volts > HIGH_VOLTAGE:
        high = float(0.40 * (100.0 / micro) ** 0.87)
        return high if series == "GP" else 0.6 * high
    factor = next(g for limit, g in _VOLTAGE_FACTORS if volts <= limit)
    if series == "GP":
        return float(0.45 * (100.0 / micro) ** 0.62 * factor)
    return float(0.18 * (100.0 / micro) ** 0.70 * factor)


def part_volts(part: Component) -> float:
    """Rated voltage of a part, 50 V where the profile does not say."""
    return component_value(part.params.get("volts", "50"))


def part_esr_ohms(part: Component) -> float:
    """Typical ESR of an electrolytic of the profile, in ohms: fresh, at 20 °C, but for
    `conditions`."""
    series = part.params.get("series", "GP")
    fresh = fresh_esr_ohms(component_value(part.value), part_volts(part), series)
    return fresh * float(part.params.get(ESR_SCALE, "1"))


def part_farads(part: Component) -> float:
    """Capacitance of a capacitor of the profile, with what age has taken from it."""
    return component_value(part.value) * float(part.params.get(FARADS_SCALE, "1"))


def leakage_ohms(farads: float, volts: float) -> float:
    """DC leakage of a sound electrolytic as a resistance at its rated voltage.

    The limit is max(0.01·C·V, 3 µA) [P]; sound parts leak about a tenth of it [E].
    """
    limit = max(LEAKAGE_AMPS_PER_FARAD_VOLT * farads * volts, LEAST_LEAKAGE_AMPS)
    return volts / (LEAKAGE_SHARE_OF_LIMIT * limit)


CLASS_TWO_FROM_FARADS = 1e-7
"""From here on ceramics are class 2, which lose capacitance under bias [P]."""
HALF_AT_RATING_SHARE = 0.6
"""Share of the rating at which half of it is left [E]."""
DEFAULT_CERAMIC_VOLTS = "25"


def bias_share(part: Component, bias_volts: float) -> float:
    """What is left of a large (class 2) ceramic's capacitance at a bias, from 1 down.

    C(V)/C(0) = 1/(1 + (V/V_half)²) with half left at 0.6 of the rating, typical of 1 to 22 µF chips
    [E]. Class 1 ceramics and all other kinds keep theirs.
    """
    if part.kind != "ceramic" or component_value(part.value) < CLASS_TWO_FROM_FARADS:
        return 1.0
    rated = component_value(part.params.get("volts", DEFAULT_CERAMIC_VOLTS))
    return 1.0 / (1.0 + (bias_volts / (HALF_AT_RATING_SHARE * rated)) ** 2)
