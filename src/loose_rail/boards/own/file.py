"""A board of the technician's own as a file: what was seen and printed, never what follows from it.

The profile is composed from it each time it is read, so that a mended label, a bound designator or
a better composer reaches every job of the board. docs/formats.md has the format.
"""

from __future__ import annotations

import re

import msgspec

from loose_rail.boards.mains import LEAST_VOLTS, MOST_VOLTS
from loose_rail.boards.own.binding import Line, in_slot, line_of, slot_of
from loose_rail.boards.own.board import Composed, own_board
from loose_rail.boards.own.bound import bound, names_of, read_values
from loose_rail.boards.own.dividers import with_ratios
from loose_rail.boards.own.make_up import OwnBoard, OwnConnector
from loose_rail.boards.own.photographs import BoardPhoto, checked_photos
from loose_rail.boards.own.typed_pinout import pinout_text, typed_pinout
from loose_rail.boards.profile import Board
from loose_rail.kernel.errors import BoardFileError

SCHEMA = "loose-rail/own-board/1"
WAKES = ("high", "low", "none", "unknown")
USUAL_MAINS_VOLTS = 230.0
"""Where nobody says otherwise."""
MAIN_PLUG = "main plug"


class TrueVolts(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A label that is wrong: the volts it prints, and what stands there on a sound board."""

    printed: float
    stands: float


class OwnBoardFile(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What is known of an own board. `kind` are words for its make-up, `set_kind` for the set it is
    from; `connectors` one typed line each; `wake` how its start pin works; `parts` what was said of
    parts, in order; `true_volts` labels that are wrong; `was` maps earlier names of parts to those
    that a mended label gave them; `photos` are pictures of the board with points on them;
    `elsewhere` counts what failed at other shops, by shop and suspect (`C952:dried`); `pictures`
    holds the photographs themselves, in base64 by their SHA-256, in a file that is handed on."""

    schema: str
    id: str
    aliases: list[str] = []
    kind: str = ""
    set_kind: str = ""
    mains_volts: float = USUAL_MAINS_VOLTS
    wake: str = "unknown"
    connectors: list[str] = []
    true_volts: list[TrueVolts] = []
    parts: list[Line] = []
    was: dict[str, str] = {}
    photos: list[BoardPhoto] = []
    elsewhere: dict[str, dict[str, int]] = {}
    pictures: dict[str, str] = {}

    @property
    def plugs(self) -> tuple[OwnConnector, ...]:
        """The typed connectors; the one that nobody named is the main plug."""
        return tuple(typed_pinout(line).connector(MAIN_PLUG) for line in self.connectors)


def decoded(data: bytes, source: str) -> OwnBoardFile:
    """Read a file. Raises BoardFileError with the field that is wrong."""
    try:
        own = msgspec.json.decode(data, type=OwnBoardFile)
    except msgspec.MsgspecError as error:
        raise BoardFileError(
            f"{source} is no own board: {error}.", "See docs/formats.md for the format."
        ) from error
    return checked(own)


def checked(own: OwnBoardFile) -> OwnBoardFile:
    """The same. Raises BoardFileError where a field is out of its range."""
    if own.wake not in WAKES:
        raise BoardFileError(
            f"A start pin is {', '.join(WAKES)}, not “{own.wake}”.",
            "Leave it unknown where you have not seen it.",
        )
    if not LEAST_VOLTS <= own.mains_volts <= MOST_VOLTS:
        raise BoardFileError(
            f"Mains of {own.mains_volts:g} V.", f"It is {LEAST_VOLTS:g} to {MOST_VOLTS:g} V."
        )
    for line in own.connectors:
        problem = typed_pinout(line).problem
        if problem:
            raise BoardFileError(problem, "Mend the line: CN8/2: 24V, GND, 7: 5VSB")
    names = [plug.name for plug in own.plugs]
    for name in names:
        if names.count(name) > 1:
            raise BoardFileError(
                f"Two connectors are called {name}.", "Give each the name printed beside it."
            )
    checked_photos(own.photos)
    if any(count < 0 for counts in own.elsewhere.values() for count in counts.values()):
        raise BoardFileError("A count of failed parts is below 0.", "Take that line out.")
    return own


def encoded(own: OwnBoardFile) -> bytes:
    """The file's contents."""
    return msgspec.json.format(msgspec.json.encode(own), indent=1)


def composed(own: OwnBoardFile) -> Composed:
    """The composed board before its parts are bound. Raises BoardFileError."""
    checked(own)
    return own_board(
        OwnBoard(
            number=own.id,
            words=own.kind,
            set_words=own.set_kind,
            connectors=own.plugs,
            mains_volts=own.mains_volts,
            wake=own.wake,
            in_truth=tuple((one.printed, one.stands) for one in own.true_volts),
        )
    )


def board_of_file(own: OwnBoardFile) -> Board:
    """The whole board with its bound parts. Raises BoardFileError."""
    plain = composed(own).board
    board = with_ratios(bound(plain, own.parts), plain, read_values(own.parts))
    read = read_values(own.parts)
    bound_now = names_of(own.parts)
    earlier = {old: bound_now.get(new, new) for old, new in own.was.items()} | bound_now
    refs = {part.ref for part in board.components}
    return msgspec.structs.replace(
        board,
        aliases=list(own.aliases),
        earlier_names={old: new for old, new in earlier.items() if new in refs},
        read_parts=sorted(read & refs),
    )


def keeping_names(before: OwnBoardFile, after: OwnBoardFile) -> OwnBoardFile:
    """The file after a change, with what became of the names of parts that it renames: what a job
    has written speaks of the same parts. Raises BoardFileError."""
    old, new = board_of_file(before), board_of_file(after)
    there = {part.ref for part in new.components}
    moved = {
        part.ref: in_slot(new, slot_of(old, part.ref))
        for part in old.components
        if part.ref not in there
    }
    moved = {one: now for one, now in moved.items() if now}
    was = {one: moved.get(now, now) for one, now in before.was.items()} | moved
    return msgspec.structs.replace(after, was=was) if was != after.was else after


def with_line(own: OwnBoardFile, text: str) -> tuple[OwnBoardFile, Line]:
    """The file with one more line about a part, and what it says. Raises BoardFileError where it
    binds nothing or the board can't be put together with it."""
    for one in own.true_volts:  # a person speaks of the label
        text = re.sub(rf"\b{one.printed:g} ?V\b", f"{one.stands:g} V", text)
    line = line_of(board_of_file(own), text)
    made = msgspec.structs.replace(own, parts=[*own.parts, line])
    board_of_file(made)
    return made, line


def without_line(own: OwnBoardFile, number: int) -> OwnBoardFile:
    """The file without one line about a part, counted from 1. Raises BoardFileError where a later
    line speaks of it."""
    made = msgspec.structs.replace(
        own, parts=[line for k, line in enumerate(own.parts, start=1) if k != number]
    )
    board_of_file(made)
    return made


def same_pinout(line: str) -> str:
    """A typed connector in the one spelling that is kept; one with a problem as it is, to be
    told."""
    typed = typed_pinout(line)
    whole = typed.name and not typed.problem
    return pinout_text(typed.connector(MAIN_PLUG)) if whole else line.strip()
