"""A board as one file for another shop: with its photographs, and what failed on it here.

A shop is told by a mark of chance letters, made once, which says nothing of who it is; the same
shop's later file replaces its counts instead of adding to them.
"""

from __future__ import annotations

import base64
import binascii
import secrets
from collections.abc import Mapping, Sequence
from pathlib import Path

import msgspec

from loose_rail.boards.own.file import OwnBoardFile
from loose_rail.boards.own.photographs import BoardPhoto
from loose_rail.kernel.errors import BoardFileError, PhotoError
from loose_rail.kernel.files import LARGEST_SMALL_FILE, make_private, read_bounded, write_durably
from loose_rail.storage.photos import PhotoFolder

MOST_PICTURE_BYTES = 24_000_000
"""Of all pictures in a file that is handed on: some ten of a telephone [E]."""
SHOP_MARK = "shop-mark.txt"
MARK_BYTES = 6


def mark_of_shop(directory: Path) -> str:
    """The mark of this shop, made when first asked for. Raises BoardFileError."""
    path = directory / SHOP_MARK
    try:
        if path.is_file():
            return read_bounded(path, LARGEST_SMALL_FILE).decode("ascii", "replace").strip()[:32]
        made = secrets.token_hex(MARK_BYTES)
        make_private(directory)
        write_durably(path, made.encode())
    except OSError as error:
        raise BoardFileError(
            f"The shop's mark can't be kept in {directory}: {error.strerror}.",
            "Make room or change its permissions, then try again.",
        ) from error
    return made


def to_hand_on(
    own: OwnBoardFile, photos: PhotoFolder | None, mark: str, failed: Mapping[str, int]
) -> tuple[OwnBoardFile, str]:
    """The file that is handed on, and what could not go with it, empty for nothing. `failed` counts
    this shop's closed jobs by suspect."""
    counted = {shop: dict(counts) for shop, counts in own.elsewhere.items()}
    if failed:
        counted[mark] = dict(failed)
    pictures, missing = _packed(own.photos, photos)
    kept = [one for one in own.photos if one.photo in pictures]
    given = msgspec.structs.replace(own, elsewhere=counted, photos=kept, pictures=pictures)
    return given, f"left out: {'; '.join(missing)}" if missing else ""


def _packed(
    shown: Sequence[BoardPhoto], photos: PhotoFolder | None
) -> tuple[dict[str, str], list[str]]:
    pictures: dict[str, str] = {}
    missing: list[str] = []
    room = MOST_PICTURE_BYTES
    for number, one in enumerate(shown, start=1):
        name = one.caption or f"photograph {number}"
        if photos is None:
            missing.append(name)
            continue
        try:
            data = photos.path(one.photo).read_bytes()
        except (PhotoError, OSError) as error:
            said = error.message if isinstance(error, PhotoError) else str(error.strerror)
            missing.append(f"{name} ({said})")
            continue
        if len(data) > room:
            missing.append(f"{name} (the file would be too large)")
            continue
        room -= len(data)
        pictures[one.photo] = base64.b64encode(data).decode()
    return pictures, missing


def taken_in(theirs: OwnBoardFile, photos: PhotoFolder | None, mark: str) -> OwnBoardFile:
    """The file of another shop as it is kept here: its pictures in our folder, without our own
    counts. Raises BoardFileError where a picture is damaged, and PhotoError."""
    shown = []
    for one in theirs.photos:
        picture = theirs.pictures.get(one.photo)
        if picture is None or photos is None:
            continue
        try:
            photos.take_over(one.photo, base64.b64decode(picture, validate=True))
        except binascii.Error as error:
            raise BoardFileError(
                f"The photograph {one.caption or one.photo[:8]} of this file is damaged.",
                "Ask for the file again; nothing of it was taken in.",
            ) from error
        shown.append(one)
    counts = {shop: one for shop, one in theirs.elsewhere.items() if shop != mark}
    return msgspec.structs.replace(theirs, photos=shown, pictures={}, elsewhere=counts)
