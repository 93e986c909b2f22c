"""Does a board profile make sense? Every problem is a sentence that names the place."""

from __future__ import annotations

from collections import Counter

from loose_rail.boards.faults import find_faults
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import KINDS, is_a
from loose_rail.boards.powered_board import KNOWN_STAGES, RELAY, STATUS
from loose_rail.boards.profile import Board, Component
from loose_rail.kernel.quantities import component_value
from loose_rail.vocabulary.keys import ripple_of
from loose_rail.vocabulary.roles import known_roles, near_miss, needed_roles

WAKE_SENSES = frozenset({"high", "low", "none", "unknown"})


def problems_of(board: Board) -> list[str]:
    """Everything that is wrong with a profile, empty where it is sound."""
    problems = _duplicates(board) + _stage_problems(board)
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


def _stage_problems(board: Board) -> list[str]:
    """What the live model could not be built from."""
    ids = {stage.id for stage in board.stages} | {"bulk"}
    signals = {spec.id for spec in board.signals}
    problems = [
        f"stage {stage.id} is of the unknown kind “{stage.kind}”"
        for stage in board.stages
        if stage.kind not in KNOWN_STAGES
    ]
    if sum(stage.kind in ("mains", "adapter") for stage in board.stages) != 1:
        problems.append("there must be one stage of the kind mains or adapter")
    for stage in board.stages:
        if stage.source and stage.source not in ids:
            problems.append(f"stage {stage.id} is fed by {stage.source}, which is missing")
        if stage.signal and stage.signal not in signals:
            problems.append(f"stage {stage.id} waits for {stage.signal}, which is missing")
    for load in board.loads:
        if load.rail not in ids:
            problems.append(f"the load of {load.part} hangs on {load.rail}, which is missing")
    return problems


def observables_of(board: Board) -> list[str]:
    """Every point that the live model of a board can be read at."""
    found = ["mains", "after_fuse", "bridge_ac", "bulk", *(spec.id for spec in board.signals)]
    for stage in board.stages:
        if stage.kind in ("flyback", "resonant"):
            found += [f"{stage.id}.vcc", f"{stage.id}.reservoir", f"{stage.id}.out"]
        elif stage.kind == RELAY:
            found += [f"{stage.id}.coil", f"{stage.id}.drop"]
        elif stage.kind not in ("mains", "adapter", "boost"):
            found.append(f"{stage.id}.out")
        if stage.kind == "ccfl":
            found += [f"{stage.id}.feed", ripple_of(f"{stage.id}.feed")]
        elif stage.kind not in (STATUS, RELAY):
            found.append(ripple_of(stage.id))
    return [*found, ripple_of("bulk")]


def _part_problems(part: Component, nets: set[str], sections: set[str]) -> list[str]:
    if part.kind not in KINDS:
        meant = near_miss(part.kind, KINDS.keys())
        hint = f"; did you mean “{meant}”?" if meant else ""
        return [f"part {part.ref} is of the unknown kind “{part.kind}”{hint}"]
    problems = [
        f"part {part.ref} pin {pin} goes to net {net}, which is missing"
        for pin, net in part.pins.items()
        if net not in nets
    ]
    if part.section not in sections:
        problems.append(f"part {part.ref} stands in section {part.section}, which is missing")
    if is_a(part, Trait.VALUED):
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
    problems += _role_problems(board, refs)
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
    known = set(observables_of(board))
    for point in board.live_points:
        if point.observable not in known:
            problems.append(f"live point {point.id} reads the unknown “{point.observable}”")
        problems += [
            f"live point {point.id} uses net {net}, which is missing"
            for net in (point.plus, point.minus)
            if net not in nets
        ]
    if board.wake.sense not in WAKE_SENSES:
        problems.append(f"wake sense “{board.wake.sense}” is not high, low, none or unknown")
    if not problems:
        problems += _co_failure_problems(board, refs)
    return problems


def _role_problems(board: Board, refs: set[str]) -> list[str]:
    """Roles that nothing asks for, those that are missing, and parts that they name in vain."""
    stages = {stage.id: stage.kind for stage in board.stages}
    loads = {part.ref for part in board.components if is_a(part, Trait.BOARD)}
    known = known_roles(stages, [signal.id for signal in board.signals], loads)
    problems = []
    for name in board.roles:
        if name not in known:
            meant = near_miss(name, known - board.roles.keys())
            hint = f"; did you mean “{meant}”?" if meant else ", which nothing here asks for"
            problems.append(f"there is no role “{name}”{hint}")
    problems += [
        f"role {name} is missing: name the part that does this job"
        for name in needed_roles(stages)
        if not board.roles.get(name)
    ]
    for name, parts in board.roles.items():
        problems += [
            f"role {name} names {ref}, which is missing" for ref in parts if ref not in refs
        ]
    return problems


def _co_failure_problems(board: Board, refs: set[str]) -> list[str]:
    problems: list[str] = []
    for link in board.co_failures:
        for ref, mode in ((link.cause, link.cause_mode), (link.effect, link.effect_mode)):
            if ref not in refs or not find_faults(board, ref, mode):
                problems.append(f"co-failure names {ref} {mode}, which is no fault mode here")
    return problems
