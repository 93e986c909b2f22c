"""What the shop's earlier jobs say about this one: what they ended at, and what to watch for."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from loose_rail.boards.own.file import OwnBoardFile
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.inference.shop_history import ClosedJob, role_of_part
from loose_rail.jobs.renamed import renamed_key
from loose_rail.jobs.state import JobState
from loose_rail.jobs.summary import Summary
from loose_rail.kernel.errors import BoardFileError
from loose_rail.vocabulary.keys import part_of

MOST_WARNINGS = 6
MOST_ELSEWHERE = 50
"""Jobs of one suspect at one other shop that count [E]."""


def lessons(
    jobs: Iterable[Summary], board_of: Callable[[str], Board]
) -> list[tuple[Summary, ClosedJob]]:
    """What every handed-back job that was not told to be forgotten ended at. A board that can't be
    read (told when its job is opened) leaves its topology empty: on that very board its count
    stays."""
    boards: dict[str, Board | None] = {}
    found: list[tuple[Summary, ClosedJob]] = []
    for job in jobs:
        if not job.teaches:
            continue
        if job.board_id not in boards:
            boards[job.board_id] = _board(job.board_id, board_of)
        board = boards[job.board_id]
        topology = board.topology if board else ""
        role = role_of_part(board, job.part) if board else ""
        found.append((job, ClosedJob(job.board_id, topology, job.suspect, role)))
    return found


def lessons_elsewhere(board: Board, own: OwnBoardFile | None) -> list[ClosedJob]:
    """What other shops' jobs on this board ended at, as its file tells."""
    found: list[ClosedJob] = []
    for counts in own.elsewhere.values() if own else ():
        for suspect, count in counts.items():
            named = renamed_key(suspect, board.earlier_names)
            role = role_of_part(board, part_of(named))
            one = ClosedJob(board.id, board.topology, named, role, elsewhere=True)
            found += [one] * min(count, MOST_ELSEWHERE)
    return found


def _board(board_id: str, board_of: Callable[[str], Board]) -> Board | None:
    try:
        return board_of(board_id)
    except BoardFileError:
        return None


def warnings_for(earlier: Iterable[Summary], job: JobState) -> list[str]:
    """What earlier sets of the same name or board left to watch for when one is taken apart."""
    found: list[str] = []
    for one in earlier:
        same = one.set_name.strip().lower() == job.set_name.strip().lower()
        if same or one.board_id == job.board_id:
            found += [f"Last time ({one.ticket}): {text}." for text in one.watched]
    return found[:MOST_WARNINGS]
