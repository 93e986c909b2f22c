"""The step in front: what is to be read and why, in which phase the card is, what comes before."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

import numpy as np

from loose_rail.boards.profile import Board
from loose_rail.boards.reservoirs import Reservoir
from loose_rail.diagnosis.in_line import limiter_of
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.posterior import Suspect, leading
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.assessment import Assessment, Purpose
from loose_rail.diagnosis.proof.plan import SWITCHED_ON, next_proof
from loose_rail.jobs.state import JobState
from loose_rail.judgement.safety import SafetyFacts, to_measure
from loose_rail.judgement.transitions import Instruction, by_way_of, instructions
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState
from loose_rail.vocabulary.phase import Phase

PROOF_MINUTES = 2.0
"""What a reading of the proof takes at the bench [E]."""
MOST_LEADERS, LEAST_LEADER = 3, 0.03
"""Suspects that are named after a good and a bad reading: so many, from this share up."""


@dataclass(frozen=True, slots=True)
class Task:
    """What is read next, and why.

    `odd` is the probability that it will not read as a good board does; `if_bad` and `if_good` are
    the suspects that lead then; `proves` says what a reading after a repair shows.
    """

    candidate: Candidate
    purpose: Purpose
    minutes: float
    odd: float = 0.0
    if_good: tuple[Suspect, ...] = ()
    if_bad: tuple[Suspect, ...] = ()
    proves: str = ""


def task_of_step(table: PredictionTable, assessment: Assessment) -> Task | None:
    """The offered step, None where nothing is left worth reading."""
    step = assessment.next_step
    if step is None:
        return None
    column, chances = column_of(table, step.offer.column), assessment.probabilities
    return Task(
        candidate=step.offer.candidate,
        purpose=step.purpose,
        minutes=step.offer.minutes,
        odd=step.odd,
        if_good=leading(table, np.where(column.good, chances, 0.0), MOST_LEADERS, LEAST_LEADER),
        if_bad=leading(table, np.where(column.odd, chances, 0.0), MOST_LEADERS, LEAST_LEADER),
    )


def task_of_proof(
    table: PredictionTable, job: JobState, facts: SafetyFacts, beyond: Collection[str]
) -> Task | None:
    """The next reading of the proof of a repair."""
    point = next_proof(table, job, facts, beyond)
    if point is None:
        return None
    return Task(point.candidate, Purpose.PROOF, PROOF_MINUTES, proves=point.why)


def phase_of(
    board: Board, job: JobState, facts: SafetyFacts, task: Task | None, repair_failed: bool
) -> Phase:
    """What the card asks for now."""
    if job.stage == "rework":
        return Phase.RESERVOIR if asks_before_rework(board, job, facts) else Phase.NOTHING
    if job.stage == "power_up" and repair_failed:
        return Phase.NOTHING
    if not facts.acknowledged:
        return Phase.ACKNOWLEDGE
    if task is None:
        return Phase.NOTHING
    if asks_for_lamp(job):
        return Phase.LAMP
    if not job.state_known or job.board_state != task.candidate.state:
        return Phase.STATE
    if task.purpose is Purpose.PROOF and asks_for_light(job):
        return Phase.LIGHT
    todo = pending(board, job, facts, task)
    return Phase.RESERVOIR if todo and todo[0].measure else Phase.READING


def asks_for_lamp(job: JobState) -> bool:
    """Whether the lamp comes before any meter: it is in line, and what it does with the board as it
    is now was not told yet."""
    return job.state_known and job.board_state.lamp_watts > 0 and not job.lamp_last


def asks_for_light(job: JobState) -> bool:
    """Whether eyes come before the next reading of a proof: the repaired set is switched on, and
    nobody has said yet what its light and its picture do. No meter tells a tube that stays dark."""
    return job.state_known and job.board_state == SWITCHED_ON and not job.light


def asks_before_rework(board: Board, job: JobState, facts: SafetyFacts) -> bool:
    """Whether a reservoir of the board is still to be measured before its rework begins."""
    begun = job.verdict is None or "open" in job.rework_done
    out = job.state_known and not job.board_state.plugged
    return not begun and out and bool(to_measure(board, "", facts))


def asked_reservoir(
    board: Board, job: JobState, facts: SafetyFacts, task: Task | None
) -> Reservoir | None:
    """The reservoir whose volts are asked for now: before rework every one of the board, before a
    dead reading those beside its part."""
    if job.stage == "rework":
        part = ""
    elif task is None:
        return None
    else:
        part = task.candidate.probe.part
    return next(iter(to_measure(board, part, facts)), None)


def pending(
    board: Board, job: JobState, facts: SafetyFacts, task: Task | None
) -> tuple[Instruction, ...]:
    """What must be done before the task can be read."""
    if task is None:
        return ()
    now = job.board_state if job.state_known else UNPLUGGED
    probe = task.candidate.probe
    charged = to_measure(board, probe.part, facts) if probe.mode.needs_dead_board else ()
    target = task.candidate.state
    return instructions(board, now, target, charged, limiter_of(job, target.lamp_watts))


def state_to_confirm(job: JobState, target: BoardState) -> BoardState:
    """What is confirmed now on the way to a state: unplugged first, where nothing is known of the
    board or a jumper is about to be fitted or taken off."""
    return by_way_of(job.board_state, target) if job.state_known else UNPLUGGED
