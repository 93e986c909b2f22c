"""A netlist asked one question: the voltage between two nets, or what a meter shows there."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from loose_rail.circuit import meters
from loose_rail.circuit.meter_port import MeterPort
from loose_rail.netlist.netlist import Netlist
from loose_rail.netlist.nodal import Circuit, Probes, grounded, probed


class SolveMode(StrEnum):
    """What is asked of the netlist: its own sources, or a meter put on it."""

    OP = "op"
    AC = "ac"
    OHMS = "ohms"
    DIODE = "diode"
    ESR = "esr"
    CAP = "cap"


UNITS = {SolveMode.OHMS: "Ω", SolveMode.DIODE: "V", SolveMode.ESR: "Ω", SolveMode.CAP: "F"}


@dataclass(frozen=True, slots=True)
class Reading:
    """What a meter shows: value in SI units (infinite for an overload) and unit."""

    value: float
    unit: str

    @property
    def overload(self) -> bool:
        """Whether the display says OL."""
        return math.isinf(self.value)


def natural_mode(netlist: Netlist) -> SolveMode:
    """What the file itself asks for: AC where it has .ac and no .op."""
    return SolveMode.AC if netlist.hertz and not netlist.wants_op else SolveMode.OP


def solve_op(netlist: Netlist, plus: str, minus: str) -> float:
    """Volts from plus to minus at the operating point. Raises NetlistError."""
    circuit = grounded(netlist, for_ac=False)
    _check(circuit, plus, minus)
    return circuit.between(circuit.operating_point(), plus, minus).real


def solve_ac(netlist: Netlist, plus: str, minus: str) -> list[tuple[float, complex]]:
    """(hertz, phasor in volts) for every frequency of .ac. Raises NetlistError."""
    if not netlist.hertz:
        raise netlist.error("There is no .ac line.", "Add .ac lin 1 1k 1k, or use --mode op.")
    linear = not any(part.kind == "D" for part in netlist.parts)
    circuit = grounded(netlist, for_ac=linear)
    _check(circuit, plus, minus)
    bias = circuit.rest() if linear else circuit.operating_point()
    return [
        (hertz, circuit.between(circuit.response(hertz, bias), plus, minus))
        for hertz in netlist.hertz
    ]


def read_meter(netlist: Netlist, plus: str, minus: str, mode: SolveMode) -> Reading:
    """What the meter shows with red on plus and black on minus. Raises NetlistError."""
    circuit = probed(netlist, minus)
    _check(circuit, plus, minus)
    if mode is SolveMode.OHMS:
        return Reading(_ohms(circuit, plus, minus), "Ω")
    if mode is SolveMode.DIODE:
        probes = Probes(plus, minus, MeterPort.diode())
        volts = circuit.between(circuit.operating_point(probes), plus, minus).real
        return Reading(math.inf if volts > meters.DIODE_OVERLOAD_VOLTS else volts, "V")
    hertz = meters.ESR_HERTZ if mode is SolveMode.ESR else meters.CAPACITANCE_HERTZ
    impedance = circuit.between(circuit.response(hertz, circuit.rest(), (plus, minus)), plus, minus)
    if mode is SolveMode.ESR:
        ohms = impedance.real
        return Reading(math.inf if ohms > meters.ESR_OVERLOAD_OHMS else max(ohms, 0.0), "Ω")
    if impedance.imag >= 0:
        return Reading(math.inf, "F")
    farads = -1.0 / (2 * math.pi * hertz * impedance.imag)
    return Reading(math.inf if farads > meters.CAPACITANCE_FULL_SCALE_FARADS else farads, "F")


def _ohms(circuit: Circuit, plus: str, minus: str) -> float:
    for scale in meters.OHMS_RANGES:
        port = MeterPort.ohms(scale.source_amps)
        found = circuit.operating_point(Probes(plus, minus, port))
        volts = circuit.between(found, plus, minus).real
        amps = port.delivered(volts)
        ohms = volts / max(amps, 1e-3 * scale.source_amps)
        if ohms <= scale.full_scale_ohms:
            return ohms
    return math.inf


def _check(circuit: Circuit, plus: str, minus: str) -> None:
    circuit.require(plus)
    circuit.require(minus)
    if plus == minus:
        raise circuit.netlist.error("Both probes are on the same net.", "Move one of them.")
