"""What stands in line with the board of a job: its profile's lamp, or what the person chose."""

from __future__ import annotations

from loose_rail.jobs.state import JobState
from loose_rail.judgement.limiter import Limiter, read_limiter

LIMITER_DETAIL = "limiter"
"""The detail of a job in which the limiter of its bench stands, as it is typed."""


def limiter_of(job: JobState, lamp_watts: int) -> Limiter | None:
    """What limits the current in a state with a lamp of so many watts; None in one without."""
    if not lamp_watts:
        return None
    typed = job.detail(LIMITER_DETAIL)
    return read_limiter(typed) if typed else Limiter(float(lamp_watts))
