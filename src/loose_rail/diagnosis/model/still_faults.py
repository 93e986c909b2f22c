"""Faults that leave every live point of a board still, and why that is right.

They are found on the dead board, by the eye, or not at all until they take something with them. The
reasons are data: data/still_faults.json.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from importlib import resources

import msgspec
import numpy as np

from loose_rail.boards.profile import Board
from loose_rail.diagnosis.model.hypotheses import Hypothesis
from loose_rail.diagnosis.model.predictions import NOTICED_SIGMAS
from loose_rail.diagnosis.model.table import PredictionTable, moved
from loose_rail.vocabulary.keys import job_of


class _Reason(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Kinds, modes (any, where there are none) and jobs that a reason is for; the first counts."""

    kinds: tuple[str, ...]
    jobs: tuple[str, ...]
    why: str
    modes: tuple[str, ...] = ()


@cache
def _reasons() -> tuple[_Reason, ...]:
    data = resources.files("loose_rail.diagnosis").joinpath("data/still_faults.json").read_bytes()
    return msgspec.json.decode(data, type=tuple[_Reason, ...])


def still_rows(table: PredictionTable) -> tuple[Hypothesis, ...]:
    """Single faults that move no live point in any state by twice its scatter."""
    seen = np.zeros(len(table.rows), dtype=bool)
    for number, candidate in enumerate(table.candidates):
        if candidate.probe.live:
            seen |= moved(table, number, NOTICED_SIGMAS)
    seen |= seen[table.index_when_present]
    rows = zip(table.rows, seen.tolist(), strict=True)
    return tuple(row for row, noticed in rows if len(row.faults) == 1 and not noticed)


def why_still(board: Board, row: Hypothesis) -> str:
    """Why a fault rightly moves nothing; empty where nobody has said so: then it is a gap."""
    fault = row.faults[0]
    kind = board.component(fault.ref).kind
    jobs = {job_of(role) for role, refs in board.roles.items() if fault.ref in refs}
    for one in _reasons():
        fits = kind in one.kinds and (not one.modes or fault.mode in one.modes)
        if fits and (jobs & set(one.jobs) if one.jobs else not jobs):
            return one.why
    return ""


def still_lines(table: PredictionTable) -> Iterator[str]:
    """The faults by their reason, as lines of a table."""
    by_reason: dict[str, list[str]] = {}
    for row in still_rows(table):
        fault = row.faults[0]
        found = by_reason.setdefault(why_still(table.board, row), [])
        if f"{fault.ref} {fault.mode}" not in found:
            found.append(f"{fault.ref} {fault.mode}")
    for why, names in by_reason.items():
        yield f"| {table.board.id} | {', '.join(names)} | {why} |"
