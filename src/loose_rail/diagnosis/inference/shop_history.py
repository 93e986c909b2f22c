"""What the shop's own closed jobs teach: priors by board, by topology and by part make.

Dirichlet-style shrinkage: with k of n closed jobs ending at a suspect, its prior becomes
(20·prior + k)/(20 + n) (electrical reference section 14). Jobs on other boards of the topology
count by the job a part does, with a part of their weight. Nothing is remembered here: the same
closed jobs give the same priors, and forgetting is leaving jobs out.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.inference.posterior import log_prior
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.vocabulary.keys import mode_of

Floats = NDArray[np.float64]

PRIOR_JOBS = 20.0
TOPOLOGY_WEIGHT = 0.4
"""What a job on another board of the same topology counts, against one on this board [E]."""
SMALL_SAMPLE = 10
"""Jobs below which counts are told with a warning [E]."""


@dataclass(frozen=True, slots=True)
class ClosedJob:
    """A closed job: board, topology, and what was found bad. `role` is the job the part does,
    `make` what is printed on it, empty where not noted. `elsewhere`: another shop's, told by a
    board file."""

    board: str
    topology: str
    suspect: str
    role: str
    make: str = ""
    elsewhere: bool = False


@dataclass(frozen=True, slots=True)
class Count:
    """In how many of the shop's closed jobs of this board a suspect was at fault."""

    suspect: str
    count: int
    of_jobs: int

    @property
    def words(self) -> str:
        """Counts with their denominator and a warning where there are few."""
        few = "; few jobs, and only sets that failed reach the bench"
        return f"in {self.count} of {self.of_jobs} jobs of this board" + (
            few if self.of_jobs < SMALL_SAMPLE else ""
        )


def role_of_part(board: Board, ref: str) -> str:
    """The first job that a part does in the topology, empty where it has none."""
    return next((role for role, refs in board.roles.items() if ref in refs), "")


def counts_of(board: Board, jobs: Sequence[ClosedJob]) -> list[Count]:
    """Own counts of this very board, the most frequent first."""
    own = [job for job in jobs if job.board == board.id and not job.elsewhere]
    sums: dict[str, int] = {}
    for job in own:
        sums[job.suspect] = sums.get(job.suspect, 0) + 1
    found = [Count(suspect, count, len(own)) for suspect, count in sums.items()]
    return sorted(found, key=lambda count: (-count.count, count.suspect))


def learned_clue(table: PredictionTable, jobs: Sequence[ClosedJob]) -> Clue | None:
    """The shop's experience as a factor on the priors `(n_rows,)`; None without any job."""
    board = table.board
    own = [job for job in jobs if job.board == board.id]
    near = [job for job in jobs if job.board != board.id and job.topology == board.topology]
    if not own and not near:
        return None
    weight = len(own) + TOPOLOGY_WEIGHT * len(near)
    prior: dict[str, float] = {}
    for row, before in zip(table.rows, np.exp(log_prior(table)).tolist(), strict=True):
        prior[row.suspect] = prior.get(row.suspect, 0.0) + before
    seen = {suspect: 0.0 for suspect in prior}
    for job in own:
        if job.suspect in seen:
            seen[job.suspect] += 1.0
    for job in near:
        for suspect in _same_job(board, job, seen):
            seen[suspect] += TOPOLOGY_WEIGHT
    times = np.array(
        [
            (PRIOR_JOBS * prior[row.suspect] + seen[row.suspect])
            / ((PRIOR_JOBS + weight) * prior[row.suspect])
            for row in table.rows
        ]
    )
    away = sum(job.elsewhere for job in own)
    words = f"known from {len(own) - away} closed jobs of this board"
    if away:
        words += f", {away} at other shops"
    if near:
        words += f" and {len(near)} of its topology"
    reason = "what failed before fails again; only sets that failed reach the bench"
    return Clue("learned", "learned", words, reason, np.log(times))


def _same_job(board: Board, job: ClosedJob, known: dict[str, float]) -> list[str]:
    """The suspects here that do the job that failed there, in the same mode; one share for all."""
    mode = mode_of(job.suspect)
    refs = board.roles.get(job.role, [])[:1]
    return [f"{ref}:{mode}" for ref in refs if f"{ref}:{mode}" in known]
