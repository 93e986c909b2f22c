"""A clock that tests turn."""

from __future__ import annotations


class FakeClock:
    """Every question is a second later."""

    def __init__(self) -> None:
        self.seconds = 0

    def now(self) -> str:
        self.seconds += 1
        return f"2026-11-02T10:{self.seconds // 60:02d}:{self.seconds % 60:02d}.000+00:00"


class StoppedClock(FakeClock):
    """Always the same second."""

    def now(self) -> str:
        return "2026-11-02T10:00:00.000+00:00"
