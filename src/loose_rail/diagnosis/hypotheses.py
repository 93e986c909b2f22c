"""What may be wrong: single faults, chains of co-failures, nothing, or something outside the model.

A row is one hypothesis; rows of one suspect (severities, consequences) are shown as one.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import product

from loose_rail.boards.faults import Fault, faults_of, find_faults
from loose_rail.boards.profile import Board, CoFailure

NOTHING = "nothing"
OUTSIDE = "outside"
PRIOR_NOTHING = 0.02
PRIOR_OUTSIDE = 0.03
"""Shares of jobs where the board is sound, or has a fault that is not in the model [E]."""


@dataclass(frozen=True, slots=True)
class Hypothesis:
    """Simultaneous faults with a prior probability. The first fault is the cause."""

    suspect: str
    title: str
    faults: tuple[Fault, ...]
    prior: float

    @property
    def key(self) -> str:
        """Stable key of the row."""
        return "+".join(fault.key for fault in self.faults) or self.suspect

    @property
    def part(self) -> str:
        """Designator of the causing part, empty for the two rows without one."""
        return self.faults[0].ref if self.faults else ""


def hypotheses_of(board: Board) -> tuple[Hypothesis, ...]:
    """Every row, with priors that sum to 1. The first row is the healthy board."""
    rows = [row for part in board.components for row in _rows_of_part(board, part.ref)]
    total = sum(row.prior for row in rows)
    share = (1.0 - PRIOR_NOTHING - PRIOR_OUTSIDE) / total
    return (
        Hypothesis(NOTHING, "Nothing wrong with this board", (), PRIOR_NOTHING),
        *(Hypothesis(r.suspect, r.title, r.faults, r.prior * share) for r in rows),
        Hypothesis(OUTSIDE, "Something outside the model", (), PRIOR_OUTSIDE),
    )


def _rows_of_part(board: Board, ref: str) -> Iterator[Hypothesis]:
    for fault in faults_of(board.component(ref)):
        links = [
            link
            for link in board.co_failures
            if link.cause == fault.ref and link.cause_mode == fault.mode
        ]
        title = f"{fault.ref} {fault.title}"
        for happened in product((False, True), repeat=len(links)):
            probability = fault.rate
            faults = [fault]
            for link, yes in zip(links, happened, strict=True):
                probability *= link.probability if yes else 1.0 - link.probability
                if yes:
                    faults.append(_consequence(board, link, fault.severity))
            yield Hypothesis(fault.suspect, title, tuple(faults), probability)


def _consequence(board: Board, link: CoFailure, severity: int) -> Fault:
    options = find_faults(board, link.effect, link.effect_mode)
    return options[min(severity, len(options) - 1)]
