"""Jobs and their events in one SQLite file.

WAL, synchronous FULL, BEGIN IMMEDIATE: what has been accepted is on disk before the next thing is
asked. A file that can't be opened is never deleted or overwritten: the error says what to do.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from sqlalchemy import (
    Column,
    Connection,
    Integer,
    MetaData,
    String,
    Table,
    Text,
    create_engine,
    event,
    func,
    insert,
    select,
)
from sqlalchemy.exc import DatabaseError, OperationalError, SQLAlchemyError

from loose_rail.app.ports import JobSummary
from loose_rail.jobs import events as ev
from loose_rail.kernel.errors import (
    StoreDamagedError,
    StoreError,
    StoreLockedError,
    StoreNewerError,
    StoreReadOnlyError,
)

SCHEMA_VERSION = 1
APPLICATION_ID = 0x4C524149
BUSY_MILLISECONDS = 2000

_METADATA = MetaData()
_EVENTS = Table(
    "events",
    _METADATA,
    Column("job", Integer, primary_key=True),
    Column("sequence", Integer, primary_key=True),
    Column("at", String(40), nullable=False),
    Column("bench", String(80), nullable=False),
    Column("version", Integer, nullable=False),
    Column("kind", String(40), nullable=False),
    Column("payload", Text, nullable=False),
)


class SqliteStore:
    """A shop's jobs. Opening creates the file where there is none."""

    def __init__(self, path: Path, busy_milliseconds: int = BUSY_MILLISECONDS) -> None:
        self.path = path
        self._busy = busy_milliseconds
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise StoreReadOnlyError(
                f"The folder {path.parent} can't be made: {error.strerror}.",
                "Choose another place with --data.",
            ) from error
        self._engine = create_engine(f"sqlite:///{path}")
        event.listen(self._engine, "connect", self._on_connect)
        event.listen(self._engine, "begin", _on_begin)
        self._open()

    def _on_connect(self, connection: sqlite3.Connection, _record: object) -> None:
        connection.isolation_level = None
        connection.execute(f"PRAGMA busy_timeout={self._busy}")
        connection.execute("PRAGMA foreign_keys=ON")

    def _open(self) -> None:
        try:
            with self._engine.connect() as connection:
                raw: Any = connection.connection.dbapi_connection
                self._check_file(raw)
                raw.execute("PRAGMA journal_mode=WAL")
                raw.execute("PRAGMA synchronous=FULL")
            with self._engine.begin() as connection:
                self._create(connection)
        except (SQLAlchemyError, sqlite3.Error) as error:
            self.close()
            raise _explain(error, self.path) from error
        except StoreError:
            self.close()
            raise

    def _check_file(self, raw: sqlite3.Connection) -> None:
        version = raw.execute("PRAGMA user_version").fetchone()[0]
        tables = raw.execute("SELECT count(*) FROM sqlite_master").fetchone()[0]
        application = raw.execute("PRAGMA application_id").fetchone()[0]
        if tables and application != APPLICATION_ID:
            raise StoreDamagedError(
                f"{self.path} is a database of another program.", "Name another file with --data."
            )
        if version > SCHEMA_VERSION:
            raise StoreNewerError(
                f"{self.path} was written by a newer Loose Rail (version {version}; "
                f"this one reads {SCHEMA_VERSION}).",
                "Update the program; nothing was changed.",
            )

    def _create(self, connection: Connection) -> None:
        _METADATA.create_all(connection)
        connection.exec_driver_sql(f"PRAGMA application_id={APPLICATION_ID}")
        connection.exec_driver_sql(f"PRAGMA user_version={SCHEMA_VERSION}")

    def jobs(self) -> list[JobSummary]:
        """Every job with its opening and the time of its last event, newest work first."""
        query = select(
            _EVENTS.c.job, func.max(_EVENTS.c.at), func.count(_EVENTS.c.sequence)
        ).group_by(_EVENTS.c.job)
        with self._reading() as connection:
            rows = connection.execute(query).all()
        found = [JobSummary(int(job), str(at), int(count)) for job, at, count in rows]
        return sorted(found, key=lambda summary: summary.last_at, reverse=True)

    def load(self, job: int) -> list[ev.Record]:
        """The log of a job in order, empty where there is no such job."""
        query = select(_EVENTS).where(_EVENTS.c.job == job).order_by(_EVENTS.c.sequence)
        with self._reading() as connection:
            rows = connection.execute(query).mappings().all()
        return [
            ev.Record(
                row["sequence"],
                row["at"],
                row["bench"],
                ev.decode_event(row["payload"], row["version"]),
            )
            for row in rows
        ]

    def new_job_number(self) -> int:
        """A job number that is not in use."""
        with self._reading() as connection:
            return int(connection.execute(select(func.max(_EVENTS.c.job))).scalar() or 0) + 1

    def append(self, job: int, records: Sequence[ev.Record]) -> None:
        """Write events in one transaction. Raises StoreError; then nothing was written."""
        values = [
            {
                "job": job,
                "sequence": record.sequence,
                "at": record.at,
                "bench": record.bench,
                "version": ev.VERSION,
                "kind": str(type(record.event).__struct_config__.tag),
                "payload": ev.encode_event(record.event),
            }
            for record in records
        ]
        try:
            with self._engine.begin() as connection:
                connection.execute(insert(_EVENTS), values)
        except (SQLAlchemyError, sqlite3.Error) as error:
            raise _explain(error, self.path) from error

    def _reading(self) -> Connection:
        try:
            return self._engine.connect().execution_options(reading=True)
        except (SQLAlchemyError, sqlite3.Error) as error:
            raise _explain(error, self.path) from error

    def close(self) -> None:
        """Let go of the file."""
        self._engine.dispose()


def _on_begin(connection: Connection) -> None:
    if not connection.get_execution_options().get("reading"):
        connection.exec_driver_sql("BEGIN IMMEDIATE")


def _explain(error: Exception, path: Path) -> StoreError:
    """The error of the database in the words of the shop."""
    text = str(getattr(error, "orig", error)).lower()
    if "locked" in text or "busy" in text:
        return StoreLockedError(
            f"Another program holds {path}.", "Close it there; this window tries again by itself."
        )
    if "readonly" in text or "read-only" in text or "unable to open" in text:
        return StoreReadOnlyError(
            f"{path} can't be written.",
            "Check the rights of the file and its folder, and the disk.",
        )
    if "unique" in text:
        return StoreError(
            "This job was changed in another window.", "Open it again to see the newest state."
        )
    if isinstance(error, (DatabaseError, sqlite3.DatabaseError)) and not isinstance(
        error, (OperationalError, sqlite3.OperationalError)
    ):
        return StoreDamagedError(
            f"{path} is not a Loose Rail database, or it is damaged.",
            "The file was left as it is; name another one with --data.",
        )
    return StoreError(f"{path}: {text}.")
