"""The jobs of the benchmark: sets with hidden faults, what their owners say, and how it went."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from pathlib import Path

import numpy as np

from benchmarks.own_boards import OWN_BOARDS
from benchmarks.owners import complaint, owner_notices
from benchmarks.simulated_sets import SimulatedSet, as_predicted, as_row, simulated_sets
from benchmarks.technician import Outcome, Rule, work_through
from benchmarks.true_faults import (
    LEVELS,
    MOST_TRIES,
    Level,
    another_of_its_kind,
    draw_causes,
    of_any_degree,
    works_as,
)
from loose_rail.boards.faults import Fault
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.own.file import board_of_file
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.evidence.symptoms import Symptom
from loose_rail.diagnosis.explain.levels import board_level_of, board_shares
from loose_rail.diagnosis.inference.finding import Finding, Standing
from loose_rail.diagnosis.inference.posterior import suspects_of
from loose_rail.diagnosis.model.cache import table_for
from loose_rail.diagnosis.model.hypotheses import Hypothesis
from loose_rail.diagnosis.model.predictions import noticed
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.engine import Engine

ALSO_REPLACED = 0.35
"""A companion is replaced as well from here: `stopping.ShopCosts` has the sum."""
BATCH = 24


@dataclass(frozen=True)
class Job:
    """A set, the row of its fault, what its owner says, and whether its owner notices a thing."""

    simulated: SimulatedSet
    row: int
    said: tuple[Symptom, ...]
    only_a_meter: bool


@dataclass
class Result:
    """One job done by one rule; `kind` is single, pair or left_out."""

    board: str
    kind: str
    job: int
    rule: str
    truth: str
    named: str
    probability: float
    standing: str
    right_board: bool
    right_lead: bool
    right_repair: bool
    right_with_groups: bool
    in_vain: int
    minutes: float
    readings: int
    state_changes: int
    unsafe: int
    slips: int
    supply_good: bool = False
    level: str = LEVELS[0].name
    only_a_meter: bool = False

    def plain(self) -> dict[str, object]:
        """As JSON."""
        return asdict(self)


def board_ids(level: Level) -> list[str]:
    """The boards of a level: shipped ones, or some composed from their legends."""
    return [one.id for one in OWN_BOARDS] if level.own else list(shipped_ids())


def engine_of(board_id: str, directory: Path) -> Engine:
    """The engine of a shipped or a composed board, its table from the cache."""
    own = {one.id: one for one in OWN_BOARDS}
    board = board_of_file(own[board_id]) if board_id in own else shipped_board(board_id)
    return Engine(table_for(board, directory))


def draw_rows(
    table: PredictionTable, kind: str, number: int, rng: np.random.Generator
) -> list[int]:
    """Rows drawn from the priors: single faults, or pairs and more that fail together."""
    fits = np.array(
        [(len(row.faults) == 1) if kind != "pair" else len(row.faults) > 1 for row in table.rows]
    )
    prior = np.where(fits, [row.prior for row in table.rows], 0.0)
    return [int(k) for k in rng.choice(len(prior), number, p=prior / prior.sum())]


def draw_jobs(
    table: PredictionTable,
    kind: str,
    number: int,
    rng: np.random.Generator,
    level: Level = LEVELS[0],
) -> list[Job]:
    """Sets with hidden faults and what their owners say of what these very sets do.

    A set in which no meter finds anything is not brought in: another is drawn in its place. Where
    only a meter does, the job says so.
    """
    found: list[Job] = []
    while len(found) < number:
        many = min(BATCH, number + 4 - len(found))
        by_practice = level.degrees and kind != "pair"
        rows = draw_causes(table, many, rng) if by_practice else draw_rows(table, kind, many, rng)
        boards = sold_boards(table, level, many, rng) if level.values_log else ()
        degree = of_any_degree if level.degrees else as_predicted
        hidden = [table.rows[row].faults for row in rows]
        sets = simulated_sets(table.board, hidden, rng, degree, boards)
        good = simulated_sets(table.board, [()] * many, rng, boards=boards) if boards else sets
        for one, well, row in zip(sets, good, rows, strict=True):
            own = as_row(one, table, row, well if boards else None)
            if noticed(own)[1]:
                said = tuple(complaint(own, 1, rng))
                found.append(Job(one, row, said, not owner_notices(own)))
    return found[:number]


def sold_boards(
    table: PredictionTable, level: Level, number: int, rng: np.random.Generator
) -> list[Board]:
    """Boards of the kind that work: drawn until enough of them do."""
    live = [k for k, c in enumerate(table.candidates) if c.probe.live and c.probe.rail]
    found: list[Board] = []
    for _ in range(MOST_TRIES):
        drawn = [another_of_its_kind(table.board, level.values_log, rng) for _ in range(number)]
        sets = simulated_sets(table.board, [()] * number, rng, boards=drawn)
        wanted = table.low[0]
        found += [b for b, s in zip(drawn, sets, strict=True) if works_as(s.low[0], wanted, live)]
        if len(found) >= number:
            return found[:number]
    return [found[k % len(found)] for k in range(number)] if found else [table.board] * number


def without(table: PredictionTable, truth: Hypothesis) -> PredictionTable:
    """The table with every row of the true cause left out."""
    cause = truth.faults[0]
    keep = np.array([not any(_same(f, cause) for f in row.faults) for row in table.rows])
    total = sum(row.prior for row, kept in zip(table.rows, keep, strict=True) if kept)
    rows = tuple(
        replace(row, prior=row.prior / total)
        for row, kept in zip(table.rows, keep, strict=True)
        if kept
    )
    return PredictionTable(
        board=table.board,
        rows=rows,
        candidates=table.candidates,
        low=table.low[keep],
        high=table.high[keep],
        hertz=table.hertz[keep],
        peak=table.peak[keep],
        late=table.late[keep],
        ticking_hertz={key: values[keep] for key, values in table.ticking_hertz.items()},
        lamp_glow={key: values[keep] for key, values in table.lamp_glow.items()},
        primary_short=table.primary_short[keep],
    )


def _same(fault: Fault, cause: Fault) -> bool:
    return fault.ref == cause.ref and cause.mode in (fault.mode, fault.of)


def do(
    engine: Engine,
    full: PredictionTable,
    job: Job,
    kind: str,
    rule: tuple[str, Rule],
    seed: Sequence[int],
    clues: Sequence[Clue] = (),
    level: Level = LEVELS[0],
) -> Result:
    """Work through one job and hold the verdict against the truth."""
    rng = np.random.default_rng(seed)
    lead = float(rng.uniform(*level.leads))
    went = work_through(engine, job.simulated, job.said, rule[1], rng, clues=clues, lead_ohms=lead)
    found = judged(engine, full, job.row, kind, rule[0], seed[-1], went)
    return replace(found, level=level.name, only_a_meter=job.only_a_meter)


def judged(
    engine: Engine,
    full: PredictionTable,
    row: int,
    kind: str,
    rule: str,
    number: int,
    went: Outcome,
) -> Result:
    """The outcome of a job held against what was wrong."""
    table, truth = engine.table, full.rows[row]
    finding = went.assessment.finding
    named = named_parts(went)
    failed = {fault.ref for fault in truth.faults}
    twins = _twins_of(finding)
    may_be = {ref for ref, _ in finding.companions} if finding and named else set()
    level = board_shares(table, went.assessment.probabilities)[0].name
    supply = went.assessment.supply
    if not named and supply is not None:  # the answer: the supply is good, look at these
        twins = {ref for ref, _ in (*supply.elsewhere, *supply.goes)} | set(supply.odd)
    if finding is not None and named:
        level = _level_of_part(table, finding.part)
    levels = {level} | {_level_of_part(table, ref) for ref in twins}
    return Result(
        board=table.board.id,
        kind=kind,
        job=number,
        rule=rule,
        truth=truth.key,
        named="+".join(sorted(named)) or suspects_of(table, went.assessment.probabilities)[0].key,
        probability=finding.probability if finding else 0.0,
        standing=str(finding.standing) if finding else str(Standing.UNDECIDED),
        right_board=board_level_of(table.board, truth) in levels,
        right_lead=bool(failed & (twins | ({finding.part} if finding and named else set()))),
        right_repair=failed <= named,
        right_with_groups=failed <= named | twins | may_be,
        in_vain=len(named - failed),
        minutes=went.minutes,
        readings=went.readings,
        state_changes=went.state_changes,
        unsafe=len(went.unsafe),
        slips=went.slips,
        supply_good=supply is not None and not named,
    )


def named_parts(went: Outcome) -> set[str]:
    """The parts that would be replaced now: none where the verdict stands open."""
    finding = went.assessment.finding
    if finding is None or finding.standing is Standing.UNDECIDED:
        return set()
    also = {ref for ref, share in finding.companions if share >= ALSO_REPLACED}
    return {finding.part} | also


def _twins_of(finding: Finding | None) -> set[str]:
    return set(finding.twins) if finding and finding.standing is not Standing.UNDECIDED else set()


def _level_of_part(table: PredictionTable, ref: str) -> str:
    return board_level_of(table.board, next(row for row in table.rows if row.part == ref))
