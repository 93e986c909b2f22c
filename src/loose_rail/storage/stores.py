"""The stores of a shop in one JSON file beside its database.

Written in one move; a damaged file is kept under another name and told, never silently replaced.
"""

from __future__ import annotations

from pathlib import Path

import msgspec

from loose_rail.app.stores.desk import StoresDesk
from loose_rail.app.stores.stock import SCHEMA, Stores
from loose_rail.kernel.errors import StoreError, StoreReadOnlyError
from loose_rail.kernel.files import LARGEST_BOARD, make_private, read_bounded, write_durably
from loose_rail.storage.settings import free_name


class StoresFile:
    """Reads and writes them."""

    def __init__(self, path: Path) -> None:
        self.path = path

    def read(self) -> Stores:
        """The stores; empty where there are none yet. Raises StoreError for a damaged file, which
        is then kept under another name."""
        try:
            found = msgspec.json.decode(read_bounded(self.path, LARGEST_BOARD), type=Stores)
        except FileNotFoundError:
            return Stores()
        except OSError as error:
            raise StoreReadOnlyError(
                f"{self.path} can't be read: {error.strerror}.", "It is left as it is."
            ) from error
        except (msgspec.MsgspecError, ValueError, RecursionError) as error:
            kept = free_name(self.path)
            try:
                self.path.replace(kept)
            except OSError as moving:
                raise StoreReadOnlyError(f"{self.path} can't be moved: {moving}.") from moving
            raise StoreError(
                f"{self.path.name} can't be read: {error}.",
                f"It was kept as {kept.name}; the stores start afresh.",
            ) from error
        if found.schema != SCHEMA:
            raise StoreReadOnlyError(
                f"{self.path.name} is of the kind {found.schema}.",
                "Open it with the program that wrote it; nothing was changed.",
            )
        return found

    def write(self, stores: Stores) -> None:
        """Keep them. Raises StoreReadOnlyError."""
        try:
            make_private(self.path.parent)
            write_durably(self.path, msgspec.json.format(msgspec.json.encode(stores), indent=1))
        except OSError as error:
            raise StoreReadOnlyError(
                f"{self.path} can't be written: {error.strerror}.", "Check its folder."
            ) from error


def opened_stores(file: StoresFile) -> StoresDesk:
    """The stores to be worked with; `trouble` says what is wrong with their file."""
    try:
        return StoresDesk(file.read(), file.write)
    except StoreReadOnlyError as error:
        told = error

        def refuse(stores: Stores) -> None:
            raise told

        return StoresDesk(Stores(), refuse, error.one_line())
    except StoreError as error:
        return StoresDesk(Stores(), file.write, error.one_line())
