"""Does a board profile make sense? Every problem is a sentence that names the place."""

from __future__ import annotations

from collections import Counter

from loose_rail.boards.cold_network import KNOWN_KINDS
from loose_rail.boards.faults import find_faults
from loose_rail.boards.profile import Board, Component
from loose_rail.kernel.quantities import component_value
from loose_rail.live.simulate import POINTS

VALUED_KINDS = frozenset({"fuse", "ntc", "resistor", "electrolytic", "film", "ceramic"})
WAKE_SENSES = frozenset({"high", "low", "unknown"})


def problems_of(board: Board) -> list[str]:
    """Everything that is wrong with a profile, empty where it is sound."""
    problems = _duplicates(board)
    if problems:
        return problems
    nets = {net.name for net in board.nets}
    for part in board.components:
        problems += _part_problems(part, nets, {section.id for section in board.sections})
    if problems:
        return problems
    return problems + _reference_problems(board, nets)


def _duplicates(board: Board) -> list[str]:
    counted = Counter(part.ref for part in board.components)
    problems = [f"part {ref} is listed {n} times" for ref, n in counted.items() if n > 1]
    counted = Counter(net.name for net in board.nets)
    return problems + [f"net {name} is listed {n} times" for name, n in counted.items() if n > 1]


def _part_problems(part: Component, nets: set[str], sections: set[str]) -> list[str]:
    if part.kind not in KNOWN_KINDS:
        return [f"part {part.ref} is of the unknown kind “{part.kind}”"]
    problems = [
        f"part {part.ref} pin {pin} goes to net {net}, which is missing"
        for pin, net in part.pins.items()
        if net not in nets
    ]
    if part.section not in sections:
        problems.append(f"part {part.ref} stands in section {part.section}, which is missing")
    if part.kind in VALUED_KINDS:
        try:
            if component_value(part.value) <= 0:
                problems.append(f"part {part.ref} has the value {part.value}, not above zero")
        except ValueError as error:
            problems.append(f"part {part.ref}: {error}")
    return problems


def _reference_problems(board: Board, nets: set[str]) -> list[str]:
    refs = {part.ref for part in board.components}
    problems = [
        f"the {side} ground is net {net}, which is missing"
        for side, net in (("hot", board.hot_ground), ("cold", board.cold_ground))
        if net not in nets
    ]
    for role, parts in board.roles.items():
        problems += [
            f"role {role} names {ref}, which is missing" for ref in parts if ref not in refs
        ]
    for rail in board.rails:
        problems += [
            f"rail {rail.id} stops at {ref}, which is missing"
            for ref in rail.stops
            if ref not in refs
        ]
    for connector in board.connectors:
        problems += [
            f"{connector.ref} pin {pin.number} goes to net {pin.net}, which is missing"
            for pin in connector.pins
            if pin.net not in nets
        ]
    for point in board.live_points:
        if point.observable not in POINTS:
            problems.append(f"live point {point.id} reads the unknown “{point.observable}”")
        problems += [
            f"live point {point.id} uses net {net}, which is missing"
            for net in (point.plus, point.minus)
            if net not in nets
        ]
    if board.wake.sense not in WAKE_SENSES:
        problems.append(f"wake sense “{board.wake.sense}” is not high, low or unknown")
    if not problems:
        problems += _co_failure_problems(board, refs)
    return problems


def _co_failure_problems(board: Board, refs: set[str]) -> list[str]:
    problems: list[str] = []
    for link in board.co_failures:
        for ref, mode in ((link.cause, link.cause_mode), (link.effect, link.effect_mode)):
            if ref not in refs or not find_faults(board, ref, mode):
                problems.append(f"co-failure names {ref} {mode}, which is no fault mode here")
    return problems
