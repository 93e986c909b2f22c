"""Photographs of an own board, and the points on them: a part or a pin where it is seen.

A point keeps the name that was said; a part that has got its designator since is found under it
(`Board.earlier_names`).
"""

from __future__ import annotations

import re
from collections.abc import Sequence

import msgspec

from loose_rail.boards.own.binding import place_named
from loose_rail.boards.profile import Board, Connector, Pin
from loose_rail.kernel.errors import BoardFileError

_DIGEST = re.compile(r"^[0-9a-f]{64}$")
_PIN = re.compile(r"^(\S+?)\s*(?:/|\s+pin\s+|\s+)\s*(\S+)$", re.IGNORECASE)
NEAR = 0.02
"""Two points closer than this share of the picture's width are one: the later says what is there
[E]."""


class Spot(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A point of a photograph, in shares of its width and height, and what is there: a part's name,
    or a connector and a pin (`CN8/7`)."""

    x: float
    y: float
    at: str


class BoardPhoto(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A photograph by the SHA-256 of its file, what it shows, and its points."""

    photo: str
    caption: str = ""
    spots: list[Spot] = []


def checked_photos(photos: Sequence[BoardPhoto]) -> None:
    """Raises BoardFileError where a photograph or one of its points can't be."""
    for one in photos:
        if not _DIGEST.match(one.photo):
            raise BoardFileError(
                f"“{one.photo[:16]}” is no photograph's SHA-256.", "Add the picture itself again."
            )
        for spot in one.spots:
            if not (0.0 <= spot.x <= 1.0 and 0.0 <= spot.y <= 1.0):
                raise BoardFileError(
                    f"The point of {spot.at} lies outside its photograph.",
                    "x and y are shares of width and height, 0 to 1.",
                )


def spot_named(board: Board, text: str) -> str:
    """What a typed text names on this board: `CN8/7` for a pin, else a part. Raises BoardFileError
    with what to type instead."""
    found = _pin_named(board, text.strip())
    return found or place_named(board, text.strip())


def _pin_named(board: Board, text: str) -> str:
    said = _PIN.match(text)
    for plug in board.connectors:
        if said and said[1].upper() == plug.ref.upper():
            return _on_plug(plug, said[2])
    labelled = [
        f"{plug.ref}/{pin.number}"
        for plug in board.connectors
        for pin in plug.pins
        if pin.label and pin.label.upper() == text.upper()
    ]
    return labelled[0] if len(labelled) == 1 else ""


def _on_plug(plug: Connector, said: str) -> str:
    pins = [
        pin for pin in plug.pins if str(pin.number) == said or pin.label.upper() == said.upper()
    ]
    if not pins:
        raise BoardFileError(
            f"{plug.ref} has no pin “{said}”.", f"It has pins 1 to {len(plug.pins)}: {plug.ref}/7."
        )
    return f"{plug.ref}/{pins[0].number}"


def pin_at(board: Board, at: str) -> tuple[Connector, Pin] | None:
    """The pin that a point names; None where it names a part, or one that is no longer there."""
    ref, _, number = at.partition("/")
    for plug in board.connectors:
        for pin in plug.pins:
            if plug.ref == ref and str(pin.number) == number:
                return plug, pin
    return None


def part_at(board: Board, at: str) -> str:
    """The part that a point names, by the name it has now; empty where there is none."""
    name = board.earlier_names.get(at, at)
    return name if any(part.ref == name for part in board.components) else ""


def with_photo(photos: Sequence[BoardPhoto], photo: str, caption: str) -> list[BoardPhoto]:
    """One photograph more, at the end; the same ones where it is there already."""
    if any(one.photo == photo for one in photos):
        return list(photos)
    return [*photos, BoardPhoto(photo, caption)]


def with_spot(one: BoardPhoto, spot: Spot) -> BoardPhoto:
    """The photograph with one more point; one of the same name moves there, one that lies under it
    goes."""
    kept = [
        old
        for old in one.spots
        if old.at != spot.at and (abs(old.x - spot.x) > NEAR or abs(old.y - spot.y) > NEAR)
    ]
    return msgspec.structs.replace(one, spots=[*kept, spot])


def both(ours: Sequence[BoardPhoto], theirs: Sequence[BoardPhoto]) -> list[BoardPhoto]:
    """The photographs of two files: ours first; on one that both have, their points that ours does
    not name."""
    by_photo = {one.photo: one for one in theirs}
    found = []
    for one in ours:
        named = {spot.at for spot in one.spots}
        more = by_photo.pop(one.photo, BoardPhoto(one.photo))
        fresh = [spot for spot in more.spots if spot.at not in named]
        caption = one.caption or more.caption
        found.append(BoardPhoto(one.photo, caption, [*one.spots, *fresh]))
    return [*found, *by_photo.values()]
