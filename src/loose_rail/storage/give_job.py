"""A job given to another shop as a bundle, and one taken in from there: nothing is kept before all
of it has been checked, the job itself last, in one transaction."""

from __future__ import annotations

import tempfile
from pathlib import Path

import msgspec

from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import fold
from loose_rail.jobs.summary import find_texts, summary_of
from loose_rail.kernel.errors import BundleError
from loose_rail.storage.board_book import BoardBook
from loose_rail.storage.bundle import read_bundle, write_bundle
from loose_rail.storage.photos import PhotoFolder
from loose_rail.storage.store import SqliteStore


def give_job(
    store: SqliteStore,
    book: BoardBook,
    photos: PhotoFolder,
    job: int,
    path: Path,
    sheet: str = "",
    with_name: bool = False,
) -> str:
    """Write a job as a bundle and say what is in it. Raises BundleError, StoreError, PhotoError and
    BoardFileError."""
    records = store.load(job)
    state = fold(records)
    pictures = {}
    for one in state.photos:
        found = photos.path(one.photo)
        pictures[found.name] = found.read_bytes()
    board = b""
    if state.board_id in book.own_ids():
        with tempfile.TemporaryDirectory(prefix="loose-rail-") as folder:
            book.give_file(state.board_id, Path(folder) / "board.json")
            board = (Path(folder) / "board.json").read_bytes()
    write_bundle(path, records, pictures, board, sheet, with_name)
    name = "with the customer's name" if with_name else "without the customer's name"
    return f"{len(records)} entries, {len(pictures)} photographs, {name}"


def take_job(
    store: SqliteStore, book: BoardBook, photos: PhotoFolder, path: Path, at: str
) -> tuple[int, str]:
    """Take a bundle in: the number of the job here and what became of it. Raises BundleError,
    BoardFileError, PhotoError and StoreError; then no job was kept."""
    found = read_bundle(path)
    state, records, told = found.state, list(found.records), []
    board_id = state.board_id
    if found.board:
        with tempfile.TemporaryDirectory(prefix="loose-rail-") as folder:
            typed = Path(folder) / f"{path.stem}.json"
            typed.write_bytes(found.board)
            board_id, words = book.take_file(typed, at)
        told.append(f"its board {board_id}: {words}")
    elif book.match(board_id) is None:
        raise BundleError(
            f"The bundle is of a board {board_id}, which this shop has not, and does not bring it.",
            "Take the board in first, at the board book.",
        )
    for digest, data in found.photographs.items():
        photos.take_over(digest, data)
    ticket = _free_ticket(state.ticket, {one.ticket for one in store.jobs()})
    opened = records[0].event
    assert isinstance(opened, ev.JobOpened)  # a log that folds begins with it
    opened = msgspec.structs.replace(opened, ticket=ticket, board_id=board_id)
    records[0] = msgspec.structs.replace(records[0], event=opened)
    number = store.new_job_number()
    store.append(number, records, summary_of(number, records), find_texts(records))
    told.append(f"{len(records)} entries, {len(found.photographs)} photographs")
    return number, f"Job {ticket}: {'; '.join(told)}"


def _free_ticket(wanted: str, used: set[str]) -> str:
    """The ticket of there, with a letter behind it where it is used here."""
    if wanted not in used:
        return wanted
    return next(
        name for number in range(2, len(used) + 3) if (name := f"{wanted}-{number}") not in used
    )
