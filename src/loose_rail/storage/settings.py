"""The settings of a shop in one JSON file."""

from __future__ import annotations

from pathlib import Path

from loose_rail.app.settings import Settings
from loose_rail.kernel.files import LARGEST_SMALL_FILE
from loose_rail.storage.kept_file import read_kept, write_kept


class SettingsFile:
    """The settings beside a database."""

    def __init__(self, path: Path) -> None:
        self.path = path

    def read(self) -> Settings:
        """The settings; the defaults where there are none. Raises StoreError for a damaged file,
        which is then kept under another name."""
        return read_kept(self.path, Settings, LARGEST_SMALL_FILE, "the settings")

    def write(self, settings: Settings) -> None:
        """Keep the settings. Raises StoreReadOnlyError."""
        write_kept(self.path, settings)
