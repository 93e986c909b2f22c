"""What many tests share: the board, its predictions (worked out once), fakes for the ports."""

from __future__ import annotations

from functools import cache
from pathlib import Path

import platformdirs

from loose_rail.app.session import JobSession
from loose_rail.boards.load import shipped_board
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.model.cache import table_for
from loose_rail.diagnosis.model.predictions import PredictionTable
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.jobs.events import Record
from loose_rail.kernel.errors import StoreConflictError, StoreError
from loose_rail.practice.demo import demo_shop


@cache
def board() -> Board:
    """The demo board."""
    return shipped_board("PB-4310-2")


@cache
def table() -> PredictionTable:
    """Its predictions, through the same cache as the program's."""
    return table_for(board(), Path(platformdirs.user_cache_path("loose-rail")))


@cache
def engine() -> Engine:
    """Its engine."""
    return Engine(table())


def lamp_pattern(of: PredictionTable, row: int, state: str) -> str:
    """What a person would say of the lamp in line on a set with the faults of a row."""
    if of.ticking_hertz[state][row] > 0:
        return "pulses"
    glow = float(of.lamp_glow[state][row])
    return "bright" if glow > 0.35 else "glows" if glow > 0.03 else "flash_dark"


class FakeClock:
    """Every question is a second later."""

    def __init__(self) -> None:
        self.seconds = 0

    def now(self) -> str:
        self.seconds += 1
        return f"2026-11-02T10:{self.seconds // 60:02d}:{self.seconds % 60:02d}.000+00:00"


class MemoryStore:
    """A store in memory that can be told to fail."""

    def __init__(self, records: list[Record] | None = None) -> None:
        self.logs: dict[int, list[Record]] = {1: list(records or demo_records())}
        self.error: StoreError | None = None
        self.kept_aside: dict[int, list[Record]] = {}

    def jobs(self) -> list[object]:
        return []

    def load(self, job: int) -> list[Record]:
        return list(self.logs[job])

    def new_job_number(self) -> int:
        return max(self.logs) + 1

    def append(self, job: int, records: list[Record]) -> None:
        if self.error is not None:
            raise self.error
        taken = {one.sequence for one in self.logs.get(job, [])}
        if any(one.sequence in taken for one in records):
            raise StoreConflictError("This job was changed in another window.")
        self.logs.setdefault(job, []).extend(records)

    def set_aside(self, job: int, records: list[Record]) -> str:
        self.kept_aside[job] = list(records)
        return "memory"

    def aside(self, job: int) -> list[Record]:
        return self.kept_aside.get(job, [])

    def drop_aside(self, job: int) -> None:
        self.kept_aside.pop(job, None)

    def close(self) -> None:
        pass


def demo_records() -> list[Record]:
    """The log of the demo job."""
    return [
        Record(number, at, "bench 1", event)
        for number, (at, event) in enumerate(demo_shop().jobs[0], start=1)
    ]


def demo_session(store: MemoryStore | None = None) -> JobSession:
    """The demo job with its engine."""
    session = JobSession(store or MemoryStore(), 1, board(), FakeClock())
    session.set_engine(engine())
    return session
