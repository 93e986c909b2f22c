"""The shelf: every job, what it waits for and what to do next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from loose_rail.jobs.summary import Summary
from loose_rail.kernel.wall_clock import clock_words
from loose_rail.screens.shelf.state import ShelfRow, ShelfState
from loose_rail.vocabulary.stage import Stage

SOAK, BENCH, PART, FINISHED = range(4)


def shelf_state(shop: str, jobs: Sequence[Summary]) -> ShelfState:
    """Rows in the order given: what can't be read, what is on soak, what the bench can go on with,
    what waits for a part, what is finished. A job that can't be read is told with why; the others
    open."""
    sound = [job for job in jobs if not job.lost]
    rows = [_lost_row(job) for job in jobs if job.lost]
    rows += [_row(job) for job in sorted(sound, key=lambda one: _waits(one)[0])]
    open_jobs = sum(job.proved is None for job in sound)
    if not rows:
        summary = (
            "No job on the shelf yet. F3 takes in a set; loose-rail demo opens a made-up shop."
        )
    else:
        summary = (
            f"{open_jobs} open of {len(rows)}. Enter opens the one that is marked; / finds words "
            "in all of them."
        )
    return ShelfState(shop, tuple(rows), summary)


def found_state(shelf: ShelfState, text: str, hits: Sequence[tuple[int, str]]) -> ShelfState:
    """The shelf with only the jobs in which words were found, where they stand in place of the
    complaint."""
    by_job = {row.job: row for row in shelf.rows}
    rows = tuple(replace(by_job[job], complaint=snippet) for job, snippet in hits if job in by_job)
    count = f"{len(rows)} job{'' if len(rows) == 1 else 's'}"
    words = (
        f"“{text}” stands in {count}. Escape shows all."
        if rows
        else (f"“{text}” stands in no job. Escape shows all.")
    )
    return replace(shelf, rows=rows, summary=words)


def _waits(job: Summary) -> tuple[int, str, str]:
    """Its place in the order, what a job waits for, and what to do next."""
    if job.proved is not None:
        asked = f" · ask again on {job.follow_up}" if job.follow_up else ""
        return FINISHED, "handed back", f"Proved {job.proved}{asked} · R: it came back"
    going_on = f"{Stage(job.stage).label}: go on where it was left"
    if job.next_look:
        look = f"look at {clock_words(job.next_look)}"
        return SOAK, f"on soak until {clock_words(job.soak_until)}", f"Never unattended: {look}"
    if not job.part:
        return BENCH, "waits for the bench", going_on
    if job.part in job.fitted:
        return BENCH, "waits for its proof", f"{job.part} is fitted: prove it by readings"
    if job.stage == Stage.PARTS:
        return PART, f"waits for {job.part}", f"{job.title}: choose or order the part"
    return BENCH, "waits for the bench", going_on


def _lost_row(job: Summary) -> ShelfRow:
    return ShelfRow(
        job=job.job,
        ticket="?",
        set_text=f"Job {job.job} of this shop",
        complaint=job.lost,
        waits_for="damaged",
        next_step="It can't be opened",
        position=0,
        age="?",
    )


def _row(job: Summary) -> ShelfRow:
    _, waits, following = _waits(job)
    return ShelfRow(
        job=job.job,
        ticket=job.ticket,
        set_text=job.set_name,
        complaint=f"“{job.complaint}”",
        waits_for=waits,
        next_step=following,
        position=Stage(job.stage).position,
        age=job.opened_at[:10],
        handed_back=job.proved is not None,
    )
