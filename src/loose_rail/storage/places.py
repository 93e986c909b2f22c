"""Where the things of a shop lie beside its database.

The shop of the user's data directory has that directory for itself. A database that was named with
--data may lie among files of other programs: its things go into a folder of its own beside it, and
nothing else there is read, moved or changed.
"""

from __future__ import annotations

import re
import shutil
from dataclasses import dataclass
from pathlib import Path

import msgspec
import platformdirs

from loose_rail.kernel.files import LARGEST_BOARD, make_private, read_bounded

APP = "loose-rail"
STORE_NAME, SETTINGS_NAME = "shop.sqlite", "settings.json"
_PHOTO = re.compile(r"[0-9a-f]{64}\.(jpg|png)")
_OURS = {"boards": "loose-rail/board/1", "meters": "loose-rail/meter/1"}


@dataclass(frozen=True, slots=True)
class ShopPlaces:
    """A shop's folder and what lies in it."""

    folder: Path

    @property
    def settings(self) -> Path:
        """What the person chose for this shop: the user's own shop has it in the configuration
        directory, a shop in a file of its own takes it along."""
        if self.folder == default_store().parent:
            return platformdirs.user_config_path(APP) / SETTINGS_NAME
        return self.folder / SETTINGS_NAME

    @property
    def boards(self) -> Path:
        """Own board profiles."""
        return self.folder / "boards"

    @property
    def photos(self) -> Path:
        """Photographs by content."""
        return self.folder / "photos"

    @property
    def stores(self) -> Path:
        """What lies in the drawers, price lists, orders."""
        return self.folder / "stores.json"

    @property
    def meters(self) -> Path:
        """Own meter profiles."""
        return self.folder / "meters"

    @property
    def backups(self) -> Path:
        """Copies of the database, one a day."""
        return self.folder / "backups"

    @property
    def unsaved(self) -> Path:
        """Work that could not be written into the database before the program ended."""
        return self.folder / "unsaved"


def window_state_path() -> Path:
    """How the window stood: lost without harm (Base Directory Specification: state)."""
    return platformdirs.user_state_path(APP) / "window.json"


def log_path() -> Path:
    """Where unexpected errors are noted."""
    return platformdirs.user_log_path(APP) / "loose-rail.log"


def default_store() -> Path:
    """The user's own shop."""
    return platformdirs.user_data_path(APP) / STORE_NAME


def places_of(database: Path) -> ShopPlaces:
    """The places of a shop by its database."""
    if database == default_store():
        return ShopPlaces(database.parent)
    return ShopPlaces(database.with_name(f"{database.name}.d"))


def take_over(database: Path) -> None:
    """What earlier versions laid right beside a named database and what is certainly ours is copied
    into the shop's own folder, once; the old files stay where they are. Raises OSError."""
    places, beside = places_of(database), database.parent
    if places.folder == beside:
        _settings_to_their_place(places)
        return
    if places.folder.exists() or not database.exists():
        return
    found = [path for path in (beside / "photos").glob("*") if _PHOTO.fullmatch(path.name)]
    found += [path for name in _OURS for path in (beside / name).glob("*.json") if _is_ours(path)]
    for path in found:
        target = places.folder / path.parent.name
        make_private(target)
        shutil.copy2(path, target / path.name)


def _settings_to_their_place(places: ShopPlaces) -> None:
    """Settings that an earlier version kept beside the user's own database."""
    before = places.folder / SETTINGS_NAME
    if before.exists() and not places.settings.exists():
        make_private(places.settings.parent)
        before.replace(places.settings)


def _is_ours(path: Path) -> bool:
    """Whether a profile says by its schema that it is one of ours."""
    try:
        head = msgspec.json.decode(read_bounded(path, LARGEST_BOARD))
    except (ValueError, RecursionError, OSError):
        return False  # left where it is: nothing of it is touched
    return isinstance(head, dict) and head.get("schema") == _OURS[path.parent.name]
