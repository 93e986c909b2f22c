"""A store in memory."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from loose_rail.jobs.events import Record
from loose_rail.jobs.summary import Summary, find_texts, summary_of
from loose_rail.kernel.errors import StoreConflictError, StoreError


class MemoryStore:
    """A store in memory that can be told to fail."""

    def __init__(self, records: Sequence[Record]) -> None:
        self.logs: dict[int, list[Record]] = {1: list(records)}
        self.error: StoreError | None = None
        self.kept_aside: dict[int, list[Record]] = {}

    def jobs(self) -> list[Summary]:
        return [summary_of(job, records) for job, records in self.logs.items()]

    def texts(self, jobs: Collection[int]) -> dict[int, tuple[str, ...]]:
        return {job: find_texts(self.logs[job]) for job in jobs}

    def load(self, job: int) -> list[Record]:
        return list(self.logs[job])

    def new_job_number(self) -> int:
        return max(self.logs) + 1

    def append(
        self,
        job: int,
        records: Sequence[Record],
        summary: Summary | None = None,
        texts: tuple[str, ...] = (),
    ) -> None:
        if self.error is not None:
            raise self.error
        taken = {one.sequence for one in self.logs.get(job, [])}
        if any(one.sequence in taken for one in records):
            raise StoreConflictError("This job was changed in another window.")
        self.logs.setdefault(job, []).extend(records)

    def set_aside(self, job: int, records: Sequence[Record]) -> str:
        self.kept_aside[job] = list(records)
        return "memory"

    def aside(self, job: int) -> list[Record]:
        return self.kept_aside.get(job, [])

    def drop_aside(self, job: int) -> None:
        self.kept_aside.pop(job, None)

    def close(self) -> None:
        pass
