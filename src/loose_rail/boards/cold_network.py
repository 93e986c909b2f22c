"""A board profile as the network a cold meter sees, and its faults as variants of it.

Elements are named after the part: `R8`, `BD1.d1`, `Q1.ds`. The main board is not in the network:
cold readings are taken with its cable off.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from loose_rail.boards.faults import Fault, kinds
from loose_rail.boards.profile import Board, Component
from loose_rail.boards.typical import leakage_ohms, part_esr_ohms, part_farads, part_volts
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
from loose_rail.kernel.errors import CircuitError
from loose_rail.kernel.quantities import component_value

Elements = dict[str, Element]

SUPPRESSOR_OHMS = 1e9
BARRIER_OHMS = 1e8
"""Insulation of a used board from hot to cold ground, well above the 1 MΩ that is asked for [E]."""
DARK_COUPLER_OHMS = 1e8
CONTROLLER_OHMS = 150e3
GATE_FARADS = 1e-9
GATE_ESR_OHMS = 2.0
CHARGED_CHANNEL_OHMS = 2.0
"""A channel barely above its threshold [E]."""
RELAY_HENRIES = 0.3
ZENER_AMPS = 5e-3
"""The usual test current of a zener voltage [P]; the law of breakdown begins at the leakage."""
SHORTED_TURNS_INDUCTANCE = 0.02
"""A shorted turn leaves the leakage inductance, about 2 % [T]."""


def cold_network(board: Board) -> Network:
    """The healthy board as a network, counted from its cold ground."""
    elements: Elements = {}
    for part in board.components:
        elements.update(_BUILDERS[part.kind](part))
    elements["barrier"] = Resistor(board.hot_ground, board.cold_ground, BARRIER_OHMS)
    return Network(tuple(net.name for net in board.nets), elements, board.cold_ground)


def part_network(board: Board, ref: str) -> Network:
    """One part by itself, as it is read with a leg out of the board."""
    part = board.component(ref)
    nets = tuple(dict.fromkeys(part.pins.values()))
    return Network(nets, _BUILDERS[part.kind](part), nets[-1])


def variant_of(board: Board, network: Network, faults: Sequence[Fault]) -> Variant:
    """The network variant of a set of simultaneous faults; none of them gives the healthy board."""
    replaced: dict[str, Element | None] = {}
    added: list[Element] = []
    for fault in faults:
        part = board.component(fault.ref)
        if fault.effect == "open":
            replaced.update(dict.fromkeys(_names(network, fault)))
        elif fault.effect == "bridge":
            added.append(Resistor(part.pins[fault.pins[0]], part.pins[fault.pins[1]], fault.ohms))
        elif fault.effect in ("scale", "turns"):
            for name in _names(network, fault):
                replaced[name] = _changed(network.elements[name], fault)
    return Variant("+".join(fault.key for fault in faults) or "healthy", replaced, tuple(added))


def removed(network: Network, variant: Variant, refs: Sequence[str]) -> Variant:
    """The variant with parts taken out as well. Raises CircuitError for a part without a body."""
    replaced = dict(variant.replaced)
    for ref in refs:
        names = [n for n in network.elements if n == ref or n.startswith(f"{ref}.")]
        if not names:
            raise CircuitError(f"There is no part “{ref}” in this network.")
        replaced.update(dict.fromkeys(names))
    return Variant(variant.name, replaced, variant.added)


def gate_charged(board: Board, variant: Variant, ref: str) -> Variant:
    """The variant with charge left on a switch's gate: its channel conducts both ways.

    Raises CircuitError for a part that has no insulated gate. Source: electrical reference
    section 5; a meter's own voltage charges it, and it stays for minutes.
    """
    pins = board.component(ref).pins
    ends = [pins[name] for name in ("D", "S", "C", "E", "D1", "S1") if name in pins]
    if "mosfet" not in board.component(ref).kind and board.component(ref).kind != "igbt":
        raise CircuitError(f"{ref} has no gate that could hold a charge.")
    channel = Resistor(ends[0], ends[1], CHARGED_CHANNEL_OHMS)
    return Variant(variant.name, variant.replaced, (*variant.added, channel))


def _names(network: Network, fault: Fault) -> list[str]:
    wanted = f"{fault.ref}.{fault.element}" if fault.element else fault.ref
    return [n for n in network.elements if n == wanted or n.startswith(f"{wanted}.")]


def _changed(element: Element, fault: Fault) -> Element:
    if isinstance(element, Resistor):
        return Resistor(element.a, element.b, element.ohms * fault.value_scale)
    if isinstance(element, Capacitor):
        farads, esr = element.farads * fault.value_scale, element.esr_ohms * fault.esr_scale
        return Capacitor(element.a, element.b, farads, esr, element.leak_ohms)
    if isinstance(element, Windings):
        henries = tuple(value * SHORTED_TURNS_INDUCTANCE for value in element.henries)
        return Windings(element.terminals, element.ohms, henries, 0.0)
    return element


def _two(part: Component) -> tuple[str, str]:
    first, second = list(part.pins.values())[:2]
    return first, second


def _resistor(part: Component) -> Elements:
    a, b = _two(part)
    return {part.ref: Resistor(a, b, component_value(part.value))}


def _suppressor(part: Component) -> Elements:
    a, b = _two(part)
    return {part.ref: Resistor(a, b, SUPPRESSOR_OHMS)}


def _electrolytic(part: Component) -> Elements:
    plus, minus, farads = part.pins["plus"], part.pins["minus"], part_farads(part)
    leak = leakage_ohms(farads, part_volts(part))
    return {part.ref: Capacitor(plus, minus, farads, part_esr_ohms(part), leak)}


def _small_capacitor(part: Component) -> Elements:
    a, b = _two(part)
    return {part.ref: Capacitor(a, b, component_value(part.value), 0.03, 1e9)}


def _inductor(part: Component) -> Elements:
    a, b = _two(part)
    ohms, henries = component_value(part.params["ohms"]), component_value(part.params["henries"])
    return {part.ref: Windings(((a, b),), (ohms,), (henries,))}


def _common_mode(part: Component) -> Elements:
    p = part.pins
    ohms, henries = component_value(part.params["ohms"]), component_value(part.params["henries"])
    ends = ((p["1"], p["2"]), (p["3"], p["4"]))
    return {part.ref: Windings(ends, (ohms, ohms), (henries, henries), 0.99)}


def _transformer(part: Component) -> Elements:
    nets = list(part.pins.values())
    ends = tuple(zip(nets[::2], nets[1::2], strict=True))
    ohms = tuple(component_value(text) for text in part.params["ohms"].split())
    henries = tuple(component_value(text) for text in part.params["henries"].split())
    coupling = component_value(part.params["coupling"])
    return {f"{part.ref}.w1": Windings(ends, ohms, henries, coupling)}


def _junction(anode: str, cathode: str, name: str) -> Junction:
    values = kinds()["junctions"][name]
    return Junction(anode, cathode, **values)


def _diode(part: Component) -> Elements:
    kind = part.params.get("junction", "silicon")
    return {part.ref: _junction(part.pins["A"], part.pins["K"], kind)}


def _bridge(part: Component) -> Elements:
    p = part.pins
    ends = (("ac1", "plus"), ("ac2", "plus"), ("minus", "ac1"), ("minus", "ac2"))
    return {
        f"{part.ref}.d{number}": _junction(p[a], p[k], "silicon")
        for number, (a, k) in enumerate(ends, start=1)
    }


def _mosfet(part: Component) -> Elements:
    p = part.pins
    return {
        f"{part.ref}.ds": _junction(p["S"], p["D"], "body"),
        f"{part.ref}.gs": Capacitor(p["G"], p["S"], GATE_FARADS, GATE_ESR_OHMS, 1e9),
    }


def _npn(part: Component) -> Elements:
    p = part.pins
    return {
        f"{part.ref}.be": _junction(p["B"], p["E"], "base"),
        f"{part.ref}.bc": _junction(p["B"], p["C"], "collector"),
    }


def _pnp(part: Component) -> Elements:
    p = part.pins
    return {
        f"{part.ref}.be": _junction(p["E"], p["B"], "base"),
        f"{part.ref}.bc": _junction(p["C"], p["B"], "collector"),
    }


def _optocoupler(part: Component) -> Elements:
    p = part.pins
    return {
        f"{part.ref}.led": _junction(p["A"], p["K"], "led"),
        f"{part.ref}.ce": Resistor(p["C"], p["E"], DARK_COUPLER_OHMS),
    }


def _shunt_reference(part: Component) -> Elements:
    p = part.pins
    return {
        f"{part.ref}.ak": _junction(p["A"], p["K"], "small_signal"),
        f"{part.ref}.ra": _junction(p["A"], p["R"], "chip"),
    }


def _controller(part: Component) -> Elements:
    p = part.pins
    elements: Elements = {
        f"{part.ref}.vcc": _junction(p["GND"], p["VCC"], "chip"),
        f"{part.ref}.load": Resistor(p["VCC"], p["GND"], CONTROLLER_OHMS),
    }
    for pin in p:
        if pin not in ("VCC", "GND"):
            elements[f"{part.ref}.{pin.lower()}"] = _junction(p["GND"], p[pin], "chip")
    return elements


def _zener(part: Component) -> Elements:
    a, k = part.pins["A"], part.pins["K"]
    values = dict(kinds()["junctions"]["zener"])
    volts = component_value(part.params.get("zener_volts", "24"))
    rise = values["emission"] * THERMAL_VOLTS * math.log(ZENER_AMPS / values["saturation_amps"])
    values["breakdown_volts"] = max(volts - rise - ZENER_AMPS * values["series_ohms"], 0.1)
    return {part.ref: Junction(a, k, **values)}


def _mosfet_p(part: Component) -> Elements:
    p = part.pins
    return {
        f"{part.ref}.ds": _junction(p["D"], p["S"], "body"),
        f"{part.ref}.gs": Capacitor(p["G"], p["S"], GATE_FARADS, GATE_ESR_OHMS, 1e9),
    }


def _mosfet_dual(part: Component) -> Elements:
    p = part.pins
    return {
        f"{part.ref}.n": _junction(p["S1"], p["D1"], "body"),
        f"{part.ref}.p": _junction(p["D2"], p["S2"], "body"),
    }


def _igbt(part: Component) -> Elements:
    """Without its diode nothing conducts below the meter's open voltage."""
    p = part.pins
    gate: Elements = {f"{part.ref}.ge": Capacitor(p["G"], p["E"], GATE_FARADS, GATE_ESR_OHMS, 1e9)}
    if part.params.get("diode", "yes") == "no":
        return gate
    return {f"{part.ref}.ce": _junction(p["E"], p["C"], "fast"), **gate}


def _relay(part: Component) -> Elements:
    p = part.pins
    ohms = component_value(part.params.get("ohms", "360R"))
    return {f"{part.ref}.coil": Windings(((p["A1"], p["A2"]),), (ohms,), (RELAY_HENRIES,))}


def _regulator(part: Component) -> Elements:
    """Seen from its pins: a junction from ground to each, some load on the input."""
    p = part.pins
    elements: Elements = {f"{part.ref}.load": Resistor(p["IN"], p["GND"], CONTROLLER_OHMS)}
    for pin in p:
        if pin != "GND":
            elements[f"{part.ref}.{pin.lower()}"] = _junction(p["GND"], p[pin], "chip")
    return elements


def _nothing(part: Component) -> Elements:
    return {}


_BUILDERS: dict[str, Callable[[Component], Elements]] = {
    "fuse": _resistor,
    "ntc": _resistor,
    "resistor": _resistor,
    "surge_suppressor": _suppressor,
    "electrolytic": _electrolytic,
    "film": _small_capacitor,
    "ceramic": _small_capacitor,
    "inductor": _inductor,
    "common_mode_choke": _common_mode,
    "transformer": _transformer,
    "diode": _diode,
    "bridge": _bridge,
    "mosfet_n": _mosfet,
    "npn": _npn,
    "pnp": _pnp,
    "optocoupler": _optocoupler,
    "shunt_reference": _shunt_reference,
    "controller": _controller,
    "fusible_resistor": _resistor,
    "zener": _zener,
    "tvs": _zener,
    "mosfet_p": _mosfet_p,
    "mosfet_dual": _mosfet_dual,
    "igbt": _igbt,
    "relay": _relay,
    "regulator": _regulator,
    "led_strip": _nothing,
    "tubes": _nothing,
    "connector": _nothing,
    "load": _nothing,
}

KNOWN_KINDS = frozenset(_BUILDERS)
BODILESS_KINDS = frozenset({"connector", "load", "led_strip", "tubes"})
"""What a cold meter does not see: it is unplugged, or it is another board."""
