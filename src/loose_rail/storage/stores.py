"""The stores of a shop in one JSON file beside its database."""

from __future__ import annotations

from pathlib import Path

from loose_rail.app.stores.desk import StoresDesk
from loose_rail.app.stores.stock import SCHEMA, Stores
from loose_rail.kernel.errors import StoreError, StoreReadOnlyError
from loose_rail.kernel.files import LARGEST_BOARD
from loose_rail.storage.kept_file import read_kept, write_kept


class StoresFile:
    """Reads and writes them."""

    def __init__(self, path: Path) -> None:
        self.path = path

    def read(self) -> Stores:
        """The stores; empty where there are none yet. Raises StoreError for a damaged file, which
        is then kept under another name, and StoreReadOnlyError for one of a newer program."""
        found = read_kept(self.path, Stores, LARGEST_BOARD, "the stores")
        if found.schema != SCHEMA:
            raise StoreReadOnlyError(
                f"{self.path.name} is of the kind {found.schema}.",
                "Open it with the program that wrote it; nothing was changed.",
            )
        return found

    def write(self, stores: Stores) -> None:
        """Keep them. Raises StoreReadOnlyError."""
        write_kept(self.path, stores)


def opened_stores(file: StoresFile) -> StoresDesk:
    """The stores to be worked with; over a file that can't be read nothing is written."""
    try:
        return StoresDesk(file.read(), file.write)
    except StoreReadOnlyError as error:
        told = error

        def refuse(stores: Stores) -> None:
            raise told

        return StoresDesk(Stores(), refuse, error.one_line())
    except StoreError as error:
        return StoresDesk(Stores(), file.write, error.one_line())
