"""The board of a told job: one of the board book, or composed from what is seen and printed."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

import msgspec

from loose_rail.app.job_file.board_of import CaseBoard, board_of
from loose_rail.app.job_file.log.elsewhere import is_mains_switch
from loose_rail.app.job_file.notes import Notes
from loose_rail.boards.mains import LEAST_VOLTS, MOST_VOLTS
from loose_rail.boards.own.board import own_board
from loose_rail.boards.own.make_up import OwnBoard, OwnConnector
from loose_rail.boards.profile import Board
from loose_rail.vocabulary.roles import BoardRole

USUAL_MAINS = 230.0
MOST_PINS, MOST_ROWS = 120, 4
"""Of one connector: the largest of a power board have 50 pins in two rows [E]."""
WAKES = ("high", "low", "none", "unknown")


def own_board_of(
    given: Mapping[str, object],
    folder: Path,
    notes: Notes,
    in_truth: Mapping[float, float] | None = None,
) -> CaseBoard:
    """The board of a file; `in_truth` are volts of standby labels that are wrong, and what stands
    there. Raises BoardFileError where it names a damaged profile, or prints what
    contradicts itself."""
    board = given.get("board")
    if not isinstance(board, Mapping) or "connectors" not in board:
        return board_of(board, folder, notes)
    about = given.get("set")
    set_words = str(about.get("kind", "")) if isinstance(about, Mapping) else str(about or "")
    own = OwnBoard(
        number=str(board.get("number") or "own board"),
        words=str(board.get("kind") or ""),
        set_words=set_words,
        connectors=tuple(_connectors(board["connectors"], notes)),
        mains_volts=_mains(board.get("mains"), notes),
        wake=_wake(board.get("wake"), notes),
        in_truth=tuple((in_truth or {}).items()),
    )
    made = own_board(own)
    notes.understood.append(f"board composed: {made.board.topology}")
    notes.understood += [f"assumed {words}" for words in made.make.assumed]
    return CaseBoard(_with_its_switch(made.board, given.get("log")), generic=False)


def _with_its_switch(board: Board, log: object) -> Board:
    """The board whose cord is called by the switch on its way as well, where a log tells of one:
    the model knows them as one part."""
    entries = log if isinstance(log, list) else []
    words = [str(v) for one in entries if isinstance(one, Mapping) for v in one.values()]
    cords = board.roles.get(BoardRole.CORD, [])
    if not cords or not any(is_mains_switch(board, one) for one in words):
        return board
    parts = [
        msgspec.structs.replace(part, duty=CORD_AND_SWITCH) if part.ref in cords else part
        for part in board.components
    ]
    return msgspec.structs.replace(board, components=parts)


CORD_AND_SWITCH = "mains cord and mains switch"


def _connectors(given: object, notes: Notes) -> list[OwnConnector]:
    found = []
    for one in given if isinstance(given, list) else []:
        pins = one.get("pins") if isinstance(one, Mapping) else None
        if not isinstance(one, Mapping) or not isinstance(pins, list) or not one.get("name"):
            notes.leave(one, "a connector has a name, rows and pins in order")
            continue
        if len(pins) > MOST_PINS:
            notes.leave(str(one["name"]), f"a connector has at most {MOST_PINS} pins")
            continue
        rows = _rows(one.get("rows"), notes)
        found.append(OwnConnector(str(one["name"]), rows, tuple(str(pin) for pin in pins)))
    return found


def _rows(given: object, notes: Notes) -> int:
    if isinstance(given, int) and not isinstance(given, bool) and 1 <= given <= MOST_ROWS:
        return given
    if given is not None:
        notes.leave({"rows": given}, f"a connector has 1 to {MOST_ROWS} rows")
    return 1


def _mains(given: object, notes: Notes) -> float:
    plain = not isinstance(given, bool)
    if isinstance(given, int | float) and plain and LEAST_VOLTS <= given <= MOST_VOLTS:
        return float(given)
    if given is not None:
        notes.leave({"mains": given}, f"mains is {LEAST_VOLTS:g} to {MOST_VOLTS:g} V")
    return USUAL_MAINS


def _wake(given: object, notes: Notes) -> str:
    if given is None or given in WAKES:
        return str(given or "unknown")
    notes.leave({"wake": given}, f"a wake sense is one of {', '.join(WAKES)}")
    return "unknown"
