"""Ends and openings of a plan: the reading that opens the way to full power, parts that nothing
tells apart, and a set that is seen at its work."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.runs import SeenRunning
from loose_rail.diagnosis.inference.finding import Finding, Standing, sure_from
from loose_rail.diagnosis.inference.posterior import part_probabilities
from loose_rail.diagnosis.inference.short_excluded import proof_keys
from loose_rail.diagnosis.inference.supply_good import unread_rails
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.planner import Offer, Planner, reachable
from loose_rail.judgement.limits import limit
from loose_rail.judgement.safety import SafetyFacts

Floats = NDArray[np.float64]

UNLOCK_TIMES = 1.5
"""How much more a reading at full power must tell for the bulk to be read first for it [E]."""
SEEN_SHORT = 0.5
"""Where shorts of the primary hold as much, what tells most finds them after a bright lamp; with
less, what was said speaks against it, and the primary is read before anything else [E]."""
MOST_IN_GROUP = 4
LEAST_LEADER = 0.2
GROUP_NATS_PER_MINUTE = 0.02
"""Suspects are one group where no reading tells them apart at more than this rate [E]."""
LEAST_NATS_PER_MINUTE = 0.006
"""Testing on ends where half an hour would tell less than a coin's toss [E]."""
SOAKED_SOUND, WORKING_SOUND = 0.6, 0.5
"""A set that ran through a soak, or is at its work with its rails right, and has nothing wrong by
so much, is watched instead of read [E]."""


def does_its_work(
    table: PredictionTable,
    probabilities: Floats,
    evidence: Sequence[Evidence],
    running: SeenRunning,
) -> bool:
    """Whether a set that most likely has nothing wrong was seen at its work, through a soak or
    with its rails read: what is left comes and goes, and no single reading shows it."""
    if running.soaked:
        return bool(probabilities[0] >= SOAKED_SOUND)
    if not running.lit or probabilities[0] < WORKING_SOUND:
        return False
    kinds = {stage.id: stage.kind for stage in table.board.stages}
    return not any(kinds.get(rail) not in ("led", "ccfl") for rail in unread_rails(table, evidence))


def group_of(
    planner: Planner, finding: Finding, probabilities: Floats, offers: Sequence[Offer]
) -> Finding:
    """The finding as a group of parts that no reading on offer tells apart, where they are sure
    together; else as it is."""
    causes = part_probabilities(planner.table, probabilities)
    members: list[str] = []
    together, wanted = 0.0, sure_from(planner.table, finding.part)
    for part in sorted(causes, key=lambda ref: (-causes[ref], ref))[:MOST_IN_GROUP]:
        members.append(part)
        together += causes[part]
        if together >= wanted:
            break
    sure = together >= wanted
    if not sure or len(members) == 1 or causes[members[0]] < LEAST_LEADER:
        return finding
    inside = np.array([row.part in members for row in planner.table.rows])
    told = planner.information(np.where(inside, probabilities, 0.0) / together)
    if any(told[o.column] > GROUP_NATS_PER_MINUTE * o.minutes for o in offers):
        return finding
    return replace(
        finding,
        probability=together,
        standing=Standing.BEST_MATCH,
        twins=tuple(ref for ref in members if ref != finding.part),
    )


def unlocking(
    planner: Planner,
    keys: frozenset[str],
    probabilities: Floats,
    facts: SafetyFacts,
    offers: Sequence[Offer],
    taken: Mapping[str, int],
    skipped: Sequence[str],
) -> int | None:
    """The next reading that shows the dead primary free of shorts, where one at full power
    would tell far more than any allowed one and only that proof stands before it; after
    a lamp that was full bright, where shorts don't lead anyway or nothing tells more."""
    table = planner.table
    if facts.primary_short_excluded or facts.over_volts or table.board.adapter_fed:
        return None
    own = [key for key in proof_keys(table.board) if key in keys]
    short = float(probabilities[table.primary_short].sum())
    left = [key for key in own if key not in taken]
    out_of_reach = any(table.candidates[table.index(key)].probe.id in skipped for key in left)
    if facts.bright_lamp:
        done = not left or out_of_reach or (short >= SEEN_SHORT and still_tells(offers))
        return None if done else table.index(left[0])
    if not left or out_of_reach or short >= limit("short_excluded_probability"):
        return None
    free = replace(facts, primary_short_excluded=True)
    wider = planner.best(probabilities, free, taken, skipped)
    if wider is None or reachable(table.board, wider.candidate.state, facts):
        return None
    best = max((offer.information for offer in offers), default=0.0)
    if wider.information < UNLOCK_TIMES * best:
        return None
    return table.index(left[0])


def still_tells(offers: Sequence[Offer]) -> bool:
    """Whether any reading is worth its minutes."""
    return any(o.information > LEAST_NATS_PER_MINUTE * o.minutes for o in offers)


def tells_well(offers: Sequence[Offer]) -> bool:
    """Whether any reading still parts the suspects at a good rate."""
    return any(o.information > GROUP_NATS_PER_MINUTE * o.minutes for o in offers)
