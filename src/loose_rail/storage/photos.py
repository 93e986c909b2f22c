"""Photographs beside the shop's database: stored by content, upright, without place or owner.

A file's name is the SHA-256 of its bytes, so that the same photograph is kept once and a changed
one can't go unseen. What a camera writes beside the picture (place, time, owner, rotation) is
applied or dropped on the way in: a photograph may be handed on. JPEG, PNG, WebP and BMP are read;
HEIC needs a licensed decoder and is refused with what to do. Thumbnails are made when asked for,
which may take a tenth of a second: not on the main thread.
"""

from __future__ import annotations

import hashlib
import io
from pathlib import Path

from PIL import Image, ImageOps, UnidentifiedImageError

from loose_rail.kernel.errors import PhotoError
from loose_rail.kernel.files import LARGEST_PHOTO, make_private, write_durably

MOST_PIXELS, MOST_PIXELS_OF_JPEG = 40_000_000, 100_000_000
"""So that a picture takes less than 300 MB while it is read; JPEG is read smaller at once [E].
"""
LONGEST_SIDE = 5000
"""Pixels kept: a designator of 1 mm on a board of 0.3 m then has 16 [E]."""
THUMBNAIL_SIDE = 240
JPEG_QUALITY = 92
HEIC_BRANDS = (b"heic", b"heix", b"hevc", b"mif1", b"msf1", b"heim", b"avif")
READABLE = ("JPEG", "PNG", "WEBP", "BMP")
DAMAGED_HINT = "Copy it from the camera again; the file was left as it is."


class PhotoFolder:
    """The folder of photographs of a shop; made when the first one comes."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def add(self, data: bytes, name: str = "the picture") -> str:
        """Keep a photograph; returns its digest. Raises PhotoError with what to do."""
        picture = upright(data, name)
        made = io.BytesIO()
        if picture.format_kept == "PNG":
            picture.image.save(made, "PNG", optimize=False)
        else:
            picture.image.convert("RGB").save(made, "JPEG", quality=JPEG_QUALITY)
        kept = made.getvalue()
        digest = _digest(kept)
        ending = ".png" if picture.format_kept == "PNG" else ".jpg"
        try:
            make_private(self.folder)
            target = self.folder / f"{digest}{ending}"
            if not target.exists() or _digest(target.read_bytes()) != digest:
                write_durably(target, kept)  # a damaged one heals
        except OSError as error:
            raise PhotoError(
                f"{name} can't be kept: {error.strerror}.", "Check the disk and its rights."
            ) from error
        return digest

    def take_over(self, digest: str, data: bytes) -> None:
        """Keep a photograph of another shop as it is: it was made upright and bare there. Raises
        PhotoError where it is no picture or not the one that it is called."""
        picture = upright(data, f"The photograph {digest[:8]}")
        if _digest(data) != digest:
            raise PhotoError(f"The photograph {digest[:8]} is another one.", DAMAGED_HINT)
        ending = ".png" if picture.format_kept == "PNG" else ".jpg"
        try:
            make_private(self.folder)
            write_durably(self.folder / f"{digest}{ending}", data)
        except OSError as error:
            raise PhotoError(
                f"It can't be kept: {error.strerror}.", "Check the disk and its rights."
            ) from error

    def path(self, digest: str) -> Path:
        """The file of a photograph. Raises PhotoError where it is gone or no longer the same."""
        for ending in (".jpg", ".png"):
            found = self.folder / f"{digest}{ending}"
            if found.exists():
                if _digest(found.read_bytes()) != digest:
                    raise PhotoError(
                        f"The photograph {digest[:8]} was changed on the disk.",
                        "Add the same picture again, or put the file back from a copy.",
                    )
                return found
        raise PhotoError(
            f"The photograph {digest[:8]} is not in {self.folder}.",
            "Put the folder of photographs back beside the database.",
        )

    def thumbnail(self, digest: str) -> Path:
        """A small picture, made once. Raises PhotoError as `path` does."""
        small = self.folder / "small" / f"{digest}.jpg"
        if small.exists():
            return small
        source = self.path(digest)
        try:
            make_private(small.parent)
            with Image.open(source) as image:
                image.thumbnail((THUMBNAIL_SIDE, THUMBNAIL_SIDE))
                waiting = small.with_suffix(".part")
                image.convert("RGB").save(waiting, "JPEG", quality=85)
                waiting.replace(small)
        except OSError as error:
            raise PhotoError(f"{source} can't be read: {error}.", DAMAGED_HINT) from error
        return small


def _digest(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


class _Upright:
    def __init__(self, image: Image.Image, format_kept: str) -> None:
        self.image = image
        self.format_kept = format_kept


def upright(data: bytes, name: str) -> _Upright:
    """The picture turned as the camera was held, with nothing beside its pixels.

    Raises PhotoError for HEIC, for what is no picture, a damaged or an enormous one.
    """
    if data[4:8] == b"ftyp" and data[8:12] in HEIC_BRANDS:
        raise PhotoError(
            f"{name} is a HEIC photograph, which can't be read here.",
            "Set the camera to JPEG (“most compatible”), or save this one as JPEG.",
        )
    if len(data) > LARGEST_PHOTO:
        raise PhotoError(f"{name} has {len(data) // 1_000_000} MB.", "Save it smaller, as JPEG.")
    try:
        with Image.open(io.BytesIO(data)) as source:
            if source.format not in READABLE:
                raise PhotoError(f"{name} is a {source.format} file.", "Save it as JPEG or PNG.")
            is_jpeg = source.format == "JPEG"
            if source.width * source.height > (MOST_PIXELS_OF_JPEG if is_jpeg else MOST_PIXELS):
                raise PhotoError(
                    f"{name} has {source.width} × {source.height} pixels.", "Save it smaller."
                )
            if is_jpeg:
                source.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
            kept = "PNG" if source.format == "PNG" else "JPEG"
            if max(source.size) > LONGEST_SIDE:
                source.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
            source.load()
            turned = ImageOps.exif_transpose(source)
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, EOFError) as error:
        raise PhotoError(f"{name} is damaged or no picture: {error}.", DAMAGED_HINT) from error
    except (Image.DecompressionBombError, MemoryError) as error:
        raise PhotoError(f"{name} is too large: {error}.", "Save it smaller.") from error
    if turned.mode == "P":
        turned = turned.convert("RGBA")
    bare = Image.frombuffer(turned.mode, turned.size, turned.tobytes())
    return _Upright(bare, kept)
