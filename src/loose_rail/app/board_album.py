"""Photographs of a board in the book: added, pointed at, and what is known of a point.

Typed lines act on the photograph in front: a part or a pin marks the cross, `drop C952` takes a
point away, `drop photograph` the picture, `called …` names it; any other line changes the board.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import msgspec

from loose_rail.app.board_desk import BoardDesk
from loose_rail.app.kept_pictures import Kept, KeptPictures
from loose_rail.app.legend import rail_volts
from loose_rail.app.outcome import Echo, Outcome
from loose_rail.app.ports import Photos
from loose_rail.boards.own.file import OwnBoardFile
from loose_rail.boards.own.photographs import (
    BoardPhoto,
    Spot,
    part_at,
    pin_at,
    spot_named,
    with_photo,
    with_spot,
)
from loose_rail.boards.own.place_words import where_to_look
from loose_rail.boards.part_words import job_words
from loose_rail.boards.probes import Probe, probes_of
from loose_rail.boards.profile import Board, Connector, Pin
from loose_rail.kernel.errors import BoardFileError, LooseRailError
from loose_rail.kernel.quantities import engineering, span

GRAMMAR = (
    "C952 or CN8/7 marks the cross · C952 = 12 V reservoir 1000u 25V names it too · "
    "called component side · drop C952 · drop photograph"
)
MOST_PROBES = 8
_DROP = re.compile(r"^\s*drop\s+(.+?)\s*$", re.IGNORECASE)
_CALLED = re.compile(r"^\s*called\s+(.+?)\s*$", re.IGNORECASE)
_BINDS = re.compile(r"^\s*(\S+)\s*=\s*\S")
HIT = 0.03
"""How near a click has to be to a point, in shares of the picture [E]."""


@dataclass(frozen=True, slots=True)
class SpotFacts:
    """What is known at a point: its name, and lines under headings."""

    title: str = ""
    lines: tuple[tuple[str, tuple[str, ...]], ...] = ()


class BoardAlbum(KeptPictures):
    """The photographs of the board that the desk holds. `chosen` is the point that was clicked."""

    def __init__(self, desk: BoardDesk, folder: Photos | None) -> None:
        super().__init__(folder)
        self.desk = desk
        self.selected = 0
        self.chosen = ""

    @property
    def photos(self) -> tuple[BoardPhoto, ...]:
        """Every photograph, in order. Raises BoardFileError."""
        own = self.desk.own_file()
        return tuple(own.photos) if own else ()

    def select(self, number: int) -> None:
        """Bring a photograph to the front."""
        if 0 <= number < len(self.photos):
            self.selected, self.chosen = number, ""

    def record(self, kept: Kept) -> Outcome:
        """The photographs belong to the board from now on."""
        found, refused = kept
        try:
            own = self._own()
            photos = own.photos
            for photo, name in found:
                photos = with_photo(photos, photo, name)
        except BoardFileError as error:
            return Outcome.refused(error.one_line())
        told = " ".join(refused)
        count = len(photos) - len(own.photos)
        if not count:
            return Outcome.refused(told) if told else Outcome("Already there.")
        words = f"{count} photograph{'s' if count > 1 else ''} of the board"
        outcome = self.desk.change(msgspec.structs.replace(own, photos=photos), words)
        if outcome.taken:
            self.selected = len(photos) - 1
        return Outcome.refused(f"{outcome.text} {told}") if told else outcome

    def take_over(
        self, photo: str, caption: str, points: Sequence[tuple[float, float, str]]
    ) -> Outcome:
        """A photograph of a job with its points `(x, y, words)`: those whose words begin with a
        part or a pin of this board come along."""
        try:
            own, board = self._own(), self.desk.board()
            photos = with_photo(own.photos, photo, caption)
            number = next(k for k, one in enumerate(photos) if one.photo == photo)
            left = []
            for x, y, words in points:
                named = _first_named(board, words)
                if named:
                    photos[number] = with_spot(photos[number], Spot(x, y, named))
                else:
                    left.append(words)
        except BoardFileError as error:
            return Outcome.refused(error.one_line())
        if photos == own.photos:
            return Outcome("It is in the board's book already.")
        spots = len(photos[number].spots)
        words = f"photograph in the board's book, {spots} point{'s' if spots != 1 else ''}"
        outcome = self.desk.change(msgspec.structs.replace(own, photos=photos), words)
        told = f" No part or pin: {', '.join(left)}." if left and outcome.taken else ""
        return Outcome(f"{outcome.text}{told}", outcome.kind)

    def echo(self, text: str) -> Echo:
        """What a typed line would do."""
        if not text.strip():
            return Echo(GRAMMAR if self.photos else "F5 adds photographs of the board.", False)
        dropped, called = _DROP.match(text), _CALLED.match(text)
        if called:
            return Echo(f"The photograph in front is called {called[1]}.", False)
        try:
            board = self.desk.board()
            if dropped and dropped[1].lower() in ("photograph", "photo"):
                return Echo("The photograph in front goes out of the book.", False)
            if dropped:
                return Echo(f"The point of {spot_named(board, dropped[1])} goes.", False)
            if _BINDS.match(text):
                return self.desk.echo(text)
            return Echo(f"The cross is {spot_words(board, spot_named(board, text))}.", False)
        except BoardFileError as error:
            other = self.desk.echo(text)
            return Echo(error.one_line(), True) if other.error else other

    def enter(self, text: str, x: float, y: float) -> Outcome:
        """Do what a typed line says, with the cross at `x`, `y` in shares of the picture."""
        dropped, called, binds = _DROP.match(text), _CALLED.match(text), _BINDS.match(text)
        try:
            if called:
                return self._called(called[1])
            if dropped and dropped[1].lower() in ("photograph", "photo"):
                return self._without_photo()
            if dropped and not dropped[1].isdecimal():
                return self._without(dropped[1])
            if binds:
                outcome = self.desk.enter(text)
                if not outcome.taken or not self.photos:
                    return outcome
                marked = self._marked(binds[1].upper(), x, y)
                return Outcome(f"{outcome.text} {marked.text}", marked.kind)
            try:
                named = spot_named(self.desk.board(), text)
            except BoardFileError as error:
                other = self.desk.enter(text)
                return other if other.taken else Outcome.refused(error.one_line())
            return self._marked(named, x, y)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())

    def put_back(self) -> Outcome:
        """Take the last change of the board back."""
        outcome = self.desk.put_back()
        self.selected = min(self.selected, max(len(self.photos) - 1, 0))
        return outcome

    def pointed(self, x: float, y: float) -> bool:
        """Choose the point under a click; whether there is one. Raises BoardFileError."""
        photos = self.photos
        if not photos:
            return False
        near = sorted(
            (abs(spot.x - x) + abs(spot.y - y), spot.at) for spot in photos[self.selected].spots
        )
        self.chosen = near[0][1] if near and near[0][0] <= HIT else ""
        return bool(self.chosen)

    def facts(self) -> SpotFacts:
        """What is known at the chosen point. Raises BoardFileError."""
        if not self.chosen:
            return SpotFacts()
        board = self.desk.board()
        found = pin_at(board, self.chosen)
        part = part_at(board, self.chosen)
        if found:
            return SpotFacts(spot_words(board, self.chosen), _of_pin(board, *found))
        if not part:
            gone = "This board has no such part or pin any more: drop it, or mark it anew."
            return SpotFacts(self.chosen, (("", (gone,)),))
        component = board.component(part)
        history = self.desk.ended_at(part)
        away = self.desk.failed_elsewhere()[part]
        history += [f"failed {away}× at other shops"] if away else []
        lines = (
            ("", (where_to_look(board, component),)),
            ("Probes", _probe_lines(board, [p for p in probes_of(board) if p.part == part])),
            ("Failed before", tuple(history)),
        )
        return SpotFacts(
            spot_words(board, self.chosen), tuple((head, said) for head, said in lines if any(said))
        )

    # ---- changes ---------------------------------------------------------------------------

    def _own(self) -> OwnBoardFile:
        own = self.desk.own_file()
        if own is None:
            raise BoardFileError(
                f"{self.desk.board_id} ships with the program: it has no photographs of its own.",
                "Take your board in under its own number, then add them.",
            )
        return own

    def _with(self, one: BoardPhoto, words: str) -> Outcome:
        own = self._own()
        photos = list(own.photos)
        photos[self.selected] = one
        return self.desk.change(msgspec.structs.replace(own, photos=photos), words)

    def _front(self) -> BoardPhoto:
        photos = self.photos
        if not photos:
            raise BoardFileError("There is no photograph of this board yet.", "Add one with F5.")
        return photos[self.selected]

    def _marked(self, at: str, x: float, y: float) -> Outcome:
        one = with_spot(self._front(), Spot(round(x, 4), round(y, 4), at))
        outcome = self._with(one, f"{at} is marked on a photograph")
        if outcome.taken:
            self.chosen = at
        return outcome

    def _without(self, text: str) -> Outcome:
        one, board = self._front(), self.desk.board()
        wanted = next((s.at for s in one.spots if s.at.upper() == text.upper()), "")
        wanted = wanted or spot_named(board, text)
        left = [s for s in one.spots if s.at != wanted and part_at(board, s.at) != wanted]
        if len(left) == len(one.spots):
            return Outcome.refused(f"{wanted} is not marked on this photograph.")
        self.chosen = ""
        fewer = msgspec.structs.replace(one, spots=left)
        return self._with(fewer, f"{wanted} is no longer marked on a photograph")

    def _without_photo(self) -> Outcome:
        self._front()
        own = self._own()
        photos = [one for number, one in enumerate(own.photos) if number != self.selected]
        self.selected, self.chosen = min(self.selected, max(len(photos) - 1, 0)), ""
        changed = msgspec.structs.replace(own, photos=photos)
        return self.desk.change(changed, "a photograph is taken out")

    def _called(self, words: str) -> Outcome:
        one = msgspec.structs.replace(self._front(), caption=words)
        return self._with(one, f"a photograph is called {words}")


def _first_named(board: Board, words: str) -> str:
    """The part or pin that the words of a point begin with, such as `C21 domed`; empty for none."""
    for said in (words, words.partition(" ")[0]):
        try:
            return spot_named(board, said)
        except BoardFileError:
            continue  # the next shorter words may name one
    return ""


def spot_words(board: Board, at: str) -> str:
    """A point by the names of today: `C952, 12 V reservoir`, `CN8 pin 7, 5VSB`."""
    found = pin_at(board, at)
    if found:
        plug, pin = found
        return f"{plug.ref} pin {pin.number}{f', {pin.label}' if pin.label else ''}"
    part = part_at(board, at)
    job = job_words(board.component(part)) if part else ""
    return f"{part or at}{f', {job}' if job else ''}"


def _of_pin(board: Board, plug: Connector, pin: Pin) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """What stands at a pin, and what is read there."""
    rail = next((one for one in board.rails if one.net == pin.net), None)
    stands: tuple[str, ...] = ()
    if pin.net == board.cold_ground:
        stands = ("ground of the cold side: black goes here",)
    elif rail is not None:
        standby, on = rail_volts(board, rail)
        stands = (f"standby {standby or 'not known'}, on {on or 'not known'}",)
    probes = [one for one in probes_of(board) if one.plus == pin.net and one.live and one.meter]
    lines = (("", stands), ("Probes", _probe_lines(board, probes)))
    return tuple((head, said) for head, said in lines if said)


def _probe_lines(board: Board, probes: list[Probe]) -> tuple[str, ...]:
    """Probes in words, each with what sound boards of this number read there."""
    said = []
    for probe in [one for one in probes if not one.lifted][:MOST_PROBES]:
        what = probe.what or probe.title
        mode = "" if probe.mode.label in what else f" ({probe.mode.label})"
        said.append(f"{what}{mode}{_normed(board, probe)}")
    return tuple(said)


def _normed(board: Board, probe: Probe) -> str:
    values = sorted(
        value
        for key, read in board.norms.items()
        if key.partition("@")[0] == probe.id
        for value in read
    )
    if not values:
        return ""
    if values[0] == values[-1]:
        words = engineering(values[0], probe.unit)
    else:
        words = span(values[0], values[-1], probe.unit, 3)
    boards = f"{len(values)} sound board{'s' if len(values) != 1 else ''}"
    return f": {words} on {boards}"
