"""The shelf: every job, what it waits for and what to do next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from loose_rail.jobs.fold import JobState
from loose_rail.screens.shelf.state import ShelfRow, ShelfState
from loose_rail.vocabulary.stage import Stage

BENCH, PART, FINISHED = range(3)


def shelf_state(
    shop: str, jobs: Sequence[tuple[int, JobState]], lost: Sequence[tuple[int, str]] = ()
) -> ShelfState:
    """Rows in the order given: what the bench can go on with, what waits for a part, what is
    finished. `lost` are jobs that can't be read, with why: they are told, the others open."""
    ordered = sorted(jobs, key=lambda one: _waits(one[1])[0])
    rows = [_lost_row(job, why) for job, why in lost]
    rows += [_row(job, state) for job, state in ordered]
    open_jobs = sum(state.handed_back is None for _, state in jobs)
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


def _waits(state: JobState) -> tuple[int, str, str]:
    """Its place in the order, what a job waits for, and what to do next."""
    if state.handed_back is not None:
        return FINISHED, "handed back", f"Proved {state.handed_back.level_of_proof}"
    going_on = f"{Stage(state.stage).label}: go on where it was left"
    verdict = state.verdict
    if verdict is None or not verdict.part:
        return BENCH, "waits for the bench", going_on
    if verdict.part in state.fitted:
        return BENCH, "waits for its proof", f"{verdict.part} is fitted: prove it by readings"
    if state.stage == "parts":
        return PART, f"waits for {verdict.part}", f"{verdict.title}: choose or order the part"
    return BENCH, "waits for the bench", going_on


def _lost_row(job: int, why: str) -> ShelfRow:
    return ShelfRow(
        job=job,
        ticket="?",
        set_text=f"Job {job} of this shop",
        complaint=why,
        waits_for="damaged",
        next_step="It can't be opened",
        position=0,
        age="?",
    )


def _row(job: int, state: JobState) -> ShelfRow:
    position = Stage(state.stage).position
    _, waits, following = _waits(state)
    return ShelfRow(
        job=job,
        ticket=state.ticket,
        set_text=state.set_name,
        complaint=f"“{state.complaint}”",
        waits_for=waits,
        next_step=following,
        position=position,
        age=state.opened_at[:10],
    )
