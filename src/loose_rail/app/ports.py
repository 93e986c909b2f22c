"""The ports: what the use cases need of the world, as small protocols.

Plugs stand in storage, instruments and practice; tests bring fakes of their own.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from pathlib import Path
from typing import Protocol

from loose_rail.jobs.events import Record
from loose_rail.jobs.summary import Summary


class Store(Protocol):
    """Keeps the logs of jobs. Every method raises StoreError with a sentence.

    The summary of a job is written with its events, where the writer knows it. What can't be
    written is set aside beside it, and taken up when the job is opened next.
    """

    def jobs(self) -> list[Summary]: ...
    def texts(self, jobs: Collection[int]) -> dict[int, tuple[str, ...]]: ...
    def load(self, job: int) -> list[Record]: ...
    def new_job_number(self) -> int: ...
    def append(
        self,
        job: int,
        records: Sequence[Record],
        summary: Summary | None = ...,
        texts: tuple[str, ...] = ...,
    ) -> None: ...
    def set_aside(self, job: int, records: Sequence[Record]) -> str: ...
    def aside(self, job: int) -> list[Record]: ...
    def drop_aside(self, job: int) -> None: ...
    def close(self) -> None: ...


class Meter(Protocol):
    """A bench meter. Every method raises MeterError with a sentence; none blocks for ever."""

    @property
    def name(self) -> str: ...
    def read(self, mode: str) -> float: ...
    def close(self) -> None: ...


class Hands(Protocol):
    """Whoever holds the probes and the plug. On a real bench a person, in the demo the simulated
    bench: it is told what the person confirms."""

    def put(self, state: str) -> None: ...
    def probe(self, plus: str, minus: str, observable: str) -> None: ...
    def lift(self) -> None: ...
    def fit(self, part: str) -> None: ...
    def close(self) -> None: ...


class Photos(Protocol):
    """Keeps photographs by content. Every method raises PhotoError with a sentence, and may take a
    second: not on the main thread."""

    def add(self, data: bytes, name: str = ...) -> str: ...
    def path(self, digest: str) -> Path: ...
    def thumbnail(self, digest: str) -> Path: ...


class Clock(Protocol):
    """Tells the time as ISO 8601 text in UTC."""

    def now(self) -> str: ...
