"""Bringing an older database up to date: copied first, then changed in one transaction.

Version 2 gives every event a checksum; the events themselves stay as they are.
"""

from __future__ import annotations

import sqlite3
from pathlib import Path

from loose_rail.kernel.files import make_private
from loose_rail.storage.backup import copy_of
from loose_rail.storage.checksum import FIELDS, checksum_of
from loose_rail.storage.places import places_of

SCHEMA_VERSION = 2


def migrate(raw: sqlite3.Connection, path: Path) -> None:
    """Bring a database of this program to the newest version. Raises sqlite3.Error and OSError;
    then the database is as it was."""
    version = raw.execute("PRAGMA user_version").fetchone()[0]
    tables = raw.execute("SELECT count(*) FROM sqlite_master WHERE name = 'events'").fetchone()[0]
    if not tables or version >= SCHEMA_VERSION:
        return
    folder = places_of(path).backups
    make_private(folder)
    copy_of(raw, folder / f"before-version-{SCHEMA_VERSION}.sqlite")
    raw.execute("BEGIN IMMEDIATE")
    try:
        raw.execute("ALTER TABLE events ADD COLUMN checksum VARCHAR(16) NOT NULL DEFAULT ''")
        rows = raw.execute(f"SELECT {', '.join(FIELDS)} FROM events").fetchall()
        for row in rows:
            named = dict(zip(FIELDS, row, strict=True))
            raw.execute(
                "UPDATE events SET checksum = ? WHERE job = ? AND sequence = ?",
                (checksum_of(named), named["job"], named["sequence"]),
            )
        raw.execute(f"PRAGMA user_version={SCHEMA_VERSION}")
        raw.execute("COMMIT")
    except sqlite3.Error:
        raw.execute("ROLLBACK")
        raise
