"""A whole job file: JSON in, a board with its evidence out."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path

import msgspec

from loose_rail.app.job_file.board_of import CaseBoard, board_of
from loose_rail.app.job_file.clues_of import Clues, clues_of
from loose_rail.app.job_file.log.entries import entries_of
from loose_rail.app.job_file.log.tell import tell
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.app.job_file.notes import Notes
from loose_rail.app.job_file.own_board_of import own_board_of
from loose_rail.app.job_file.readings import Told, readings_of
from loose_rail.app.wrong_label import label_of_readings
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.dossier import Beside
from loose_rail.diagnosis.evidence.customer_words import age_fact
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.shop_history import ClosedJob
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.diagnosis.planning.stopping import ShopCosts
from loose_rail.jobs.events import HistoryNoted, Record
from loose_rail.kernel.errors import JobError
from loose_rail.kernel.files import LARGEST_BOARD, read_bounded

SCHEMA = "loose-rail/case/1"
TOLD = "loose-rail/case/2"
KNOWN_TOLD = ("schema", "set", "board", "log", "costs", "closed_jobs", "ticket", "title", "notes")
KNOWN = (
    "schema",
    "board",
    "complaint",
    "symptoms",
    "history",
    "findings",
    "readings",
    "actions",
    "skipped",
    "costs",
    "closed_jobs",
    "set",
    "ticket",
    "title",
    "notes",
)
COSTS = ("per_hour", "part", "board", "rework_minutes", "trial_minutes")


@dataclass(frozen=True)
class Case:
    """What a job file says, as far as it was understood; `records` are the events of a job that was
    told in order (case/2), and `besides` its clues that no event tells."""

    case_board: CaseBoard
    engine: Engine
    evidence: tuple[Evidence, ...]
    told: tuple[Told, ...]
    clues: Clues
    costs: ShopCosts
    closed_jobs: tuple[ClosedJob, ...]
    notes: Notes
    records: tuple[Record, ...] = ()
    besides: tuple[Beside, ...] = ()


def read_case(path: Path, engine_of: Callable[[Board], Engine], after: int | None = None) -> Case:
    """Read a job file, of a told job the first `after` entries.

    Raises JobError where it is no such file at all, BoardFileError where a profile that it names is
    damaged; whatever else can't be used is in the notes.
    """
    given = _document(path)
    notes = Notes()
    schema = given.get("schema", SCHEMA)
    if schema == TOLD or ("log" in given and schema != SCHEMA):
        return _told_case(given, path.parent, engine_of, after, notes)
    if schema != SCHEMA:
        notes.warn(f"The schema “{schema}” is not {SCHEMA}: read as far as it is understood.")
    for key in given:
        if key not in KNOWN:
            notes.leave({key: given[key]}, f"“{key}” is no part of {SCHEMA}")
    board = given.get("board")
    if isinstance(board, Mapping) or board is None:
        extra = {k: given[k] for k in ("topology", "rails", "legend") if k in given}
        board = {**extra, **(board or {})}
    case_board = board_of(board, path.parent, notes)
    engine = engine_of(case_board.board)
    evidence, told = readings_of(case_board, engine.table, given.get("readings"), notes)
    clues = clues_of(case_board, engine.table, given, notes)
    costs = _costs(given.get("costs"), notes)
    closed = _closed_jobs(given.get("closed_jobs"), notes)
    return Case(
        case_board=case_board,
        engine=engine,
        evidence=tuple(evidence),
        told=tuple(told),
        clues=clues,
        costs=costs,
        closed_jobs=tuple(closed),
        notes=notes,
    )


def _told_case(
    given: Mapping[str, object],
    folder: Path,
    engine_of: Callable[[Board], Engine],
    after: int | None,
    notes: Notes,
) -> Case:
    """A job that is told in order."""
    for key in given:
        if key not in KNOWN_TOLD:
            notes.leave({key: given[key]}, f"“{key}” is no part of {TOLD}")
    case_board = own_board_of(given, folder, notes)
    engine = engine_of(case_board.board)
    teller = Teller(engine.table, notes)
    age = given.get("set")
    years = age.get("age_years") if isinstance(age, Mapping) else None
    if isinstance(years, int | float) and not isinstance(years, bool):
        fact = age_fact(float(years))
        if fact:
            teller.record(HistoryNoted(fact, f"{years:g} years old"))
    entries = entries_of(given.get("log"), after, notes)
    tell(teller, entries)
    better = label_of_readings(engine.table, teller.job)
    if better is not None and not case_board.generic:
        rail, volts = better
        notes.warn(
            f"The {rail.title.lower()} reads {volts:g} V, still, in every state: the label may be "
            "wrong. Taken as it reads."
        )
        relabelled = own_board_of(given, folder, notes, {rail.volts: volts})
        notes.understood.clear()
        engine = engine_of(relabelled.board)
        case_board, teller = relabelled, Teller(engine.table, notes)
        tell(teller, entries)
    return Case(
        case_board=case_board,
        engine=engine,
        evidence=(),
        told=tuple(teller.told),
        clues=Clues((), (), ()),
        costs=_costs(given.get("costs"), notes),
        closed_jobs=tuple(_closed_jobs(given.get("closed_jobs"), notes)),
        notes=notes,
        records=teller.records,
        besides=tuple(teller.besides),
    )


def _document(path: Path) -> Mapping[str, object]:
    try:
        data = read_bounded(path, LARGEST_BOARD)
    except OSError as error:
        raise JobError(
            f"{path} can't be read: {error.strerror}.", "Name a job file in JSON."
        ) from error
    try:
        found = json.loads(data)
        json.dumps(found, ensure_ascii=False).encode()
    except UnicodeEncodeError as error:
        half = f"\\u{ord(error.object[error.start]):04x}"
        raise JobError(
            f"{path}: “{half}” is half of a letter.", "Write the letter itself, in UTF-8."
        ) from error
    except (ValueError, RecursionError) as error:
        where = f", line {error.lineno}" if isinstance(error, json.JSONDecodeError) else ""
        why = error.msg if isinstance(error, json.JSONDecodeError) else "not text in UTF-8"
        raise JobError(
            f"{path}{where}: this is no JSON ({why}).", "docs/formats.md has an example."
        ) from error
    if not isinstance(found, dict):
        raise JobError(f"{path} holds no object.", "A job file begins with { and names a board.")
    return found


def _costs(given: object, notes: Notes) -> ShopCosts:
    costs = ShopCosts()
    if given is None:
        return costs
    if not isinstance(given, Mapping):
        notes.leave(given, f"costs name {', '.join(COSTS)}")
        return costs
    known: dict[str, float] = {}
    for key, value in given.items():
        number = isinstance(value, int | float) and not isinstance(value, bool)
        if key in COSTS and number and value >= 0:
            known[key] = float(value)
            continue
        notes.leave({key: value}, f"costs are numbers from 0 and name {', '.join(COSTS)}")
    return ShopCosts(**known)


def _closed_jobs(given: object, notes: Notes) -> list[ClosedJob]:
    found: list[ClosedJob] = []
    if given is None:
        return found
    for entry in given if isinstance(given, list) else [given]:
        try:
            found.append(msgspec.convert(entry, ClosedJob))
        except msgspec.ValidationError as error:
            notes.leave(entry, f"a closed job names board, topology, suspect and role: {error}")
    return found
