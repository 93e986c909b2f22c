"""What stands in line with the board of a job: its profile's lamp, or what the person chose."""

from __future__ import annotations

from loose_rail.jobs.state import JobState
from loose_rail.judgement.limiter import Limiter, read_limiter
from loose_rail.vocabulary.lamp_pattern import LampPattern

LIMITER_DETAIL = "limiter"
"""The detail of a job in which the limiter of its bench stands, as it is typed."""


def limiter_of(job: JobState, lamp_watts: int) -> Limiter | None:
    """What limits the current in a state with a lamp of so many watts; None in one without."""
    if not lamp_watts:
        return None
    typed = job.detail(LIMITER_DETAIL)
    return read_limiter(typed) if typed else Limiter(float(lamp_watts))


def lamps_that_show(job: JobState) -> tuple[str, ...]:
    """The patterns of the job that say something of a short: those that a lamp showed, and all that
    draw. A resistor that stays cool clears nothing (with one arm of the bridge shorted it may), so
    once one stood in line in this job only the flash counts, which a resistor hasn't got."""
    typed = [one.text for one in job.details_told if one.detail == LIMITER_DETAIL and one.text]
    if all(read_limiter(text).is_lamp for text in typed):
        return job.lamps
    return tuple(lamp for lamp in job.lamps if lamp != LampPattern.DARK)
