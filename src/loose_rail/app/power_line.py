"""A typed line of the power-up page: what stands in line, or a word on the soak."""

from __future__ import annotations

from loose_rail.app.limiting import bench_limiters, choose_limiter, limiter_for
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.app.settings import KeepSetting
from loose_rail.app.soaking import enter_soak_line


def enter_power_line(session: JobSession, text: str, keep: KeepSetting | None = None) -> Outcome:
    """`100R 50W`, `always 150W`, `next` of the bench's limiters; `soak 4 h every 20`, `ok`,
    `bad …`, `end`. Raises StoreError where the shop's list can't be kept."""
    soaked = enter_soak_line(session, text)
    if soaked is not None:
        return soaked
    if text.strip().lower() == "next":
        return choose_limiter(session, _next(session))
    return choose_limiter(session, text, keep)


def _next(session: JobSession) -> str:
    known = bench_limiters(session)
    now = limiter_for(session)
    place = known.index(now) + 1 if now in known else 0
    return known[place % len(known)].text if known else "60W"
