"""The shelf: every job, what it waits for and what to do next."""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.jobs.events import STAGES
from loose_rail.jobs.fold import JobState
from loose_rail.presenters.states import ShelfRow, ShelfState
from loose_rail.presenters.words import STAGE_TITLES


def shelf_state(shop: str, jobs: Sequence[tuple[int, JobState]]) -> ShelfState:
    """Rows in the order given, finished jobs last."""
    rows = [_row(job, state) for job, state in jobs]
    rows.sort(key=lambda row: row.waits_for == "handed back")
    open_jobs = sum(row.waits_for != "handed back" for row in rows)
    if not rows:
        summary = (
            "No job on the shelf yet. F3 takes in a set; loose-rail demo opens a made-up shop."
        )
    else:
        summary = f"{open_jobs} open of {len(rows)}. Enter opens the one that is marked."
    return ShelfState(shop, tuple(rows), summary)


def _row(job: int, state: JobState) -> ShelfRow:
    position = STAGES.index(state.stage)
    if state.handed_back is not None:
        waits, following = "handed back", "nothing"
    else:
        waits, following = "bench", f"{STAGE_TITLES[state.stage]}: go on where it was left"
    return ShelfRow(
        job,
        state.ticket,
        state.set_name,
        f"“{state.complaint}”",
        waits,
        following,
        position,
        state.opened_at[:10],
    )
