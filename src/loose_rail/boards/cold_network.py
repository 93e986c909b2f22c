"""A board profile as the network a cold meter sees, and its faults as variants of it.

Elements are named after the part: `R8`, `BD1.d1`, `Q1.ds`. The main board is not in the network:
cold readings are taken with its cable off.
"""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from loose_rail.boards.faults import Fault
from loose_rail.boards.kinds.kind import Effect, Elements, Trait
from loose_rail.boards.kinds.registry import is_a, kind_of
from loose_rail.boards.profile import Board
from loose_rail.circuit.elements import (
    Capacitor,
    Element,
    Network,
    Resistor,
    Variant,
    Windings,
)
from loose_rail.kernel.errors import CircuitError

BARRIER_OHMS = 1e8
"""Insulation of a used board from hot to cold ground, well above the 1 MΩ that is asked for [E]."""
CHARGED_CHANNEL_OHMS = 2.0
"""A channel barely above its threshold [E]."""
SHORTED_TURNS_INDUCTANCE = 0.02
"""A shorted turn leaves the leakage inductance, about 2 % [T]."""


def cold_network(board: Board) -> Network:
    """The healthy board as a network, counted from its cold ground."""
    elements: Elements = {}
    for part in board.components:
        elements.update(kind_of(part).body(part))
    elements["barrier"] = Resistor(board.hot_ground, board.cold_ground, BARRIER_OHMS)
    return Network(tuple(net.name for net in board.nets), elements, board.cold_ground)


def part_network(board: Board, *refs: str) -> Network:
    """One part by itself, as it is read with a leg out of the board; several of a board that is
    taken `apart`."""
    parts = [board.component(ref) for ref in refs]
    nets = tuple(dict.fromkeys(net for part in parts for net in part.pins.values()))
    elements: Elements = {}
    for part in parts:
        elements.update(kind_of(part).body(part))
    return Network(nets, elements, nets[-1])


def apart(board: Board) -> Board:
    """The board with every part on nets of its own, none of them joined to another's."""
    parts = [
        msgspec.structs.replace(
            part, pins={pin: own_net(part.ref, net) for pin, net in part.pins.items()}
        )
        for part in board.components
    ]
    return msgspec.structs.replace(board, components=parts)


def own_net(ref: str, net: str) -> str:
    """What a part's net is called where the board is taken `apart`."""
    return f"{ref}:{net}"


def variant_of(board: Board, network: Network, faults: Sequence[Fault]) -> Variant:
    """The network variant of a set of simultaneous faults; none of them gives the healthy board."""
    replaced: dict[str, Element | None] = {}
    added: list[Element] = []
    for fault in faults:
        part = board.component(fault.ref)
        if fault.effect is Effect.OPEN:
            replaced.update(dict.fromkeys(_names(network, fault)))
        elif fault.effect is Effect.BRIDGE:
            added += [Resistor(part.pins[a], part.pins[b], fault.ohms) for a, b in fault.pairs]
        elif fault.effect in (Effect.SCALE, Effect.TURNS):
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
    if not is_a(board.component(ref), Trait.GATED):
        raise CircuitError(f"{ref} has no gate that could hold a charge.")
    channel = Resistor(ends[0], ends[1], CHARGED_CHANNEL_OHMS)
    return Variant(variant.name, variant.replaced, (*variant.added, channel))


def _names(network: Network, fault: Fault) -> list[str]:
    wanted = [f"{fault.ref}.{name}" for name in fault.elements] or [fault.ref]
    return [
        n for n in network.elements if any(n == one or n.startswith(f"{one}.") for one in wanted)
    ]


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
