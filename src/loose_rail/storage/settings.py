"""The settings of a shop in one JSON file.

Written in one move; a damaged file is kept beside a fresh one and told, never silently replaced.
"""

from __future__ import annotations

from pathlib import Path

import msgspec

from loose_rail.app.settings import Settings
from loose_rail.kernel.errors import StoreError, StoreReadOnlyError
from loose_rail.kernel.files import LARGEST_SMALL_FILE, make_private, read_bounded, write_durably


def free_name(path: Path) -> Path:
    """A name for a damaged file that none has yet: an earlier one is not overwritten."""
    number = 1
    while (kept := path.with_suffix(f".damaged-{number}.json")).exists():
        number += 1
    return kept


class SettingsFile:
    """The settings beside a database."""

    def __init__(self, path: Path) -> None:
        self.path = path

    def read(self) -> Settings:
        """The settings; the defaults where there are none. Raises StoreError for a damaged file,
        which is then kept under another name."""
        try:
            return msgspec.json.decode(read_bounded(self.path, LARGEST_SMALL_FILE), type=Settings)
        except FileNotFoundError:
            return Settings()
        except OSError as error:
            raise StoreReadOnlyError(
                f"{self.path} can't be read: {error.strerror}.",
                "It is left as it is; the settings start afresh until it can be.",
            ) from error
        except (msgspec.MsgspecError, ValueError, RecursionError) as error:
            kept = free_name(self.path)
            try:
                self.path.replace(kept)
            except OSError as moving:
                raise StoreReadOnlyError(f"{self.path} can't be moved: {moving}.") from moving
            raise StoreError(
                f"{self.path.name} can't be read: {error}.",
                f"It was kept as {kept.name}; the settings start afresh.",
            ) from error

    def write(self, settings: Settings) -> None:
        """Keep the settings. Raises StoreReadOnlyError."""
        try:
            make_private(self.path.parent)
            write_durably(self.path, msgspec.json.format(msgspec.json.encode(settings), indent=1))
        except OSError as error:
            raise StoreReadOnlyError(
                f"{self.path} can't be written: {error.strerror}.", "Check its folder."
            ) from error
