"""The gate of a switch under power: driven, or not."""

from __future__ import annotations

from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.soft_evidence import Clue, by_row
from loose_rail.diagnosis.model.hypotheses import Hypothesis
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.vocabulary.keys import stage_of
from loose_rail.vocabulary.roles import Job

UNDRIVEN_BELOW_VOLTS = 0.3
"""A driven gate shows the mean of its pulses; one that is not stands on its source [P]."""
BY_ITS_DRIVER = {True: 0.06, False: 0.9}
"""Chance to read a gate as driven or not where its controller or the way to it failed [E]."""
BY_ITS_STAGE = {True: 0.6, False: 0.35}
"""The same where another part of its stage has: what has latched drives no more [E]."""
BY_OTHERS = {True: 0.6, False: 0.4}
"""The same where the fault is elsewhere [E]."""


def driven_stage(board: Board, switch: str) -> str:
    """The stage with a controller whose switch a part is; empty where it is none."""
    stages = {stage_of(job) for job in board.roles}
    driven = (one for one in sorted(stages) if f"{one}.{Job.CONTROLLER}" in board.roles)
    return next((one for one in driven if switch in board.roles.get(f"{one}.{Job.SWITCH}", ())), "")


def drive_clue(table: PredictionTable, switch: str, driven: bool, words: str) -> Clue:
    """What a gate says of its controller. Raises ValueError for a part that is no such switch."""
    stage = driven_stage(table.board, switch)
    if not stage:
        raise ValueError(f"{switch} is the switch of no stage")
    roles = table.board.roles
    of_current = {*roles.get(f"{stage}.{Job.PEAK}", ()), *roles.get(f"{stage}.{Job.SENSE}", ())}
    jobs = (Job.CONTROLLER, Job.DRIVE, Job.VCC, Job.FEED)
    way = {ref for job in jobs for ref in roles.get(f"{stage}.{job}", ())} - of_current
    own = {ref for job, refs in roles.items() if stage_of(job) == stage for ref in refs}

    def chance(row: Hypothesis) -> float:
        refs = {fault.ref for fault in row.faults}
        if refs & way:
            return BY_ITS_DRIVER[driven]
        return BY_ITS_STAGE[driven] if refs & own else BY_OTHERS[driven]

    reason = "a controller that works drives its switch, unless it is held or has latched"
    return by_row(table, f"drive:{switch}", words, reason, chance)


FED, FED_THOUGH_SHORTED = 0.9, 0.05
"""Chance to read a supply pin as standing, where it is sound and where it is shorted [E]."""


def fed_clue(table: PredictionTable, chip: str, words: str) -> Clue:
    """A controller whose supply pin stands under power: that pin is no short."""

    def chance(row: Hypothesis) -> float:
        shorted = any(fault.ref == chip and fault.mode == "short" for fault in row.faults)
        return FED_THOUGH_SHORTED if shorted else FED

    return by_row(table, f"fed:{chip}", words, "a shorted supply pin would hold it down", chance)


STARVED = {True: 0.08, False: 0.85}
"""Chance to read a controller's supply as standing or missing where what feeds it failed [E]."""
STARVED_DRIED = {True: 0.5, False: 0.3}
"""The same where its can has dried: the mean of what hunts there may look well [E]."""
FED_ELSEWHERE = {True: 0.9, False: 0.08}
"""The same where the fault is another [E]."""


def starved_clue(table: PredictionTable, stage: str, fed: bool, words: str) -> Clue:
    """What the supply pin of a stage's controller says under power, where the model reads none."""
    roles = table.board.roles
    jobs = (Job.VCC, Job.FEED, Job.CONTROLLER)
    way = {ref for job in jobs for ref in roles.get(f"{stage}.{job}", ())}
    chips = set(roles.get(f"{stage}.{Job.CONTROLLER}", ()))

    def chance(row: Hypothesis) -> float:
        own = [f for f in row.faults if f.ref in way and (f.ref not in chips or f.mode == "short")]
        if any(fault.mode == "dried" for fault in own):
            return STARVED_DRIED[fed]
        return STARVED[fed] if own else FED_ELSEWHERE[fed]

    return by_row(table, f"fed:{stage}", words, "a controller works where it is fed", chance)
