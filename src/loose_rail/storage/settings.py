"""What the person chose for this shop: meters, what they lack, foot switch, sounds. One JSON file.

Written in one move; a damaged file is kept beside a fresh one and told, never silently replaced.
"""

from __future__ import annotations

import os
from pathlib import Path

import msgspec

from loose_rail.kernel.errors import StoreError, StoreReadOnlyError


class Settings(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """`meter` and `second_meter` are VISA addresses; `foot_key` names a key such as F10; `lacks`
    names the meter settings that nothing on this bench has."""

    meter: str = ""
    second_meter: str = ""
    foot_key: str = "F10"
    tones: bool = True
    speech: bool = False
    lacks: tuple[str, ...] = ()


class SettingsFile:
    """The settings beside a database."""

    def __init__(self, path: Path) -> None:
        self.path = path

    def read(self) -> Settings:
        """The settings; the defaults where there are none. Raises StoreError for a damaged file,
        which is then kept under another name."""
        try:
            return msgspec.json.decode(self.path.read_bytes(), type=Settings)
        except FileNotFoundError:
            return Settings()
        except (msgspec.MsgspecError, OSError) as error:
            kept = self.path.with_suffix(".damaged.json")
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
        partial = self.path.with_suffix(f".{os.getpid()}.partial")
        try:
            partial.write_bytes(msgspec.json.format(msgspec.json.encode(settings), indent=1))
            partial.replace(self.path)
        except OSError as error:
            raise StoreReadOnlyError(
                f"{self.path} can't be written: {error.strerror}.", "Check its folder."
            ) from error
