"""The elements of an unpowered network: frozen, named, in SI units.

A junction carries its own series resistance, so that a diode with its bulk ohms is one
two-terminal element with a closed-form law (see `junction`).
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

from loose_rail.kernel.errors import CircuitError


@dataclass(frozen=True, slots=True)
class Resistor:
    """Between `a` and `b`, in ohms above zero."""

    a: str
    b: str
    ohms: float


@dataclass(frozen=True, slots=True)
class Capacitor:
    """A capacitor with series resistance and leakage: open at DC but for `leak_ohms`."""

    a: str
    b: str
    farads: float
    esr_ohms: float = 0.01
    leak_ohms: float = math.inf


@dataclass(frozen=True, slots=True)
class Junction:
    """A diode from `anode` to `cathode`: saturation current, emission factor, bulk ohms.

    `breakdown_volts` (above zero) adds reverse conduction, infinite where a meter never meets it.
    """

    anode: str
    cathode: str
    saturation_amps: float
    emission: float = 1.8
    series_ohms: float = 0.05
    breakdown_volts: float = math.inf


@dataclass(frozen=True, slots=True)
class Windings:
    """Coupled windings on one core. Terminals are (start, finish) nets of each winding.

    `henries` are self-inductances; every pair is coupled by `coupling` (0 to below 1).
    """

    terminals: tuple[tuple[str, str], ...]
    ohms: tuple[float, ...]
    henries: tuple[float, ...]
    coupling: float = 0.0


Element = Resistor | Capacitor | Junction | Windings


@dataclass(frozen=True, slots=True)
class Network:
    """Named elements between nets. `reference` is the net that potentials are counted from."""

    nets: tuple[str, ...]
    elements: Mapping[str, Element]
    reference: str

    def __post_init__(self) -> None:
        known = set(self.nets)
        if self.reference not in known:
            raise CircuitError(f"No ground: the reference net “{self.reference}” is not there.")
        for name, element in self.elements.items():
            missing = [net for net in nets_of(element) if net not in known]
            if missing:
                raise CircuitError(f"“{name}” ends at “{missing[0]}”, which is no net here.")
            _check_values(name, element)


@dataclass(frozen=True, slots=True)
class Variant:
    """One fault: which elements stand in place of the healthy ones.

    A name mapped to None takes the element out (open); `added` holds extra elements such as
    the resistance of a short. Junctions can be taken out or swapped for resistors, and a junction
    may be replaced by one with other values.
    """

    name: str
    replaced: Mapping[str, Element | None] = field(default_factory=dict)
    added: tuple[Element, ...] = ()


def nets_of(element: Element) -> tuple[str, ...]:
    """Every net that the element touches."""
    if isinstance(element, Junction):
        return (element.anode, element.cathode)
    if isinstance(element, Windings):
        return tuple(net for pair in element.terminals for net in pair)
    return (element.a, element.b)


def _check_values(name: str, element: Element) -> None:
    values: tuple[float, ...]
    if isinstance(element, Resistor):
        values = (element.ohms,)
    elif isinstance(element, Capacitor):
        values = (element.farads, element.esr_ohms, element.leak_ohms)
    elif isinstance(element, Junction):
        values = (element.saturation_amps, element.emission, element.series_ohms)
    else:
        values = (*element.ohms, *element.henries)
    if any(not value > 0 for value in values):
        raise CircuitError(f"“{name}” has a value that is not above zero.")
