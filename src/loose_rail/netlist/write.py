"""A cold network with a meter on it, written as a SPICE netlist for any circuit simulator.

The netlist holds exactly what the cold solver holds: the leakage of a dirty board at every net,
capacitors with ESR and leakage, coupled windings, junctions with their bulk ohms, and the meter's
source with its clamp. The title says which answer to look for.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from scipy.constants import Boltzmann, elementary_charge, zero_Celsius

from loose_rail.circuit import meters
from loose_rail.circuit.assemble import DIRTY_BOARD_SIEMENS
from loose_rail.circuit.elements import (
    Capacitor,
    Element,
    Junction,
    Network,
    Resistor,
    Variant,
    Windings,
)
from loose_rail.circuit.junction import THERMAL_VOLTS
from loose_rail.circuit.meter_port import MeterPort
from loose_rail.vocabulary.meter_mode import MeterMode

TEMPERATURE = ".options temp=25 tnom=25"
"""Saturation currents are those at 25 °C; temp and tnom alike keep them so."""
_THERMAL_AT_25 = Boltzmann * (zero_Celsius + 25.0) / elementary_charge


def write_netlist(
    network: Network,
    variant: Variant,
    plus: str,
    minus: str,
    mode: MeterMode,
    ohms_range: int = 0,
) -> str:
    """Netlist text of a variant with a meter between two nets.

    For ohms, `ohms_range` is the number of the range in `meters.OHMS_RANGES`. Raises ValueError
    for the voltage settings, which need a powered board.
    """
    names = node_names(network)
    lines = [
        f"{variant.name}: {mode.label} from {plus} to {minus}, look at v({names[plus]},"
        f"{names[minus]})",
        *network_lines(network, variant, names),
        *meter_lines(names[plus], names[minus], mode, ohms_range),
        TEMPERATURE,
        ".end",
    ]
    return "\n".join(lines) + "\n"


def node_names(network: Network, prefix: str = "") -> dict[str, str]:
    """SPICE node for every net; the reference is ground. With a prefix, for copies side by side."""
    made = {net: f"{prefix}n{number}" for number, net in enumerate(network.nets, start=1)}
    made[network.reference] = "0"
    return made


def network_lines(
    network: Network, variant: Variant, names: dict[str, str], tag: str = ""
) -> list[str]:
    """Part lines of a variant of the network; `tag` keeps names of copies apart."""
    elements: list[tuple[str, Element]] = []
    for name, element in network.elements.items():
        now = variant.replaced.get(name, element)
        if now is not None:
            elements.append((name, now))
    elements += [(f"fault{number}", element) for number, element in enumerate(variant.added)]
    lines = [
        f"Rdirt{tag}_{net} {net} 0 {1 / DIRTY_BOARD_SIEMENS:.9g}"
        for net in names.values()
        if net != "0"
    ]
    for number, (name, element) in enumerate(elements):
        lines.append(f"* {name}")
        lines += _element_lines(f"{tag}{number}", element, names)
    return lines


def _element_lines(tag: str, element: Element, names: dict[str, str]) -> Iterator[str]:
    if isinstance(element, Resistor):
        yield f"R{tag} {names[element.a]} {names[element.b]} {element.ohms:.12g}"
    elif isinstance(element, Capacitor):
        a, b, inner = names[element.a], names[element.b], f"x{tag}"
        yield f"R{tag} {a} {inner} {element.esr_ohms:.12g}"
        yield f"C{tag} {inner} {b} {element.farads:.12g}"
        if math.isfinite(element.leak_ohms):
            yield f"Rleak{tag} {a} {b} {element.leak_ohms:.12g}"
    elif isinstance(element, Junction):
        yield from _junction_lines(tag, element, names)
    else:
        yield from _winding_lines(tag, element, names)


def _junction_lines(tag: str, element: Junction, names: dict[str, str]) -> Iterator[str]:
    slope = element.emission * THERMAL_VOLTS
    emission = slope / _THERMAL_AT_25
    words = f"IS={element.saturation_amps:.12g} N={emission:.12g} RS={element.series_ohms:.12g}"
    if math.isfinite(element.breakdown_volts):
        knee = element.breakdown_volts + slope
        words += f" BV={knee:.12g} IBV={element.saturation_amps * math.e:.12g}"
    yield f"D{tag} {names[element.anode]} {names[element.cathode]} m{tag}"
    yield f".model m{tag} D({words})"


def _winding_lines(tag: str, element: Windings, names: dict[str, str]) -> Iterator[str]:
    rows = zip(element.terminals, element.ohms, element.henries, strict=True)
    for number, ((start, finish), ohms, henries) in enumerate(rows):
        inner = f"x{tag}_{number}"
        yield f"R{tag}_{number} {names[start]} {inner} {ohms:.12g}"
        yield f"L{tag}_{number} {inner} {names[finish]} {henries:.12g}"
    if element.coupling <= 0:
        return
    for first in range(len(element.terminals)):
        for second in range(first):
            yield f"K{tag}_{first}_{second} L{tag}_{second} L{tag}_{first} {element.coupling:.12g}"


def meter_lines(
    plus: str, minus: str, mode: MeterMode, ohms_range: int = 0, tag: str = ""
) -> Sequence[str]:
    """Part lines of the meter between two nodes, and its analysis."""
    if mode in (MeterMode.OHMS, MeterMode.CONTINUITY):
        amps = meters.OHMS_RANGES[ohms_range].source_amps
        clamp = MeterPort.ohms(amps).clamp
        assert clamp is not None
        return (
            f"Imeter{tag} {minus} {plus} {amps:.12g}",
            f"Dmeter{tag} {plus} {minus} mmeter{tag}",
            f".model mmeter{tag} D(IS={clamp.saturation[0]:.12g} "
            f"N={clamp.slope_volts[0] / _THERMAL_AT_25:.12g} RS={clamp.series[0]:.12g})",
            ".op",
        )
    if mode is MeterMode.DIODE:
        return (
            f"Vmeter{tag} open{tag} {minus} {meters.DIODE_SOURCE_VOLTS}",
            f"Rmeter{tag} open{tag} {plus} {meters.DIODE_SOURCE_OHMS}",
            ".op",
        )
    hertz = {MeterMode.ESR: meters.ESR_HERTZ, MeterMode.CAPACITANCE: meters.CAPACITANCE_HERTZ}
    if mode not in hertz:
        raise ValueError(f"{mode} reads a powered board")
    return (f"Imeter{tag} {minus} {plus} AC 1", f".ac lin 1 {hertz[mode]:g} {hertz[mode]:g}")
