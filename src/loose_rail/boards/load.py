"""Reading board profiles from files: shape by msgspec, sense by `validate`."""

from __future__ import annotations

from functools import cache
from importlib import resources
from pathlib import Path

import msgspec

from loose_rail.boards.compose import Recipe, compose
from loose_rail.boards.own import file as own_file
from loose_rail.boards.profile import Board
from loose_rail.boards.tried import MISSHAPEN, trouble_in_use, why
from loose_rail.boards.validate import problems_of
from loose_rail.kernel.errors import BoardFileError
from loose_rail.kernel.files import LARGEST_GIVEN_BOARD, read_bounded

SCHEMA = "loose-rail/board/1"
RECIPE_SCHEMA = "loose-rail/recipe/1"


def decode_board(data: bytes, source: str) -> Board:
    """Decode, check and try one profile from elsewhere. Raises BoardFileError naming the first
    problems found."""
    try:
        board = _decoded(data, source)
        problems = problems_of(board)
    except msgspec.MsgspecError as error:
        raise BoardFileError(
            f"{source} is not a board profile: {error}.", "See docs/formats.md for the format."
        ) from error
    except MISSHAPEN as error:
        raise BoardFileError(
            f"{source} can't be put together: {why(error)}.", "See docs/formats.md for the format."
        ) from error
    if not problems and (trouble := trouble_in_use(board)):
        problems = [trouble]
    if problems:
        more = f" and {len(problems) - 3} more" if len(problems) > 3 else ""
        raise BoardFileError(
            f"{source} contradicts itself: {'; '.join(problems[:3])}{more}.",
            "Mend these places in the file, then open it again.",
        )
    return board


class _Head(msgspec.Struct):
    """What is looked at first: in which format a file is written."""

    schema: str


def _decoded(data: bytes, source: str) -> Board:
    """A profile, or a recipe or an own board put together into one."""
    schema = msgspec.json.decode(data, type=_Head).schema
    if schema == own_file.SCHEMA:
        return own_file.board_of_file(own_file.decoded(data, source))
    if schema == RECIPE_SCHEMA:
        return msgspec.convert(compose(msgspec.json.decode(data, type=Recipe)), type=Board)
    if schema != SCHEMA:
        raise BoardFileError(
            f"{source} is written in “{schema}”; this program reads “{SCHEMA}”, "
            f"“{RECIPE_SCHEMA}” and “{own_file.SCHEMA}”.",
            "Open it with the version that wrote it, or update Loose Rail.",
        )
    return msgspec.json.decode(data, type=Board)


def read_board(path: Path) -> Board:
    """Read a profile from a file. Raises BoardFileError."""
    try:
        data = read_bounded(path, LARGEST_GIVEN_BOARD)
    except OSError as error:
        raise BoardFileError(f"{path} can't be read: {error.strerror}.") from error
    return decode_board(data, path.name)


@cache
def shipped_board(board_id: str) -> Board:
    """A profile that ships with the application; read once, and never changed in place.

    Raises BoardFileError for an unknown id.
    """
    for folder in ("data", "data/recipes"):
        place = resources.files("loose_rail.boards").joinpath(f"{folder}/{board_id}.json")
        if "/" not in board_id and place.is_file():
            return _decoded(place.read_bytes(), place.name)  # checked by the tests
    raise BoardFileError(
        f"No board “{board_id}” in the board book.", f"There are {', '.join(shipped_ids())}."
    )


def board_named(name: str) -> Board:
    """A board by the path of its profile, or by any of its numbers in the board book.

    Raises BoardFileError.
    """
    path = Path(name)
    if path.suffix == ".json" or path.is_file():
        return read_board(path)
    for board_id in shipped_ids():
        board = shipped_board(board_id)
        if name.upper() in (board_id.upper(), *(alias.upper() for alias in board.aliases)):
            return board
    return shipped_board(name)


@cache
def shipped_ids() -> tuple[str, ...]:
    """The numbers of the boards that ship with the application."""
    folder = resources.files("loose_rail.boards").joinpath("data")
    places = [*folder.iterdir(), *folder.joinpath("recipes").iterdir()]
    return tuple(sorted(p.name[:-5] for p in places if p.name.startswith("PB-")))
