"""A board that is known by its kind and the labels printed at its connector, and by nothing else.

It computes like the example of its kind, but it speaks of nothing that was not typed: the connector
has the typed name, numbers and labels; what has no typed pin is read at a part; parts are called by
what they do, never by the example's designators; nothing is ever jumpered.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass

import msgspec

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.own.names import at_a_part, named_by_duty, plain_names
from loose_rail.boards.profile import Board, Connector, LivePoint, Net, Pin
from loose_rail.boards.worst_volts import STANDARD_RATINGS_VOLTS, least_rating, underrated
from loose_rail.vocabulary.keys import stage_of

GROUND = "ground"
KNOWN_BY = "pinout"
MAIN_PLUG = "main plug"
_VOLTS = re.compile(r"\b\d+(\.\d+)? V\b")


@dataclass(frozen=True, slots=True)
class TypedPin:
    """A printed pin: its label, and what it means on the example: a rail's id, a live point's id,
    "ground", or nothing where the label is not understood."""

    label: str
    means: str


def by_pinout(board: Board, connector: str, pins: Mapping[int, TypedPin]) -> Board:
    """The example as a board of the technician's own. `pins` are by their printed number; an empty
    connector name stands for the one that nobody named."""
    board = _rated(_at_own_volts(board))
    names = plain_names(board)
    main = board.connectors[0].ref
    names[main] = connector.strip() or MAIN_PLUG
    own = named_by_duty(board, names)
    return _with_pins(own, names[main], pins)


def _at_own_volts(board: Board) -> Board:
    """Titles and duties that name a rail's volts, at the volts that its label prints."""
    replace = msgspec.structs.replace
    stages = {p.rail: stage_of(p.observable) for p in board.live_points if p.rail}
    volts = {stages.get(rail.id, rail.id): f"{rail.volts:g} V" for rail in board.rails}
    of_part = {
        ref: volts[stage_of(role)]
        for role, refs in board.roles.items()
        if stage_of(role) in volts
        for ref in refs
    }
    return replace(
        board,
        components=[
            replace(part, duty=_VOLTS.sub(of_part[part.ref], part.duty))
            if part.ref in of_part
            else part
            for part in board.components
        ],
        rails=[
            replace(rail, title=_VOLTS.sub(f"{rail.volts:g} V", rail.title)) for rail in board.rails
        ],
        sections=[
            replace(one, title=_VOLTS.sub(volts[one.id.removesuffix("_out")], one.title))
            if one.id.removesuffix("_out") in volts
            else one
            for one in board.sections
        ],
    )


def _rated(board: Board) -> Board:
    """Capacitors rated for the volts of their place here: the example's ratings are not known of
    this board."""
    replace = msgspec.structs.replace
    parts = []
    for part in board.components:
        if is_a(part, Trait.ELECTROLYTIC) and underrated(board, part):
            least = least_rating(board, part.ref) or 0.0
            volts = next((v for v in STANDARD_RATINGS_VOLTS if v >= least), least)
            part = replace(part, params={**part.params, "volts": f"{volts:g}"})
        parts.append(part)
    return replace(board, components=parts)


def _with_pins(board: Board, name: str, pins: Mapping[int, TypedPin]) -> Board:
    """The typed connector in place of the example's, and probe points that speak of it alone."""
    main = board.connectors[0]
    of_point = {point.id: point for point in board.live_points}
    net_of: dict[int, str] = {}
    for number, pin in pins.items():
        rail = board.rail_of(pin.means)
        if pin.means == GROUND:
            net_of[number] = board.cold_ground
        elif rail is not None:
            net_of[number] = rail.net
        elif pin.means in of_point:
            net_of[number] = of_point[pin.means].plus
    first = {net: number for number, net in sorted(net_of.items(), reverse=True)}
    spare = [
        Net(f"{name}-{number}", board.net(board.cold_ground).side, f"{name} pin {number}")
        for number in pins
        if number not in net_of
    ]
    where = {net: f"{name} pin {number}" for net, number in first.items()}
    nets = [_placed(board, net, where) for net in board.nets]
    typed = [
        Pin(number, pin.label, net_of.get(number, f"{name}-{number}"))
        for number, pin in sorted(pins.items())
    ]
    others = [msgspec.structs.replace(c, pins=[]) for c in board.connectors[1:]]
    replace = msgspec.structs.replace
    start = next((n for n, pin in sorted(pins.items()) if pin.means == "start"), 0)
    sense = "none" if board.wake.sense == "none" else "unknown"
    return replace(
        board,
        nets=[*nets, *spare],
        connectors=[Connector(name, main.title, main.load, typed), *others],
        live_points=_points(board, name, pins, first),
        wake=replace(board.wake, sense=sense, connector=name, pin=start, source_pin=0),
        known_by=KNOWN_BY,
    )


def _placed(board: Board, net: Net, where: Mapping[str, str]) -> Net:
    """A net with words for where a probe goes: a typed pin, else a part that stands on it."""
    if net.name in where:
        ground = ", ground" if net.name == board.cold_ground else ""
        return msgspec.structs.replace(net, where=f"{where[net.name]}{ground}")
    if not any(pin.net == net.name for one in board.connectors for pin in one.pins):
        return net
    return msgspec.structs.replace(net, where=at_a_part(board, net.name))


def _points(
    board: Board, name: str, pins: Mapping[int, TypedPin], first: Mapping[str, int]
) -> list[LivePoint]:
    """The live points with typed pins in their titles; a signal that has no typed pin is no point,
    a rail that has none is read at a part on it."""
    plugs = {connector.ref for connector in board.connectors}
    found: list[LivePoint] = []
    for point in board.live_points:
        number = first.get(point.plus)
        at_plug = point.stop in plugs and point.plus in _at_plugs(board)
        if point.mode == "ac_volts" or (number is None and not at_plug):
            found.append(point)
            continue
        if number is not None:
            title = f"{pins[number].label}, {name} pin {number}"
            found.append(msgspec.structs.replace(point, title=title, stop=name))
            continue
        rail = board.rail_of(point.rail)
        part = at_a_part(board, point.plus)
        if rail is not None and part:
            stop = part.rpartition(" ")[0] if part.endswith("+") else point.stop
            found.append(msgspec.structs.replace(point, title=f"{rail.title} at {stop}", stop=stop))
    same = {(point.plus, point.minus, point.mode): point for point in found}  # the last: at the pin
    return [point for point in found if same[point.plus, point.minus, point.mode] is point]


def _at_plugs(board: Board) -> set[str]:
    return {pin.net for connector in board.connectors for pin in connector.pins}
