"""What stands at the start pin while it is forced from outside, from the board's own parts.

A jumper with its resistor goes from the standby pin (active high) or from ground (active low) to
the start pin; behind the pin hang a pull resistor, a series resistor and the LED of an optocoupler
or the base of a transistor. Their operating point is solved as a circuit (`netlist/nodal.py`).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache

from loose_rail.boards.cold_network import cold_network, variant_of
from loose_rail.boards.faults import Fault
from loose_rail.boards.profile import Board, Pin
from loose_rail.circuit.elements import Element, Network, Variant, nets_of
from loose_rail.netlist.nodal import grounded
from loose_rail.netlist.read import parse_netlist
from loose_rail.netlist.write import TEMPERATURE, network_lines, node_names

MOST_NETS = 12
"""Nets behind the pin that are looked at: a start path is never longer [E]."""
UNDRAWN_SHARE = 0.75
"""Of the standby rail, where a profile draws nothing behind the pin [E]."""


def forced_volts(board: Board, faults: Sequence[Fault]) -> float:
    """Volts at the forced start pin with the standby rail at its nominal; 0 where the board has no
    start signal whose sense is known, or its standby pin none."""
    rail = board.rail_of(board.standby_rail)
    if board.wake.sense not in ("high", "low") or not _net(board, board.wake.pin) or rail is None:
        return 0.0
    near = _drawn(board)
    if not near:
        return UNDRAWN_SHARE * rail.volts if board.wake.sense == "high" else 0.0
    own = tuple(fault for fault in faults if near & set(board.component(fault.ref).pins.values()))
    return _solved(board, own)


@lru_cache(maxsize=16)
def _drawn(board: Board) -> frozenset[str]:
    """Nets behind the start pin; none where the profile draws nothing there, or where the other
    end of the jumper is not known (of a typed pinout)."""
    start, jumper = _net(board, board.wake.pin), _net(board, board.wake.source_pin)
    rail = board.rail_of(board.standby_rail)
    if rail is None or jumper not in (rail.net, board.cold_ground):
        return frozenset()
    if not any(start in nets_of(element) for element in cold_network(board).elements.values()):
        return frozenset()
    return frozenset(_behind(board, start, rail.net))


def _solved(board: Board, faults: tuple[Fault, ...]) -> float:
    """With faults near the pin: most of them change none of the parts behind it, and read alike."""
    behind = _circuit(board)
    variant = variant_of(board, behind.whole, faults)
    replaced = {n: e for n, e in variant.replaced.items() if n in behind.network.elements}
    added = tuple(e for e in variant.added if _inside(e, behind.nets))
    key = repr((sorted(replaced.items()), added))
    if key not in behind.known:
        changed = Variant(variant.name, replaced, added)
        behind.known[key] = _operating_point(board, behind.network, changed)
    return behind.known[key]


@dataclass(frozen=True, slots=True)
class _Circuit:
    """The parts behind the pin, out of the whole network, and what was solved with them."""

    whole: Network
    network: Network
    nets: frozenset[str]
    known: dict[str, float]


@lru_cache(maxsize=16)
def _circuit(board: Board) -> _Circuit:
    rail = board.rail_of(board.standby_rail)
    assert rail is not None
    whole = cold_network(board)
    nets = _drawn(board) | {rail.net, board.cold_ground}
    kept = {n: e for n, e in whole.elements.items() if _inside(e, nets)}
    return _Circuit(whole, Network(tuple(sorted(nets)), kept, board.cold_ground), nets, {})


def _operating_point(board: Board, network: Network, variant: Variant) -> float:
    start, jumper = _net(board, board.wake.pin), _net(board, board.wake.source_pin)
    rail = board.rail_of(board.standby_rail)
    assert rail is not None
    names = node_names(network)
    lines = [
        "start pin forced",
        *network_lines(network, variant, names),
        f"Vstandby {names[rail.net]} 0 {rail.volts:.6g}",
        f"Rjumper {names[jumper]} {names[start]} {board.wake.series_ohms:.6g}",
        TEMPERATURE,
        ".op",
        ".end",
    ]
    circuit = grounded(parse_netlist(lines), for_ac=False)
    return float(circuit.between(circuit.operating_point(), names[start], "0").real)


def _net(board: Board, pin: int) -> str:
    connector = next((c for c in board.connectors if c.ref == board.wake.connector), None)
    pins: Iterable[Pin] = connector.pins if connector else ()
    return next((one.net for one in pins if one.number == pin), "")


def _behind(board: Board, start: str, rail: str) -> set[str]:
    """Nets that hang on the pin, not through the rail or ground."""
    walls = {rail, board.cold_ground, board.hot_ground}
    elements = list(cold_network(board).elements.values())
    found, waiting = {start}, [start]
    while waiting and len(found) < MOST_NETS:
        here = waiting.pop()
        for element in elements:
            nets = set(nets_of(element))
            if here in nets:
                fresh = nets - walls - found
                found |= fresh
                waiting += fresh
    return found


def _inside(element: Element, nets: frozenset[str]) -> bool:
    return set(nets_of(element)) <= nets
