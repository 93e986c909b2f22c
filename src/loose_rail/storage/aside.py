"""Work that could not be written into the database, in files beside it, until it can.

One file a job; it is taken up again when the job is opened next, and removed once it is saved.
"""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any

import msgspec

from loose_rail.jobs import events as ev
from loose_rail.kernel.errors import JobError, StoreDamagedError, StoreReadOnlyError
from loose_rail.kernel.files import LARGEST_HISTORY, make_private, read_bounded, write_durably

SCHEMA = "loose-rail/unsaved/1"


class _Kept(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    sequence: int
    at: str
    bench: str
    version: int
    event: dict[str, Any]


class _File(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    schema: str
    job: int
    records: list[_Kept]


class AsideFolder:
    """The folder of such files; made when the first one is needed."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def path(self, job: int) -> Path:
        """The file of a job."""
        return self.folder / f"job-{job}.json"

    def keep(self, job: int, records: Sequence[ev.Record]) -> str:
        """Keep what could not be saved beside what is kept already; returns where. Raises
        StoreReadOnlyError."""
        records = [*self._others(job, records), *records]
        kept = [
            _Kept(
                one.sequence,
                one.at,
                one.bench,
                ev.VERSION,
                msgspec.json.decode(ev.encode_event(one.event)),
            )
            for one in records
        ]
        try:
            make_private(self.folder)
            write_durably(self.path(job), msgspec.json.encode(_File(SCHEMA, job, kept)))
        except OSError as error:
            raise StoreReadOnlyError(
                f"{self.path(job)} can't be written: {error.strerror}.",
                "Make room on the disk; the window stays open until the work is kept.",
            ) from error
        return str(self.path(job))

    def _others(self, job: int, records: Sequence[ev.Record]) -> list[ev.Record]:
        """What another program has kept of this job; a file that can't be read is kept under
        another name."""
        own = {(one.at, one.bench) for one in records}
        try:
            return [one for one in self.take(job) if (one.at, one.bench) not in own]
        except StoreDamagedError:
            self.path(job).replace(self.path(job).with_suffix(".damaged.json"))
            return []

    def take(self, job: int) -> list[ev.Record]:
        """What was kept of a job, nothing where there is no such file. Raises StoreDamagedError;
        the file is left as it is."""
        path = self.path(job)
        try:
            found = msgspec.json.decode(read_bounded(path, LARGEST_HISTORY), type=_File)
            return [
                ev.Record(
                    one.sequence,
                    one.at,
                    one.bench,
                    ev.decode_event(msgspec.json.encode(one.event).decode(), one.version),
                )
                for one in found.records
            ]
        except FileNotFoundError:
            return []
        except (msgspec.MsgspecError, UnicodeDecodeError, OSError, JobError) as error:
            raise StoreDamagedError(
                f"Unsaved work of this job in {path} can't be read: {error}.",
                "The file is left as it is; the job opens without it.",
            ) from error

    def drop(self, job: int) -> None:
        """It is saved now. Raises StoreReadOnlyError."""
        try:
            self.path(job).unlink(missing_ok=True)
        except OSError as error:
            raise StoreReadOnlyError(
                f"{self.path(job)} can't be removed: {error.strerror}.", "Remove it by hand."
            ) from error
