"""Pictures into the shop's folder and out of it: slow, called on a worker thread."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from loose_rail.app.ports import Photos
from loose_rail.kernel.errors import PhotoError
from loose_rail.kernel.files import LARGEST_PHOTO, read_bounded

Kept = tuple[list[tuple[str, str]], list[str]]
"""What a worker brings back: (digest, file name) of what was kept, and what was refused."""


class KeptPictures:
    """The folder of photographs as an album uses it; None where the shop has none."""

    def __init__(self, folder: Photos | None) -> None:
        self._folder = folder

    def keep_files(self, paths: Sequence[Path]) -> Kept:
        """Read files and keep what are pictures."""
        kept: list[tuple[str, str]] = []
        refused: list[str] = []
        for path in paths:
            try:
                kept.append((self._kept(read_bounded(path, LARGEST_PHOTO), path.name), path.stem))
            except PhotoError as error:
                refused.append(error.one_line())
            except OSError as error:
                refused.append(f"{path.name} can't be read: {error.strerror}.")
        return kept, refused

    def keep_bytes(self, data: bytes, name: str) -> Kept:
        """Keep a picture from the clipboard."""
        try:
            return [(self._kept(data, name), name)], []
        except PhotoError as error:
            return [], [error.one_line()]

    def picture(self, photo: str, small: bool) -> Path:
        """The file of a photograph or of its thumbnail. Raises PhotoError."""
        folder = self._folder_here()
        return folder.thumbnail(photo) if small else folder.path(photo)

    def _kept(self, data: bytes, name: str) -> str:
        return self._folder_here().add(data, name)

    def _folder_here(self) -> Photos:
        if self._folder is None:
            raise PhotoError("This shop has no folder for photographs.", "Open it from a file.")
        return self._folder
