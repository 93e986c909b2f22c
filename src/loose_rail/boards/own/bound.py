"""The bindings of an own board laid over the composed one: designators, values, further parts.

The composed board calls each part by its job; here the parts get the names printed beside them,
what stands on them, their neighbours in parallel or series, and those that are not there go.
"""

from __future__ import annotations

from collections.abc import Sequence

import msgspec

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.own.binding import PARALLEL, SERIES, Beside, Binding, Line, Struck, in_slot
from loose_rail.boards.own.names import renamed
from loose_rail.boards.profile import Board, Component, Net
from loose_rail.boards.validate import problems_of
from loose_rail.kernel.errors import BoardFileError


def bound(board: Board, lines: Sequence[Line]) -> Board:
    """The board with every line applied, in order. Raises BoardFileError for a line that it can't
    be put together with."""
    for line in lines:
        board = _with(board, line)
    return board


def read_values(lines: Sequence[Line]) -> set[str]:
    """Parts, as they are called now, whose value was read on them."""
    names = names_of(lines)
    refs = {one.ref for one in lines if not isinstance(one, Struck) and one.value}
    return {names.get(ref, ref) for ref in refs}


def _with(board: Board, line: Line) -> Board:
    if not any(part.ref == line.place for part in board.components):
        place = in_slot(board, line.slot)
        if not place:
            raise BoardFileError(
                f"This board has no “{line.place}” as it is put together now.",
                "Its make-up has changed since: take the line out, or bind it to another place.",
            )
        line = msgspec.structs.replace(line, place=place)
    if isinstance(line, Struck):
        return _without(board, line.place)
    if isinstance(line, Beside):
        return _with_neighbour(board, line)
    part = board.component(line.place)
    known = msgspec.structs.replace(
        part,
        value=line.value or part.value,
        params={**part.params, **({"volts": line.volts} if line.volts else {})},
    )
    known = msgspec.structs.replace(known, duty=part.duty or line.place)
    board = renamed(_replaced(board, line.place, [known]), {line.place: line.ref})
    board = _replaced(board, line.ref, [_called(board.component(line.ref), known.duty)])
    for number in range(2, line.count + 1):
        twin = Beside(f"{line.ref} twin{number if line.count > 2 else ''}", line.ref)
        board = _with_neighbour(board, twin)
    return board


def _called(part: Component, duty: str) -> Component:
    return msgspec.structs.replace(part, duty=duty)


def _replaced(board: Board, ref: str, parts: Sequence[Component]) -> Board:
    found: list[Component] = []
    for part in board.components:
        found += parts if part.ref == ref else [part]
    return msgspec.structs.replace(board, components=found)


def _with_neighbour(board: Board, line: Beside) -> Board:
    """A further part: capacitors in parallel and resistors in series count in the model of every
    job that the first one does; others lie beside it for the meter."""
    part = board.component(line.place)
    own = msgspec.structs.replace(
        part,
        ref=line.ref,
        duty=f"{part.duty or line.place}, {'beside' if line.how == PARALLEL else 'in series with'} "
        f"{part.ref}",
        value=line.value or part.value,
        params={**part.params, **({"volts": line.volts} if line.volts else {})},
    )
    counted = is_a(part, Trait.CAPACITOR) and line.how == PARALLEL
    if line.how == SERIES:
        counted = is_a(part, Trait.RESISTOR)
        board, own = _in_series(board, part, own)
    board = _replaced(board, line.place, [board.component(line.place), own])
    roles = {
        name: [*refs, line.ref] if counted and line.place in refs else refs
        for name, refs in board.roles.items()
    }
    return msgspec.structs.replace(board, roles=roles)


def _in_series(board: Board, part: Component, own: Component) -> tuple[Board, Component]:
    """A net between the two: the first end of the new part goes where the last of the old went."""
    if len(part.pins) != 2:
        raise BoardFileError(
            f"{part.ref} has {len(part.pins)} pins: only parts with two can be in series.",
            "Add it beside another part.",
        )
    first, last = part.pins
    between = f"{part.ref} to {own.ref}"
    side = board.net(part.pins[last]).side
    old = msgspec.structs.replace(part, pins={**part.pins, last: between})
    own = msgspec.structs.replace(own, pins={first: between, last: part.pins[last]})
    board = _replaced(board, part.ref, [old])
    net = Net(between, side, f"between {part.ref} and {own.ref}")
    return msgspec.structs.replace(board, nets=[*board.nets, net]), own


def _without(board: Board, ref: str) -> Board:
    """The board without a part that it can do without."""
    replace = msgspec.structs.replace
    roles = {name: [r for r in refs if r != ref] for name, refs in board.roles.items()}
    less = replace(
        board,
        components=[part for part in board.components if part.ref != ref],
        roles={name: refs for name, refs in roles.items() if refs or not board.roles[name]},
        co_failures=[one for one in board.co_failures if ref not in (one.cause, one.effect)],
        sections=[
            replace(
                one,
                before=[r for r in one.before if r != ref],
                after=[r for r in one.after if r != ref],
            )
            for one in board.sections
        ],
        rails=[replace(one, stops=[r for r in one.stops if r != ref]) for one in board.rails],
        live_points=[point for point in board.live_points if point.stop != ref],
    )
    if problems_of(less):
        raise BoardFileError(
            f"No supply of this make-up works without its {ref}.",
            "If it has another one in its place, bind that; if its make-up differs, mend the kind.",
        )
    return less


def names_of(lines: Sequence[Line]) -> dict[str, str]:
    """What entries of a job may have called a part, and what it is called now: a part that was
    bound twice has two earlier names."""
    found: dict[str, str] = {}
    for line in lines:
        if isinstance(line, Binding):
            found = {old: line.ref if now == line.place else now for old, now in found.items()}
            found[line.place] = line.ref
    return found
