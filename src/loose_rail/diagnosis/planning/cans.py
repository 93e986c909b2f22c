"""Electrolytics before a verdict: dried ones are the commonest fault, behave in every way, and
seldom dry alone."""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.boards.co_failures import co_failures_of
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.finding import Finding
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.odd_parts import WORN_ALONG
from loose_rail.diagnosis.planning.before_verdict import Closing
from loose_rail.judgement.judge import Verdict
from loose_rail.vocabulary.keys import stage_of
from loose_rail.vocabulary.meter_mode import MeterMode
from loose_rail.vocabulary.roles import Job, role

OFTEN_ALONG, DRIES_TO = 0.15, ("dried", "open")
"""From this chance on a part of one batch is read along [E]; an electrolytic that reads open is the
last degree of one that dried."""
MAY_HAVE = 0.2
"""From this chance on a can has dried, whatever else it may be: a joint, or a part alike [E]."""
MOST_USUAL = 3
"""Electrolytics that are read before a best match stands [E]."""


def usual_can(closing: Closing, finding: Finding, evidence: Sequence[Evidence]) -> int | None:
    """The ESR of an electrolytic in the stages that read wrong, reservoirs first and in the order
    in which they were found, before a part that nothing confirms is blamed: dried ones are the
    commonest fault and behave in every way. At most a few; None where enough were read."""
    table, board = closing.planner.table, closing.planner.table.board
    read = {table.candidates[table.index(key)].probe.id for key in closing.taken}
    wrong: list[str] = []
    for item in evidence:
        column = column_of(table, table.index(item.candidate))
        if column.probe.live and column.judged(item.observation).verdict is Verdict.DISAGREES:
            wrong.append(stage_of(column.probe.observable))
    wrong += closing.dragged(finding)
    beside = [
        ref
        for job in (Job.RESERVOIR, Job.VCC)
        for stage in sorted(
            (one for one in board.stages if one.id in wrong),
            key=lambda one: wrong.index(one.id),
        )
        for ref in board.roles.get(role(stage.id, job), [])
        if is_a(board.component(ref), Trait.ELECTROLYTIC) and ref != finding.part
    ]
    probes = [f"{ref}.esr" for ref in dict.fromkeys(beside)]
    if sum(probe in read for probe in probes) >= MOST_USUAL:
        return None
    free = {
        candidate.probe.id: number
        for number, candidate in enumerate(table.candidates)
        if candidate.probe.id in set(probes) - read and closing.free(number)
    }
    return next((free[probe] for probe in probes if probe in free), None)


def can_of_a_mute_board(closing: Closing, finding: Finding) -> int | None:
    """The ESR of the standby reservoir, before a board is blamed that asks for nothing: on a rail
    that carries ripple its processor never starts, and a meter reads the rail as right. None where
    it was read, or the board is said to do otherwise."""
    if not closing.mute(finding):
        return None
    table, board = closing.planner.table, closing.planner.table.board
    refs = board.roles.get(role(stage_of(board.standby_point), Job.RESERVOIR), [])
    probes = [f"{ref}.esr" for ref in refs if is_a(board.component(ref), Trait.ELECTROLYTIC)]
    read = {table.candidates[table.index(key)].probe.id for key in closing.taken}
    if any(probe in read for probe in probes):
        return None
    free = (n for n, c in enumerate(table.candidates) if c.probe.id in probes and closing.free(n))
    return next(free, None)


def of_its_batch(closing: Closing, finding: Finding) -> int | None:
    """The ESR of a part that often dries along with the proven one, or with what was found worn
    beside it, of the same age and heat, whichever of them was the first: each is read, whatever
    the readings so far make of it."""
    table = closing.planner.table
    worn = {ref for ref, share in finding.companions if share >= WORN_ALONG}
    ends = {f"{ref}:dried" for ref in worn}
    own = (s for s in finding.suspects if s.part == finding.part and s.probability >= MAY_HAVE)
    if any(suspect.key.partition(":")[2] in DRIES_TO for suspect in own):
        ends.add(f"{finding.part}:dried")
    batch = set()
    for link in co_failures_of(table.board):
        if link.effect_mode != link.cause_mode or link.probability < OFTEN_ALONG:
            continue
        pair = {f"{link.cause}:{link.cause_mode}", f"{link.effect}:{link.effect_mode}"}
        batch |= {link.cause, link.effect} if ends & pair else set()
    batch.discard(finding.part)
    read = {table.candidates[table.index(key)].probe.id for key in closing.taken}
    free = [
        number
        for number, candidate in enumerate(table.candidates)
        if candidate.probe.part in batch
        and candidate.probe.mode is MeterMode.ESR
        and not candidate.probe.lifted
        and candidate.probe.id not in read
        and closing.free(number)
    ]
    return next(iter(free), None)
