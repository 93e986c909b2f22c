"""The board book: profiles that ship with the application, and the shop's own beside its database.

Own profiles are plain profile files, one a board, written in one move; a damaged one is told by its
name and never deleted.
"""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

import msgspec

from loose_rail.app.board_desk import Change
from loose_rail.boards.by_pinout import by_pinout
from loose_rail.boards.load import decode_board, read_board, shipped_board, shipped_ids
from loose_rail.boards.own.file import SCHEMA, OwnBoardFile, board_of_file, decoded, encoded
from loose_rail.boards.own.merge import merged
from loose_rail.boards.profile import Board
from loose_rail.jobs.renamed import renamed_key
from loose_rail.kernel.errors import BoardFileError
from loose_rail.kernel.files import (
    LARGEST_BOARD,
    LARGEST_GIVEN_BOARD,
    LARGEST_HISTORY,
    make_private,
    read_bounded,
    write_durably,
)
from loose_rail.storage.give_board import mark_of_shop, taken_in, to_hand_on
from loose_rail.storage.photos import PhotoFolder

LEAST_PART = 4
MOST_STEPS = 200
"""Changes of one board that are kept."""
PUT_BACK = "put back: "
ALLOWED = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_."


class _Names(msgspec.Struct):
    """What a board is found by, in every format of a board file."""

    schema: str
    id: str
    title: str = ""
    aliases: list[str] = []


class _Norms(msgspec.Struct, frozen=True):
    """What sound boards of one number read, by candidate, and how many boards there were."""

    schema: str = "loose-rail/norms/1"
    boards: int = 0
    values: dict[str, list[float]] = {}


class _Step(msgspec.Struct, frozen=True):
    """A change of an own board: when, in words, and the file before it."""

    at: str
    words: str
    was: str


class BoardBook:
    """All boards that the shop knows. `directory` holds its own; it is made when first needed.
    `version` grows with every change, so that an open job heeds it."""

    def __init__(self, directory: Path, photos: PhotoFolder | None = None) -> None:
        """`photos` keeps the pictures of boards; without it they stay out."""
        self._directory, self._photos = directory, photos
        self.version = 0

    def board(self, board_id: str, mains_volts: float | None = None) -> Board:
        """A board by its id; one of our own put together for another mains than its own, where one
        is given. Raises BoardFileError."""
        own = self.own_file(board_id)
        path = self._path(board_id)
        if own is not None:
            volts = own.mains_volts if mains_volts is None else mains_volts
            found = board_of_file(msgspec.structs.replace(own, mains_volts=volts))
        else:
            found = without_example(read_board(path)) if path.is_file() else shipped_board(board_id)
        norms = self._norms_of(found)
        return msgspec.structs.replace(found, norms=norms) if norms else found

    def own_ids(self) -> list[str]:
        """The shop's own boards, in order."""
        if not self._directory.is_dir():
            return []
        return sorted(path.stem for path in self._directory.glob("*.json"))

    def listed(self) -> list[tuple[str, str, bool]]:
        """Every board: its id, its other names, and whether it is the shop's own. A damaged file is
        listed as such."""
        found: list[tuple[str, str, bool]] = []
        own = self.own_ids()
        for board_id in (*own, *(one for one in shipped_ids() if one not in own)):
            try:
                names = [name for name in self._names(board_id)[1:] if name != board_id]
            except BoardFileError as error:
                names = [error.message]
            found.append((board_id, ", ".join(names), board_id in own))
        return found

    def match(self, number: str) -> Board | None:
        """The board that has this number as its id, title or alias, or as a part of one where only
        one board has it; None where none or several do.

        Raises BoardFileError for an own profile that is damaged.
        """
        wanted = _plain(number)
        if not wanted:
            return None
        partly: list[str] = []
        for board_id in (*self.own_ids(), *shipped_ids()):
            names = {_plain(name) for name in self._names(board_id)}
            if wanted in names:
                return self.board(board_id)
            if len(wanted) >= LEAST_PART and any(wanted in name for name in names):
                partly.append(board_id)
        return self.board(partly[0]) if len(partly) == 1 else None

    def _names(self, board_id: str) -> tuple[str, ...]:
        """Every number and name of a board; an own one is not put together for them."""
        path = self._path(board_id)
        if not path.is_file():
            board = shipped_board(board_id)
            return (board.id, board.title, *board.aliases)
        head = self._head(path)
        return (head.id, head.title or head.id, *head.aliases)

    def _head(self, path: Path) -> _Names:
        """What a file of the book is found by. Raises BoardFileError for a damaged one."""
        try:
            return msgspec.json.decode(read_bounded(path, LARGEST_BOARD), type=_Names)
        except (OSError, ValueError, RecursionError) as error:
            raise BoardFileError(
                f"{path.name} in the board book is damaged: {error}.",
                f"Take it out of {self._directory}, or put its copy back.",
            ) from error

    def own_file(self, board_id: str) -> OwnBoardFile | None:
        """What was typed of a board of the shop's own; None for one that ships, or that was kept as
        a whole profile. Raises BoardFileError."""
        path = self._path(board_id)
        if not path.is_file() or self._head(path).schema != SCHEMA:
            return None
        return decoded(read_bounded(path, LARGEST_BOARD), path.name)

    def keep_own(self, own: OwnBoardFile, at: str = "", words: str = "") -> Board:
        """Write what was typed of a board and return it put together. `at` and `words` tell the
        change from what it was; what it was is kept first.

        Raises BoardFileError where it can't be written or makes no sense.
        """
        name = "".join(letter if letter in ALLOWED else "-" for letter in own.id.strip())
        if not name.strip("-."):
            raise BoardFileError("A board needs a number.", "Type what is printed on it.")
        data = encoded(msgspec.structs.replace(own, id=name))
        checked = decode_board(data, f"{name}.json")
        try:
            make_private(self._directory)
            if self._path(name).is_file():
                was = self._path(name).read_bytes().decode()
                self._write_history(name, [*self._history(name), _Step(at, words, was)])
            write_durably(self._path(name), data)
            self.version += 1
        except OSError as error:
            raise BoardFileError(
                f"The board can't be kept in {self._directory}: {error.strerror}.",
                "Make room or change its permissions, then try again.",
            ) from error
        return checked

    def learn(self, board_id: str, values: Mapping[str, float]) -> int:
        """Add what a sound board of this number read, in SI units by candidate; how many boards
        that makes. Raises BoardFileError."""
        kept = self._norms(board_id)
        for key, value in values.items():
            kept.values.setdefault(key, []).append(value)
        kept = msgspec.structs.replace(kept, boards=kept.boards + 1)
        try:
            make_private(self._norms_path(board_id).parent)
            write_durably(self._norms_path(board_id), msgspec.json.encode(kept))
        except OSError as error:
            raise BoardFileError(
                f"What was learned of {board_id} can't be kept: {error.strerror}.",
                "Make room or change its permissions, then try again.",
            ) from error
        self.version += 1
        return kept.boards

    def forget(self, board_id: str) -> int:
        """Drop what sound boards of a number read; of how many there was something. Raises
        BoardFileError."""
        kept = self._norms(board_id)
        try:
            self._norms_path(board_id).unlink(missing_ok=True)
        except OSError as error:
            raise BoardFileError(f"The norms of {board_id} stay: {error.strerror}.") from error
        self.version += 1
        return kept.boards

    def _norms_of(self, board: Board) -> dict[str, list[float]]:
        """What sound boards read, under the names that the parts have now."""
        kept = self._norms(board.id).values
        names = board.earlier_names
        return {renamed_key(key, names): values for key, values in kept.items()}

    def _norms(self, board_id: str) -> _Norms:
        path = self._norms_path(board_id)
        try:
            return msgspec.json.decode(read_bounded(path, LARGEST_BOARD), type=_Norms)
        except FileNotFoundError:
            return _Norms()
        except (OSError, ValueError, RecursionError) as error:
            raise BoardFileError(
                f"What was learned of {board_id} is damaged: {error}.", f"Move {path} aside."
            ) from error

    def _norms_path(self, board_id: str) -> Path:
        return self._directory / "norms" / f"{board_id.replace('/', '-')}.json"

    def take_file(self, path: Path, at: str) -> tuple[str, str]:
        """Take in a board file of another shop: a board of its own, or merged with ours of the same
        number; its id here, and what became of it. Raises BoardFileError and PhotoError."""
        try:
            data = read_bounded(path, LARGEST_GIVEN_BOARD)
        except OSError as error:
            raise BoardFileError(f"{path} can't be read: {error.strerror}.") from error
        theirs = taken_in(decoded(data, path.name), self._photos, mark_of_shop(self._directory))
        known = next(
            (
                own
                for number in (theirs.id, *theirs.aliases)
                for own in self.own_ids()
                if _plain(number) in {_plain(name) for name in self._names(own)}
            ),
            None,
        )
        ours = self.own_file(known) if known else None
        if ours is None:
            return self.keep_own(theirs, at, f"taken in from {path.name}").id, "taken in"
        found = merged(ours, theirs)
        kept = self.keep_own(found.file, at, f"merged with {path.name}")
        told = f"taken over: {', '.join(found.taken) or 'nothing new'}"
        if found.left:
            told += f"; left as ours: {'; '.join(found.left)}"
        return kept.id, told

    def give_file(self, board_id: str, path: Path, failed: Mapping[str, int] | None = None) -> str:
        """Write a board as one file that another shop can take in, with its photographs and what
        failed on it, `failed` by suspect; what could not go with it, empty for nothing. Without
        `failed` it goes bare. Raises BoardFileError."""
        own = self.own_file(board_id)
        left = ""
        if own is None:
            data = msgspec.json.format(msgspec.json.encode(self.board(board_id)))
        elif failed is None:
            data = encoded(msgspec.structs.replace(own, photos=[], elsewhere={}))
        else:
            mark = mark_of_shop(self._directory)
            given, left = to_hand_on(own, self._photos, mark, failed)
            data = encoded(given)
        try:
            write_durably(path, data)
        except OSError as error:
            raise BoardFileError(f"{path} can't be written: {error.strerror}.") from error
        return left

    def changes(self, board_id: str) -> list[Change]:
        """What was changed on a board of the shop's own, the newest last. Raises BoardFileError."""
        return [Change(step.at, step.words) for step in self._history(board_id)]

    def put_back(self, board_id: str, at: str) -> str:
        """Take the last change back; what it was, empty where there is none. That is a change of
        its own, so that nothing is lost. Raises BoardFileError."""
        steps = self._history(board_id)
        taken = sum(1 for step in steps if step.words.startswith(PUT_BACK))
        done = [step for step in steps if not step.words.startswith(PUT_BACK)]
        if len(done) <= taken:
            return ""
        step = done[-1 - taken]
        self.keep_own(decoded(step.was.encode(), board_id), at, f"{PUT_BACK}{step.words}")
        return step.words

    def _history(self, board_id: str) -> list[_Step]:
        path = self._history_path(board_id)
        try:
            return msgspec.json.decode(read_bounded(path, LARGEST_HISTORY), type=list[_Step])
        except FileNotFoundError:
            return []
        except (OSError, ValueError, RecursionError) as error:
            raise BoardFileError(
                f"The history of {board_id} is damaged: {error}.", f"Move {path} aside."
            ) from error

    def _write_history(self, board_id: str, steps: list[_Step]) -> None:
        path = self._history_path(board_id)
        make_private(path.parent)
        write_durably(path, msgspec.json.encode(steps[-MOST_STEPS:]))

    def _history_path(self, board_id: str) -> Path:
        return self._directory / "history" / f"{board_id.replace('/', '-')}.json"

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
