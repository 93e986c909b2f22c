"""Jobs and their events in one SQLite file.

WAL, synchronous FULL, BEGIN IMMEDIATE: what has been accepted is on disk before the next thing is
asked. Every event carries a checksum, so that what was changed behind the program's back is told
and not believed; one damaged event takes nothing else along. A file that can't be opened is never
deleted or overwritten: the error says what to do.
"""

from __future__ import annotations

import contextlib
import itertools
import os
import sqlite3
import stat
from collections.abc import Collection, Sequence
from pathlib import Path
from typing import Any

from sqlalchemy import (
    URL,
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

from loose_rail.jobs import events as ev
from loose_rail.jobs.summary import Summary, find_texts, summary_of
from loose_rail.kernel.errors import (
    JobError,
    StoreConflictError,
    StoreDamagedError,
    StoreError,
    StoreLockedError,
    StoreNewerError,
    StoreReadOnlyError,
)
from loose_rail.kernel.files import PRIVATE_FILE, make_private
from loose_rail.storage import summaries
from loose_rail.storage.aside import AsideFolder
from loose_rail.storage.checksum import checksum_of
from loose_rail.storage.migrate import SCHEMA_VERSION, migrate
from loose_rail.storage.places import places_of

APPLICATION_ID = 0x4C524149
BUSY_MILLISECONDS = 2000
HURRIED_MILLISECONDS = 60
"""Another window's transaction takes 10 ms; more than 100 ms of standing still are felt [E]."""
MOST_GAP = 200
"""How far past an unreadable place other jobs are still looked for."""

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
    Column("checksum", String(16), nullable=False),
)
_ERRORS = (SQLAlchemyError, sqlite3.Error)


class SqliteStore:
    """A shop's jobs. Opening creates the file where there is none."""

    def __init__(self, path: Path, busy_milliseconds: int = BUSY_MILLISECONDS) -> None:
        self.path = path
        self._busy = busy_milliseconds
        self._aside = AsideFolder(places_of(path).unsaved)
        try:
            make_private(path.parent)
            _make_private_file(path)
        except OSError as error:
            raise StoreReadOnlyError(
                f"{path} can't be made: {error.strerror}.", "Choose another place with --data."
            ) from error
        self._engine = create_engine(URL.create("sqlite", database=str(path)))
        event.listen(self._engine, "connect", self._on_connect)
        event.listen(self._engine, "begin", _on_begin)
        self._open()

    def _on_connect(self, connection: sqlite3.Connection, _record: object) -> None:
        connection.isolation_level = None
        connection.text_factory = _text  # a byte that is no UTF-8 must not hide a whole job
        connection.execute(f"PRAGMA busy_timeout={self._busy}")
        connection.execute("PRAGMA foreign_keys=ON")
        connection.execute("PRAGMA synchronous=FULL")

    def hurry(self) -> None:
        """From now on a file that another program holds is told of after a moment: the window keeps
        what it could not write and tries again by itself, so it need not stand still."""
        self._busy = HURRIED_MILLISECONDS
        self._engine.dispose()

    def _open(self) -> None:
        try:
            with self._engine.connect() as connection:
                raw: Any = connection.connection.dbapi_connection
                self._check_file(raw)
                raw.execute("PRAGMA journal_mode=WAL")
                migrate(raw, self.path)
            with self._engine.begin() as connection:
                self._create(connection)
        except _ERRORS as error:
            self.close()
            raise _explain(error, self.path) from error
        except OSError as error:
            self.close()
            raise StoreReadOnlyError(
                f"{self.path} can't be copied before it is brought up to date: {error.strerror}.",
                "Make room beside it, then start again; nothing was changed.",
            ) from error
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
        summaries.SUMMARY_METADATA.create_all(connection)
        connection.exec_driver_sql(f"PRAGMA application_id={APPLICATION_ID}")
        connection.exec_driver_sql(f"PRAGMA user_version={SCHEMA_VERSION}")

    # ---- reading ---------------------------------------------------------------------------

    def jobs(self) -> list[Summary]:
        """Every job in a few words, newest work first. Jobs that still can be found are, where a
        part of the file is damaged; one that can't be read says why. Raises StoreError."""
        counts = self._counts()
        found: list[Summary] = []
        try:
            with self._reading() as connection:
                found = summaries.fitting(connection, counts)
        except _ERRORS as error:
            if not _is_damage(error):
                raise _explain(error, self.path) from error
        missing = set(counts) - {one.job for one in found}
        made = [self._made(job, counts[job]) for job in sorted(missing)]
        self._put([one for one in made if not one[0].lost])
        found += [summary for summary, _ in made]
        return sorted(found, key=lambda one: one.last_at, reverse=True)

    def texts(self, jobs: Collection[int]) -> dict[int, tuple[str, ...]]:
        """What can be found in each of these jobs. Raises StoreError."""
        try:
            with self._reading() as connection:
                found = summaries.texts_of(connection, jobs)
        except _ERRORS as error:
            if not _is_damage(error):
                raise _explain(error, self.path) from error
            found = {}
        return found | {job: self._made(job, 0)[1] for job in set(jobs) - set(found)}

    def _counts(self) -> dict[int, int]:
        """How many events each job has."""
        query = select(_EVENTS.c.job, func.count()).group_by(_EVENTS.c.job)
        try:
            with self._reading() as connection:
                rows = [tuple(row) for row in connection.execute(query)]
        except _ERRORS as error:
            if not _is_damage(error):
                raise _explain(error, self.path) from error
            return self._counts_one_by_one()
        return {job: count for job, count in rows if isinstance(job, int)}  # damaged: no number

    def _made(self, job: int, count: int) -> tuple[Summary, tuple[str, ...]]:
        """A summary worked out from the log, with its find texts."""
        try:
            records = self.load(job)
            return summary_of(job, records), find_texts(records)
        except (JobError, StoreError) as error:
            return Summary(job=job, events=count, lost=error.one_line()), ()

    def _put(self, made: list[tuple[Summary, tuple[str, ...]]]) -> None:
        """Keep summaries for the next time. Where that fails nothing is lost but that time: they
        are worked out again then."""
        if made:
            with contextlib.suppress(*_ERRORS), self._engine.begin() as connection:
                summaries.put(connection, made)

    def _counts_one_by_one(self) -> dict[int, int]:
        """The same, each job by itself, past places that can't be read."""
        found: dict[int, int] = {}
        job = gap = 0
        while gap < MOST_GAP:
            job += 1
            query = select(func.count()).where(_EVENTS.c.job == job)
            count = 0
            with contextlib.suppress(*_ERRORS), self._reading() as connection:
                count = int(connection.execute(query).scalar_one())
            gap = 0 if count else gap + 1
            if count:
                found[job] = count
        return found

    def load(self, job: int) -> list[ev.Record]:
        """The log of a job in order, empty where there is no such job. An event that is damaged
        stands in its place as `Unreadable`. Raises StoreError where the place can't be read."""
        query = select(_EVENTS).where(_EVENTS.c.job == job).order_by(_EVENTS.c.sequence)
        try:
            with self._reading() as connection:
                rows = connection.execute(query).mappings().all()
        except _ERRORS as error:
            raise _explain(error, self.path) from error
        return _records_of([dict(row) for row in rows])

    def new_job_number(self) -> int:
        """A job number that is not in use. Raises StoreError."""
        try:
            with self._reading() as connection:
                return int(connection.execute(select(func.max(_EVENTS.c.job))).scalar() or 0) + 1
        except _ERRORS as error:
            raise _explain(error, self.path) from error

    # ---- writing ---------------------------------------------------------------------------

    def append(
        self,
        job: int,
        records: Sequence[ev.Record],
        summary: Summary | None = None,
        texts: tuple[str, ...] = (),
    ) -> None:
        """Write events in one transaction, with the summary of the job after them where it is known
        (else it is worked out when it is asked for). Raises StoreError; then nothing was written.
        StoreConflictError: another window or program has written to this job since."""
        try:
            values = [_row_of(job, record) for record in records]
        except UnicodeEncodeError as error:
            raise StoreError(
                "This holds a letter that can't be stored (half of a pair).",
                "Type it again instead of pasting it.",
            ) from error
        try:
            with self._engine.begin() as connection:
                connection.execute(insert(_EVENTS), values)
                if summary is not None:
                    self._put_beside(connection, summary, texts)
        except _ERRORS as error:
            raise _explain(error, self.path) from error

    def _put_beside(self, connection: Connection, summary: Summary, texts: tuple[str, ...]) -> None:
        """The summary in the transaction of its event. A damaged table of summaries never keeps an
        event from the disk: the summary is then left out, and made again from the log."""
        try:
            with connection.begin_nested():
                summaries.put(connection, [(summary, texts)])
        except _ERRORS as error:
            if not _is_damage(error):
                raise

    def set_aside(self, job: int, records: Sequence[ev.Record]) -> str:
        """Keep unsaved work in a file beside the shop; returns where. Raises StoreError."""
        return self._aside.keep(job, records)

    def aside(self, job: int) -> list[ev.Record]:
        """Work of a job that was set aside. Raises StoreError."""
        return self._aside.take(job)

    def drop_aside(self, job: int) -> None:
        """What was set aside is saved now. Raises StoreError."""
        self._aside.drop(job)

    def _reading(self) -> Connection:
        return self._engine.connect().execution_options(reading=True)

    def close(self) -> None:
        """Let go of the file; what stands in the log beside it is brought into it first, so that a
        plain copy of a closed shop is whole."""
        with contextlib.suppress(*_ERRORS), self._engine.connect() as connection:
            raw: Any = connection.connection.dbapi_connection
            if raw.execute("PRAGMA application_id").fetchone()[0] == APPLICATION_ID:
                raw.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        self._engine.dispose()


def _make_private_file(path: Path) -> None:
    """A new database is its owner's alone before anything stands in it; from an old one others are
    shut out, its group stays as its owner set it."""
    if not path.exists():
        os.close(os.open(path, os.O_WRONLY | os.O_CREAT, PRIVATE_FILE))
        return
    mode = stat.S_IMODE(path.stat().st_mode)
    if stat.S_ISREG(path.stat().st_mode) and mode & 0o007 and path.stat().st_uid == os.getuid():
        path.chmod(mode & ~0o007)


def _text(raw: bytes) -> str:
    return raw.decode("utf-8", "surrogateescape")


def _row_of(job: int, record: ev.Record) -> dict[str, Any]:
    row: dict[str, Any] = {
        "job": job,
        "sequence": record.sequence,
        "at": record.at,
        "bench": record.bench,
        "version": ev.VERSION,
        "kind": str(type(record.event).__struct_config__.tag),
        "payload": ev.encode_event(record.event),
    }
    return {**row, "checksum": checksum_of(row)}


def _records_of(rows: list[dict[str, Any]]) -> list[ev.Record]:
    """Rows as records in order. One whose place is damaged is put where one is missing; what it
    says is then not as it was written."""
    taken = {row["sequence"] for row in rows}
    missing = (number for number in itertools.count(1) if number not in taken)
    for row in rows:
        if not isinstance(row["sequence"], int):
            row["sequence"] = next(missing)
    return [_record_of(row) for row in sorted(rows, key=lambda row: int(row["sequence"]))]


def _record_of(row: dict[str, Any]) -> ev.Record:
    """A row as a record; damaged, it keeps its place and says why."""
    try:
        if row["checksum"] != checksum_of(row):
            raise JobError("it is not as it was written")
        if row["version"] > ev.VERSION:
            raise ev.newer_than_this(row["version"])
        found = ev.decode_event(row["payload"], row["version"])
    except JobError as error:
        found = ev.Unreadable(str(row["kind"]), error.message)
    return ev.Record(int(row["sequence"]), str(row["at"]), str(row["bench"]), found)


def _on_begin(connection: Connection) -> None:
    if not connection.get_execution_options().get("reading"):
        connection.exec_driver_sql("BEGIN IMMEDIATE")


def _is_damage(error: Exception) -> bool:
    damaged = isinstance(error, (DatabaseError, sqlite3.DatabaseError))
    text = str(getattr(error, "orig", error)).lower()
    return damaged and "locked" not in text and "busy" not in text


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
        return StoreConflictError(
            "This job was changed in another window.", "What was written there is taken in."
        )
    if isinstance(error, (DatabaseError, sqlite3.DatabaseError)) and not isinstance(
        error, (OperationalError, sqlite3.OperationalError)
    ):
        return StoreDamagedError(
            f"{path} is not a Loose Rail database, or it is damaged.",
            "The file was left as it is; a copy of each day lies in the folder backups beside it.",
        )
    return StoreError(f"{path}: {text}.")
