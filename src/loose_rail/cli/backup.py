"""`loose-rail backup FILE`: a whole copy of the shop, also while a window has it open."""

from __future__ import annotations

import argparse
import sys

from loose_rail.kernel.errors import UsageError
from loose_rail.storage.backup import back_up
from loose_rail.storage.places import default_store


def backup(options: argparse.Namespace) -> int:
    """Copy the database. Raises UsageError and StoreError with what to do."""
    database = options.data or default_store()
    if not database.is_file():
        raise UsageError(f"There is no shop at {database}.", "Name its database with --data.")
    if options.file.exists():
        raise UsageError(f"{options.file} is there already.", "Name another file.")
    back_up(database, options.file)
    sys.stdout.write(
        f"Copied to {options.file}. Photographs and own boards lie beside the shop and are plain "
        "files.\n"
    )
    return 0
