"""The board book: profiles that ship with the application, and the shop's own beside its database.

Own profiles are plain profile files, one a board, written in one move; a damaged one is told by its
name and never deleted.
"""

from __future__ import annotations

from pathlib import Path

import msgspec

from loose_rail.boards.by_pinout import by_pinout
from loose_rail.boards.load import decode_board, read_board, shipped_board, shipped_ids
from loose_rail.boards.profile import Board
from loose_rail.kernel.errors import BoardFileError
from loose_rail.kernel.files import make_private, write_durably

LEAST_PART = 4
ALLOWED = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_."


class BoardBook:
    """All boards that the shop knows. `directory` holds its own; it is made when first needed."""

    def __init__(self, directory: Path) -> None:
        self._directory = directory

    def board(self, board_id: str) -> Board:
        """A board by its id. Raises BoardFileError."""
        own = self._path(board_id)
        if own.is_file():
            return without_example(read_board(own))
        return shipped_board(board_id)

    def own_ids(self) -> list[str]:
        """The shop's own boards, in order."""
        if not self._directory.is_dir():
            return []
        return sorted(path.stem for path in self._directory.glob("*.json"))

    def match(self, number: str) -> Board | None:
        """The board that has this number as its id, title or alias, or as a part of one where only
        one board has it; None where none or several do.

        Raises BoardFileError for an own profile that is damaged.
        """
        wanted = _plain(number)
        if not wanted:
            return None
        partly: list[Board] = []
        for board_id in (*self.own_ids(), *shipped_ids()):
            board = self.board(board_id)
            names = {_plain(name) for name in (board.id, board.title, *board.aliases)}
            if wanted in names:
                return board
            if len(wanted) >= LEAST_PART and any(wanted in name for name in names):
                partly.append(board)
        return partly[0] if len(partly) == 1 else None

    def keep(self, board: Board, number: str, aliases: list[str]) -> Board:
        """Write a board under a number of the shop's own and return it as it was written.

        Raises BoardFileError where it can't be written or makes no sense.
        """
        name = "".join(letter if letter in ALLOWED else "-" for letter in number.strip())
        if not name.strip("-."):
            raise BoardFileError("A board needs a number.", "Type what is printed on it.")
        made = msgspec.structs.replace(board, id=name, aliases=aliases)
        data = msgspec.json.format(msgspec.json.encode(made), indent=1)
        checked = decode_board(data, f"{name}.json")
        try:
            make_private(self._directory)
            write_durably(self._path(name), data)
        except OSError as error:
            raise BoardFileError(
                f"The board can't be kept in {self._directory}: {error.strerror}.",
                "Make room or change its permissions, then try again.",
            ) from error
        return checked

    def _path(self, board_id: str) -> Path:
        return self._directory / f"{board_id.replace('/', '-')}.json"


def without_example(board: Board) -> Board:
    """An own profile as it may be used: one that an earlier version copied from the example of its
    kind, pins, designators and all, is taken for a board whose pins are not known."""
    if board.known_by != "profile" or not board.title.startswith("Board of "):
        return board
    for board_id in shipped_ids():
        example = shipped_board(board_id)
        refs = [part.ref for part in example.components]
        if board.topology == example.topology and [p.ref for p in board.components] == refs:
            return by_pinout(board, "", {})
    return board


def _plain(text: str) -> str:
    return "".join(letter for letter in text.lower() if letter.isalnum())
