"""`loose-rail history`: what the shop's own closed jobs teach, and forgetting one of them."""

from __future__ import annotations

import argparse
import json
import sys
from typing import Any

from loose_rail.app.clock import SystemClock
from loose_rail.app.known_before import lessons
from loose_rail.app.log import JobLog
from loose_rail.app.open_job import BENCH
from loose_rail.bootstrap import shop_files
from loose_rail.diagnosis.inference.shop_history import ClosedJob, counts_of
from loose_rail.jobs import events as ev
from loose_rail.kernel.errors import StoreError, UsageError


def history(options: argparse.Namespace) -> int:
    """Print the counts by board, or forget one job. Raises UsageError and StoreError."""
    store, book = shop_files(options.data)
    try:
        found = [(one.job, one.ticket, lesson) for one, lesson in lessons(store.jobs(), book.board)]
        if options.forget:
            number = next((job for job, ticket, _ in found if ticket == options.forget), None)
            if number is None:
                tickets = ", ".join(ticket for _, ticket, _ in found) or "none"
                raise UsageError(
                    f"No closed job teaches under ticket “{options.forget}”.",
                    f"There are {tickets}.",
                )
            event = ev.LessonForgotten("told so on the command line")
            _keep(JobLog(store, number), event)
            sys.stdout.write(f"Forgotten: {options.forget}. The job itself stays.\n")
            return 0
        told = _by_board(found, [book.board(one) for one in _boards(found)])
        if options.json:
            sys.stdout.write(json.dumps(told, ensure_ascii=False, indent=2) + "\n")
        else:
            sys.stdout.write(_page(told))
    finally:
        store.close()
    return 0


def _keep(log: JobLog, event: ev.AnyEvent) -> None:
    """Write an event. Raises StoreError where it is not on the disk."""
    log.append(event, SystemClock().now(), BENCH)
    if log.problem:
        raise StoreError(log.problem)


def _boards(found: list[tuple[int, str, ClosedJob]]) -> list[str]:
    return list(dict.fromkeys(lesson.board for _, _, lesson in found))


def _by_board(found: list[tuple[int, str, ClosedJob]], boards: list[Any]) -> list[dict[str, Any]]:
    every = [lesson for _, _, lesson in found]
    return [
        {
            "board": board.id,
            "counts": [
                {"suspect": c.suspect, "count": c.count, "of": c.of_jobs, "words": c.words}
                for c in counts_of(board, every)
            ],
            "tickets": [ticket for _, ticket, lesson in found if lesson.board == board.id],
        }
        for board in boards
    ]


def _page(told: list[dict[str, Any]]) -> str:
    if not told:
        return "No closed job teaches anything yet.\n"
    lines = []
    for one in told:
        lines.append(f"{one['board']}, tickets {', '.join(one['tickets'])}")
        lines += [f"  {count['suspect']}: {count['words']}" for count in one["counts"]]
    return "\n".join(lines) + "\n"
