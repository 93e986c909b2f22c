"""The next few steps as a branch: if the reading is good, then this; if it is bad, then that."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.inference.posterior import Suspect, suspects_of
from loose_rail.diagnosis.planning.planner import Offer, Planner
from loose_rail.judgement.limits import limit
from loose_rail.judgement.safety import SafetyFacts

Floats = NDArray[np.float64]
LEAST_BRANCH = 0.02


@dataclass(frozen=True, slots=True)
class Branch:
    """One way on: how likely it is, who leads then, and the step that follows (None: verdict)."""

    good: bool
    probability: float
    leaders: tuple[Suspect, ...]
    step: Offer | None
    ways: tuple[Branch, ...] = ()


def branches(
    planner: Planner,
    probabilities: Floats,
    offer: Offer,
    facts: SafetyFacts,
    taken: Mapping[str, int],
    skipped: Sequence[str],
    depth: int = 2,
) -> tuple[Branch, ...]:
    """The two ways on from a reading, each followed to `depth` readings.

    Good is the outcome that a sound board gives most often; bad is any other.
    """
    sound = int(np.argmax(planner.chances[0, offer.column]))
    good = planner.chances[:, offer.column, sound]
    found = []
    for is_good, chance in ((True, good), (False, 1.0 - good)):
        weights = probabilities * chance
        share = float(weights.sum())
        if share < LEAST_BRANCH:
            continue
        then = weights / share
        found.append(_way(planner, then, is_good, share, offer, facts, taken, skipped, depth))
    return tuple(found)


def _way(
    planner: Planner,
    then: Floats,
    is_good: bool,
    share: float,
    offer: Offer,
    facts: SafetyFacts,
    taken: Mapping[str, int],
    skipped: Sequence[str],
    depth: int,
) -> Branch:
    leaders = tuple(suspects_of(planner.table, then)[:3])
    membership, _ = planner.part_rows()
    if float((membership @ then).max(initial=0.0)) >= limit("verdict_probability"):
        return Branch(is_good, share, leaders, None)
    state = offer.candidate.state
    after = replace(facts, state=state)
    if state.plugged:
        after = replace(after, bulk_volts=None, volts={})
    key = offer.candidate.key
    counts = {**taken, key: taken.get(key, 0) + 1}
    offers = planner.rank(then, after, counts, skipped)
    if not offers:
        return Branch(is_good, share, leaders, None)
    ways: tuple[Branch, ...] = ()
    if depth > 1:
        ways = branches(planner, then, offers[0], after, counts, skipped, depth - 1)
    return Branch(is_good, share, leaders, offers[0], ways)
