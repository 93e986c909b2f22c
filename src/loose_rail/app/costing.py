"""What a job cost: parts, carriage, hours at the bench as its log tells them, at our prices."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from loose_rail.app.deciding import prices_of
from loose_rail.app.session import JobSession
from loose_rail.jobs import events as ev
from loose_rail.kernel.wall_clock import moment

PAUSE_MINUTES = 15.0
"""A longer gap between two entries is no work at the bench [E]."""


@dataclass(frozen=True, slots=True)
class Cost:
    """Money in the job's currency, hours of work, what an hour is."""

    parts: float
    carriage: float
    hours: float
    rate: float

    @property
    def total(self) -> float:
        """All of it, rounded to what is paid."""
        return round(self.parts + self.carriage + self.hours * self.rate, 2)


def cost_of(session: JobSession) -> Cost:
    """What was typed, else what the list of parts, the prices and the log come to."""
    prices, state = prices_of(session), session.state
    return Cost(
        parts=float(state.detail("cost_parts") or _parts(session)),
        carriage=float(state.detail("cost_carriage") or 0.0),
        hours=float(state.detail("cost_hours") or bench_hours(session.records)),
        rate=prices.hour,
    )


def _parts(session: JobSession) -> float:
    """What was chosen as a way costs what it was said to; every further part its price."""
    state, prices = session.state, prices_of(session)
    fitted = set(state.fitted)
    way = state.way
    if way is None or not way.parts or not fitted >= set(way.parts):
        return prices.part * len(fitted)
    return way.outlay + prices.part * len(fitted - set(way.parts))


def bench_hours(records: Sequence[ev.Record]) -> float:
    """Hours between entries that follow each other without a pause, to a twentieth."""
    times = [moment(record.at) for record in records]
    minutes = 0.0
    for before, after in pairwise(times):
        gap = (after - before).total_seconds() / 60.0
        minutes += gap if 0.0 < gap <= PAUSE_MINUTES else 0.0
    return round(minutes / 60.0, 2)
