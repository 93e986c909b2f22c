"""A shop as its shelf needs it: database and settings, opened without the rooms that compute.

The window shows the shelf from this; `bootstrap.Workplace` grows around it while the person looks.
"""

from __future__ import annotations

import tempfile
from dataclasses import dataclass
from pathlib import Path

from loose_rail.app.settings import Settings
from loose_rail.kernel.errors import StoreError
from loose_rail.screens.shelf.present import found_state, shelf_state
from loose_rail.screens.shelf.state import ShelfState
from loose_rail.storage.backup import daily_backup
from loose_rail.storage.find import WORD, Finder
from loose_rail.storage.places import STORE_NAME, default_store, places_of, take_over
from loose_rail.storage.settings import SettingsFile
from loose_rail.storage.store import SqliteStore


@dataclass(frozen=True, slots=True)
class Options:
    """How the program was started. `data` is the user's choice of a database file."""

    demo: bool = False
    data: Path | None = None
    meter: str = ""
    quick_meter: bool = False
    second_meter: str = ""


class Shop:
    """An open shop: its store, its settings, and the shelf. Raises StoreError where it can't open;
    smaller troubles are told in `problem`."""

    def __init__(self, options: Options) -> None:
        self.options = options
        self._temporary: tempfile.TemporaryDirectory[str] | None = None
        self.title = "Your shop"
        self.problem = ""
        path = self._store_path()
        self._take_over(path)
        self.store = SqliteStore(path)
        self.places = places_of(path)
        self._finder = Finder(self.store)
        self._settings_file = SettingsFile(self.places.settings)
        self.settings = self._read_settings()

    def _store_path(self) -> Path:
        if self.options.demo and self.options.data is None:
            self._temporary = tempfile.TemporaryDirectory(prefix="loose-rail-demo-")
            return Path(self._temporary.name) / STORE_NAME
        return self.options.data or default_store()

    def _take_over(self, path: Path) -> None:
        try:
            take_over(path)
        except OSError as error:
            self.trouble(f"What lay beside {path} can't be copied: {error.strerror}.")

    def trouble(self, words: str) -> None:
        """One more thing to tell once the window is there; the shop opens all the same."""
        self.problem = f"{self.problem} {words}".strip()

    def _read_settings(self) -> Settings:
        try:
            return self._settings_file.read()
        except StoreError as error:
            self.trouble(error.one_line())
            return Settings()

    def write_settings(self, settings: Settings) -> None:
        """Kept first, used then. Raises StoreReadOnlyError."""
        self._settings_file.write(settings)
        self.settings = settings

    def shelf(self) -> ShelfState:
        """The shelf as it is now."""
        return shelf_state(self.title, self.store.jobs())

    def find(self, text: str) -> ShelfState:
        """The jobs in which words stand; the whole shelf for no words."""
        if not WORD.search(text):
            return self.shelf()
        hits = [(hit.job, hit.snippet) for hit in self._finder.find(text)]
        return found_state(self.shelf(), text.strip(), hits)

    def check_and_back_up(self, day: str) -> str:
        """Check the shop's file and keep a copy of the day; what is wrong, empty where nothing is.
        Slow for a large shop: on a worker thread. Raises StoreError."""
        return daily_backup(self.store.path, day)

    def close(self) -> None:
        """Let go of the database; the demo's copy is thrown away."""
        self._finder.close()
        self.store.close()
        if self._temporary is not None:
            self._temporary.cleanup()
