"""A board of the board book at hand: looked at, changed by typed lines, and put back as it was."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

import msgspec

from loose_rail.app.legend import LegendState, legend_of_connector
from loose_rail.app.outcome import Echo, Outcome
from loose_rail.app.ports import Clock
from loose_rail.app.wrong_label import words_for_board
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.own.bound import read_values
from loose_rail.boards.own.edit import GRAMMAR, edited, line_words
from loose_rail.boards.own.file import OwnBoardFile, composed
from loose_rail.boards.own.pin_label import PinJob
from loose_rail.boards.own.place_words import where_to_look
from loose_rail.boards.own.say import doubts_of, make_up_lines
from loose_rail.boards.profile import Board
from loose_rail.jobs.summary import Summary
from loose_rail.kernel.errors import BoardFileError, LooseRailError
from loose_rail.vocabulary.keys import part_of

MOST_SHOWN_CHANGES, MOST_WEAK = 8, 6
_COPY = re.compile(r"^\s*copy as (\S+)\s*$", re.IGNORECASE)
OF_A_JOB = {
    "learn": "In a job: the readings of the board as it is now become those of a sound one.",
    "forget": "In a job: what sound boards of this number read is dropped.",
}
"""Lines that a job takes."""


@dataclass(frozen=True, slots=True)
class Change:
    """A change of a board of one's own: when, and what it did."""

    at: str
    words: str


@dataclass(frozen=True, slots=True)
class BookRow:
    """A board in the list: its number, its other names, whether it is our own, its jobs."""

    board_id: str
    names: str
    own: bool
    jobs: int


class OwnBook(Protocol):
    """What the desk needs of the board book. Every method raises BoardFileError."""

    def board(self, board_id: str) -> Board: ...
    def own_file(self, board_id: str) -> OwnBoardFile | None: ...
    def keep_own(self, own: OwnBoardFile, at: str = ..., words: str = ...) -> Board: ...
    def changes(self, board_id: str) -> Sequence[Change]: ...
    def put_back(self, board_id: str, at: str) -> str: ...
    def learn(self, board_id: str, values: Mapping[str, float]) -> int: ...
    def take_file(self, path: Path, at: str) -> tuple[str, str]: ...
    def give_file(
        self, board_id: str, path: Path, failed: Mapping[str, int] | None = ...
    ) -> str: ...
    def forget(self, board_id: str) -> int: ...


@dataclass(frozen=True, slots=True)
class PartRow:
    """A part as the page shows it: designator where it has one, its job, value, where to look."""

    ref: str
    job: str
    value: str
    look: str


@dataclass(frozen=True, slots=True)
class BoardState:
    """A board of the book: its names, its blocks, connectors, parts, lines and changes. `own` is
    false for one that ships or was taken in whole: it can be looked at only."""

    title: str = ""
    numbers: str = ""
    own: bool = False
    blocks: tuple[str, ...] = ()
    ask: tuple[str, ...] = ()
    legends: tuple[LegendState, ...] = ()
    parts: tuple[PartRow, ...] = ()
    lines: tuple[str, ...] = ()
    changes: tuple[str, ...] = ()
    facts: tuple[tuple[str, str], ...] = ()


class BoardDesk:
    """One board, by its number in the book. `ended` are the shop's closed jobs of this board that
    ended at a part."""

    def __init__(
        self,
        book: OwnBook,
        board_id: str,
        clock: Clock,
        ended: Sequence[Summary] = (),
    ) -> None:
        self._ended = tuple(ended)
        self._book = book
        self.board_id = board_id
        self._clock = clock

    def state(self) -> BoardState:
        """The board as it stands. Raises BoardFileError for a damaged file."""
        board = self._book.board(self.board_id)
        own = self._book.own_file(self.board_id)
        made = composed(own) if own else None
        return BoardState(
            title=board.title,
            numbers=", ".join([board.id, *board.aliases]),
            own=own is not None,
            blocks=tuple(make_up_lines(made.make)) if made else _sections(board),
            ask=(*doubts_of(own, made), *words_for_board(board)) if own and made else (),
            legends=tuple(legend_of_connector(board, plug) for plug in board.connectors),
            parts=tuple(_rows(board, own)),
            lines=tuple(line_words(line) for line in own.parts) if own else (),
            changes=tuple(
                f"{one.at[:16].replace('T', ' ')}  {one.words}"
                for one in list(self._book.changes(self.board_id))[-MOST_SHOWN_CHANGES:]
            ),
            facts=(*_facts(own, board), *_learned(board), *self._weak(own)),
        )

    def board(self) -> Board:
        """The board itself. Raises BoardFileError for a damaged file."""
        return self._book.board(self.board_id)

    def failed(self) -> Counter[str]:
        """Parts that failed here before with their counts, by the names they have now."""
        names = self.board().earlier_names
        return Counter(names.get(one.part, one.part) for one in self._ended)

    def failed_elsewhere(self) -> Counter[str]:
        """The same of other shops, as far as their files told. Raises BoardFileError."""
        return _elsewhere(self._book.own_file(self.board_id), self.board())

    def ended_at(self, part: str) -> list[str]:
        """The closed jobs of this board that ended at a part, in words, the newest first."""
        names = self.board().earlier_names
        own = [one for one in self._ended if names.get(one.part, one.part) == part]
        return [f"job {one.ticket}: {one.title}" for one in reversed(own)]

    def own_file(self) -> OwnBoardFile | None:
        """What was typed of the board; None for one that can only be looked at. Raises
        BoardFileError."""
        return self._book.own_file(self.board_id)

    def change(self, own: OwnBoardFile, words: str) -> Outcome:
        """Keep the board as it was changed; `words` tell what was done."""
        try:
            self._book.keep_own(own, self._clock.now(), words)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        return Outcome(f"{_sentence(words)}.")

    def _weak(self, own: OwnBoardFile | None) -> tuple[tuple[str, str], ...]:
        """The same in words, the most often first."""
        found = (
            ("Failed here before", self.failed()),
            (f"Failed at {_shops(own)}", _elsewhere(own, self.board())),
        )
        return tuple((title, _counts(counted)) for title, counted in found if counted)

    def echo(self, text: str) -> Echo:
        """What a typed line would do."""
        if not text.strip():
            return Echo(GRAMMAR, False)
        copied = _COPY.match(text)
        if copied:
            return Echo(f"{copied[1]} becomes a copy of {self.board_id}.", False)
        if text.strip().lower() in OF_A_JOB:
            return Echo(OF_A_JOB[text.strip().lower()], False)
        try:
            return Echo(f"{_sentence(edited(self._own(), text)[1])}.", False)
        except BoardFileError as error:
            return Echo(error.one_line(), True)

    def enter(self, text: str) -> Outcome:
        """Do what a typed line says; it is on disk then."""
        copied = _COPY.match(text)
        if copied:
            return self.copy_as(copied[1])
        try:
            own, words = edited(self._own(), text)
            self._book.keep_own(own, self._clock.now(), words)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        return Outcome(f"{_sentence(words)}. {self._missing(own)}".strip())

    def learn(self, readings: Mapping[str, float]) -> Outcome:
        """Readings of a sound board become norms of its number."""
        try:
            count = self._book.learn(self.board_id, readings)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        boards = f"{count} sound board{'s' if count != 1 else ''}"
        return Outcome(f"Learned: {len(readings)} readings; {boards} of this number now.")

    def take_file(self, path: Path) -> tuple[str, Outcome]:
        """Take a board in from a file: its number here (empty where it is refused), and what became
        of it."""
        try:
            board_id, words = self._book.take_file(path, self._clock.now())
        except LooseRailError as error:
            return "", Outcome.refused(error.one_line())
        return board_id, Outcome(f"{board_id}: {words}.")

    def give_file(self, path: Path) -> Outcome:
        """Write this board as one file."""
        try:
            failed = Counter(one.suspect or one.part for one in self._ended)
            left = self._book.give_file(self.board_id, path, failed)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        return Outcome(f"{self.board_id} is written to {path}{f'; {left}' if left else ''}.")

    def copy_as(self, number: str) -> Outcome:
        """The same board under another number, to be changed by itself."""
        try:
            own = msgspec.structs.replace(self._own(), id=number, aliases=[])
            if self._book.own_file(number) is not None:
                return Outcome.refused(f"{number} is in the book already.")
            self._book.keep_own(own, self._clock.now(), f"copied from {self.board_id}")
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        return Outcome(f"{number} is a copy of {self.board_id}.")

    def forget(self) -> Outcome:
        """What was learned is dropped."""
        try:
            count = self._book.forget(self.board_id)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        if not count:
            return Outcome.refused("Nothing was learned of this board yet.")
        return Outcome(f"Forgotten: what {count} sound boards read.")

    def put_back(self) -> Outcome:
        """Take the last change back."""
        try:
            words = self._book.put_back(self.board_id, self._clock.now())
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        return Outcome(f"Put back as before: {words}." if words else "There is no change to undo.")

    def _own(self) -> OwnBoardFile:
        own = self._book.own_file(self.board_id)
        if own is None:
            raise BoardFileError(
                f"{self.board_id} is a whole profile, not put together here: it is looked at only.",
                "Take your board in under its own number, and it can be changed.",
            )
        return own

    @staticmethod
    def _missing(own: OwnBoardFile) -> str:
        """What nobody could say of a label that was just typed."""
        made = composed(own)
        unknown = [
            f"{plug.name} pin {number} “{label}”"
            for plug in own.plugs
            for number, label in enumerate(plug.pins, start=1)
            if label and made.pins[plug.name, number].job is PinJob.UNKNOWN
        ]
        return f"Says nothing here: {'; '.join(unknown[:3])}." if unknown else ""


def _shops(own: OwnBoardFile | None) -> str:
    count = len(own.elsewhere) if own else 0
    return f"{count} other shop{'s' if count != 1 else ''}"


def _elsewhere(own: OwnBoardFile | None, board: Board) -> Counter[str]:
    counted = Counter[str]()
    for counts in own.elsewhere.values() if own else ():
        for suspect, count in counts.items():
            part = part_of(suspect)
            counted[board.earlier_names.get(part, part)] += count
    return counted


def _counts(counted: Counter[str]) -> str:
    return ", ".join(f"{part} {count}×" for part, count in counted.most_common(MOST_WEAK))


def names_the_part(text: str) -> bool:
    """Whether a line typed at the bench says what is printed beside the part on the card."""
    return text.lstrip().startswith("=")


def binding_text(text: str, part: str) -> str:
    """“=C952 1000u 25V” as the line that binds the part."""
    ref, _, printed = text.strip().removeprefix("=").strip().partition(" ")
    return f"{ref} = {part or '?'} {printed}".strip()


def _sentence(words: str) -> str:
    return words[:1].upper() + words[1:]


def _sections(board: Board) -> tuple[str, ...]:
    return tuple(
        f"{one.title}: {one.subtitle}" if one.subtitle else one.title
        for one in board.sections
        if one.id != "loads"
    )


def _facts(own: OwnBoardFile | None, board: Board) -> tuple[tuple[str, str], ...]:
    mains = "adapter" if board.adapter_fed else f"{board.mains.volts:g} V"
    facts = [("Mains", mains), ("Start pin", board.wake.sense)]
    if own is not None:
        facts = [("Kind", own.kind or "not said"), ("Set", own.set_kind or "not said"), *facts]
        facts += [
            (f"Label {one.printed:g} V", f"stands at {one.stands:g} V") for one in own.true_volts
        ]
    return tuple(facts)


def _learned(board: Board) -> tuple[tuple[str, str], ...]:
    if not board.norms:
        return ()
    most = max(len(values) for values in board.norms.values())
    boards = f"{most} sound board{'s' if most != 1 else ''}"
    return (("Learned", f"{len(board.norms)} points from {boards}"),)


def _rows(board: Board, own: OwnBoardFile | None) -> list[PartRow]:
    """The parts; of an own board a value counts as known only where it was read on the part."""
    read = read_values(own.parts) if own else {part.ref for part in board.components}
    named: Collection[str] = set(board.earlier_names.values())
    found = []
    for part in board.components:
        if part.kind == "load":
            continue
        bound = part.ref in named or board.known_by == "profile"
        job = part.duty or part.ref
        volts = part.params.get("volts", "")
        value = f"{part.value} {volts} V".strip() if volts and part.value else part.value
        if part.ref not in read and value:
            told = is_a(part, Trait.VALUED) and not is_a(part, Trait.FUSE)  # a fuse's are its ohms
            value = f"usually {value}" if told else ""
        found.append(PartRow(part.ref if bound else "", job, value, where_to_look(board, part)))
    return found
