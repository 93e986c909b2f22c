"""A soak as the log tells it: only what was attended counts, from the start to the last good look,
and of a gap that is longer than was agreed no more than that."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import timedelta

from loose_rail.kernel.wall_clock import moment

GRACE = 1.5
"""A look may come half as late again before the time since the last one ceases to count [E]."""


@dataclass(frozen=True, slots=True)
class Look:
    """A look at the running set, or a reading of it, at an ISO time."""

    at: str
    good: bool
    words: str = ""


@dataclass(frozen=True, slots=True)
class Soak:
    """One soak, of the repair `round`; times are ISO in UTC, `ended_at` empty while it runs."""

    started_at: str
    hours: float
    every_minutes: float
    round: int
    looks: tuple[Look, ...] = ()
    ended_at: str = ""

    @property
    def running(self) -> bool:
        """Whether nobody has ended it."""
        return not self.ended_at

    @property
    def attended_hours(self) -> float:
        """Hours that count, up to the last good look before the first bad one."""
        most = timedelta(minutes=GRACE * self.every_minutes)
        total, last = timedelta(), moment(self.started_at)
        for look in self.looks:
            if not look.good:
                break
            at = moment(look.at)
            total += min(max(at - last, timedelta()), most)
            last = at
        return total.total_seconds() / 3600.0

    @property
    def bad_looks(self) -> tuple[Look, ...]:
        """Looks that found it otherwise than it should be."""
        return tuple(look for look in self.looks if not look.good)

    def next_look(self) -> str:
        """When the next look is due, ISO in UTC."""
        last = self.looks[-1].at if self.looks else self.started_at
        due = moment(last) + timedelta(minutes=self.every_minutes)
        return due.isoformat()

    def until(self) -> str:
        """When it has run as long as was agreed, were every look in time from here on."""
        last = self.looks[-1].at if self.looks else self.started_at
        left = max(self.hours - self.attended_hours, 0.0)
        return (moment(last) + timedelta(hours=left)).isoformat()

    def looked(self, look: Look) -> Soak:
        """With one more look."""
        return replace(self, looks=(*self.looks, look))
