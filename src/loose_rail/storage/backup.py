"""Copies of a shop by the database's own online copy: whole, also while the shop is open.

A plain copy of an open shop is not: what was written last still stands in the log beside it.
"""

from __future__ import annotations

import os
import sqlite3
from contextlib import closing
from pathlib import Path

from loose_rail.kernel.errors import StoreDamagedError, StoreError, StoreReadOnlyError
from loose_rail.kernel.files import PRIVATE_FILE, make_private, sync_folder
from loose_rail.storage.places import places_of

KEPT_DAYS = 7
PREFIX = "shop-"
BUSY_SECONDS = 5.0


def copy_of(raw: sqlite3.Connection, target: Path) -> None:
    """Copy an open database into a file in one move. Raises sqlite3.Error and OSError."""
    waiting = target.with_name(f".{target.name}.{os.getpid()}.partial")
    waiting.unlink(missing_ok=True)
    os.close(os.open(waiting, os.O_WRONLY | os.O_CREAT, PRIVATE_FILE))
    try:
        with closing(sqlite3.connect(waiting)) as copy:
            raw.backup(copy)
        with waiting.open("rb+") as file:
            os.fsync(file.fileno())
        waiting.replace(target)
    except (sqlite3.Error, OSError):
        waiting.unlink(missing_ok=True)
        raise
    sync_folder(target.parent)


def _read_only(database: Path) -> sqlite3.Connection:
    return sqlite3.connect(f"{database.resolve().as_uri()}?mode=ro", uri=True)


def back_up(database: Path, target: Path) -> None:
    """Copy a shop into a file, also while it is open. Raises StoreError with what to do."""
    try:
        with closing(_read_only(database)) as raw:
            raw.execute(f"PRAGMA busy_timeout={int(1000 * BUSY_SECONDS)}")
            copy_of(raw, target)
    except OSError as error:
        raise StoreReadOnlyError(
            f"{target} can't be written: {error.strerror}.", "Choose another place, or make room."
        ) from error
    except sqlite3.Error as error:
        raise StoreError(
            f"{database} can't be copied: {error}.", "Try again in a moment."
        ) from error


def problems_of(database: Path) -> list[str]:
    """What the database's own check finds wrong in its file; nothing for a sound one. Slow for a
    large shop: not on the main thread. Raises StoreDamagedError where it can't even be asked."""
    try:
        with closing(_read_only(database)) as raw:
            rows = raw.execute("PRAGMA integrity_check(5)").fetchall()
    except sqlite3.Error as error:
        raise StoreDamagedError(
            f"{database} is damaged: {error}.", "A copy of each day lies in its folder backups."
        ) from error
    return [str(row[0]) for row in rows if row[0] != "ok"]


def daily_backup(database: Path, day: str) -> str:
    """Check the shop and keep a copy of the day (an ISO date), the last seven days each once; what
    is damaged does not push out what is whole. Returns what is wrong, empty where nothing is.

    Slow for a large shop: not on the main thread. Raises StoreError.
    """
    wrong = problems_of(database)
    folder = places_of(database).backups
    if wrong:
        return (
            f"The shop's file is damaged ({wrong[0]}). Jobs that can be read open as ever. No copy "
            f"was made of it today; older ones lie in {folder}."
        )
    target = folder / f"{PREFIX}{day}.sqlite"
    try:
        make_private(folder)
    except OSError as error:
        raise StoreReadOnlyError(
            f"{folder} can't be made: {error.strerror}.", "Make room, or change its rights."
        ) from error
    if not target.exists():
        back_up(database, target)
        for old in sorted(folder.glob(f"{PREFIX}*.sqlite"))[:-KEPT_DAYS]:
            old.unlink(missing_ok=True)
    return ""
