"""A board of one's own from the form: composed while it is typed, told in words, drawn as seen."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from loose_rail.app.legend import LegendState, legend_of_plug
from loose_rail.boards.own.board import Composed
from loose_rail.boards.own.file import (
    SCHEMA,
    WAKES,
    OwnBoardFile,
    composed,
    same_pinout,
)
from loose_rail.boards.own.pin_label import PinJob
from loose_rail.boards.own.say import doubts_of, make_up_lines
from loose_rail.boards.own.seen import SEEN, kind_words, toggled
from loose_rail.boards.own.typed_pinout import typed_pinout
from loose_rail.kernel.errors import BoardFileError

MOST_UNKNOWN = 4


@dataclass(frozen=True, slots=True)
class TypedBoard:
    """What the form says of a board: what is seen on it, words beside that, its connectors a line
    each, its start pin, and the words for the set."""

    number: str
    aliases: tuple[str, ...]
    seen: tuple[str, ...]
    kind: str
    connectors: str
    wake: str
    set_words: str
    mains_volts: float

    def file(self) -> OwnBoardFile:
        """The same as a file of the board book."""
        lines = [line for line in self.connectors.splitlines() if line.strip()]
        return OwnBoardFile(
            schema=SCHEMA,
            id=self.number,
            aliases=list(self.aliases),
            kind=kind_words(self.seen, self.kind),
            set_kind=self.set_words,
            mains_volts=self.mains_volts,
            wake=wake_of(self.wake),
            connectors=[same_pinout(line) for line in lines],
        )


@dataclass(frozen=True, slots=True)
class BoardEcho:
    """How a typed board is understood: blocks, what was assumed, what to look at again, labels that
    say nothing; or what is wrong with it."""

    blocks: tuple[str, ...] = ()
    assumed: tuple[str, ...] = ()
    ask: tuple[str, ...] = ()
    unknown: tuple[str, ...] = ()
    problem: str = ""


def wake_of(text: str) -> str:
    """How a start pin works, from what was typed; unknown where nothing was. Raises
    BoardFileError for words that mean none of them."""
    words = text.strip().lower()
    if not words:
        return "unknown"
    found = [wake for wake in WAKES if wake.startswith(words)]
    if len(found) != 1:
        raise BoardFileError(
            f"“{text.strip()}” is no way for a start pin to work.",
            "Type high, low or none; leave it empty where it is not known.",
        )
    return found[0]


def echo_of(typed: TypedBoard) -> BoardEcho:
    """How a typed board is understood."""
    try:
        own = typed.file()
        made = _composed(typed)
    except BoardFileError as error:
        return BoardEcho(problem=error.one_line())
    unknown = [
        f"{name} pin {number} “{own_label}”"
        for name, number, own_label in _labels(own)
        if own_label and made.pins[name, number].job is PinJob.UNKNOWN
    ]
    more = f" and {len(unknown) - MOST_UNKNOWN} more" if len(unknown) > MOST_UNKNOWN else ""
    said = [*unknown[:MOST_UNKNOWN]]
    if said:
        said[-1] += more
    return BoardEcho(
        blocks=tuple(make_up_lines(made.make)),
        assumed=made.make.assumed,
        ask=tuple(doubts_of(own, made)),
        unknown=tuple(said),
    )


def legend_of(typed: TypedBoard, line: int) -> LegendState:
    """The connector on one line of the typed ones, or the one above where that is empty, as it is
    seen; none where it can't be read."""
    lines = [text for text in typed.connectors.splitlines() if text.strip()]
    if not lines:
        return LegendState("", (), "")
    above = [text for text in typed.connectors.splitlines()[: line + 1] if text.strip()]
    number = max(len(above) - 1, 0)
    try:
        made = _composed(typed)
        plug = typed.file().plugs[number]
    except BoardFileError:  # the echo says what is wrong
        return LegendState("", (), "")
    which = f" · connector {number + 1} of {len(lines)}" if len(lines) > 1 else ""
    return legend_of_plug(made, plug, which)


def turned(connectors: str, line: int) -> str:
    """The typed connectors with the counting of one turned round: of this line, or of the one above
    where it is empty."""
    lines = connectors.splitlines()
    line = next((k for k in range(min(line, len(lines) - 1), -1, -1) if lines[k].strip()), -1)
    if line < 0:
        return connectors
    typed = typed_pinout(lines[line])
    name, colon, pins = lines[line].partition(":") if typed.name else ("", "", lines[line])
    if not colon:
        return connectors
    bare = " ".join(word for word in name.split() if word.lower() not in ("around", "across"))
    lines[line] = f"{bare}{'' if typed.around else ' around'}:{pins}"
    return "\n".join(lines)


def _labels(own: OwnBoardFile) -> list[tuple[str, int, str]]:
    return [
        (plug.name, number, label)
        for plug in own.plugs
        for number, label in enumerate(plug.pins, start=1)
    ]


@lru_cache(maxsize=8)
def _composed(typed: TypedBoard) -> Composed:
    return composed(typed.file())


@dataclass(frozen=True, slots=True)
class SeenTile:
    """One thing that may be seen on a board, and whether it was said to be."""

    key: str
    title: str
    look: str
    chosen: bool


def tiles_of(chosen: tuple[str, ...]) -> tuple[SeenTile, ...]:
    """Everything that is asked about, in order."""
    return tuple(SeenTile(b.key, b.title, b.look, b.key in chosen) for b in SEEN)


def with_tile(chosen: tuple[str, ...], number: int) -> tuple[str, ...]:
    """The choice after the tile with this number, from 1, is turned."""
    return toggled(chosen, SEEN[number - 1].key) if 1 <= number <= len(SEEN) else chosen
