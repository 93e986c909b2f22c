"""A board of the technician's own: composed from its make-up, with the printed pins and no other.

Parts have no designators yet: each is called by the job it does. Connectors have their own names,
pins their labels and numbers.
"""

from __future__ import annotations

from dataclasses import dataclass

import msgspec

from loose_rail.boards.by_pinout import plain_names, renamed
from loose_rail.boards.compose import compose
from loose_rail.boards.own.make_up import MakeUp, OwnBoard, make_up, meanings
from loose_rail.boards.own.pin_label import PinJob, PinMeaning
from loose_rail.boards.own.recipe_of import recipe_of
from loose_rail.boards.profile import Board
from loose_rail.boards.validate import problems_of
from loose_rail.kernel.errors import BoardFileError

KNOWN_BY = "own"
_LAMP_JOBS = (PinJob.LED_PLUS, PinJob.TUBE)


@dataclass(frozen=True)
class Composed:
    """A composed board, its make-up, and what each printed pin means, by connector and number."""

    board: Board
    make: MakeUp
    pins: dict[tuple[str, int], PinMeaning]


def own_board(own: OwnBoard) -> Composed:
    """Compose a board. Raises BoardFileError where what is printed contradicts itself."""
    make = make_up(own)
    board = msgspec.convert(compose(recipe_of(own, make)), type=Board)
    problems = problems_of(board)
    if problems:
        raise BoardFileError(
            f"The board can't be put together from this: {'; '.join(problems[:3])}.",
            "Check the labels, and name its make-up in other words.",
        )
    pins = meanings(own.connectors)
    printed = {one.name for one in own.connectors}
    names = {ref: name for ref, name in plain_names(board).items() if ref not in printed}
    names |= _lamp_plugs(own, board, pins)
    named = renamed(board, names)
    return Composed(msgspec.structs.replace(named, known_by=KNOWN_BY), make, pins)


def _lamp_plugs(
    own: OwnBoard, board: Board, pins: dict[tuple[str, int], PinMeaning]
) -> dict[str, str]:
    """The lamps' connectors of the blocks under their printed names, in order."""
    printed = [
        one.name
        for one in own.connectors
        if one.name not in {connector.ref for connector in board.connectors}
        and any(pins[one.name, n].job in _LAMP_JOBS for n in range(1, len(one.pins) + 1))
    ]
    refs = [
        part.ref
        for part in board.components
        if part.kind == "connector" and part.duty in ("to the LED strips", "to the tubes")
    ]
    return dict(zip(refs, printed, strict=False))
