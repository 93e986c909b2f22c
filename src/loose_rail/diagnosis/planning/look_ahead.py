"""The next few steps as a branch: if the reading is good, then this; if it is bad, then that."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.inference.posterior import Suspect, leading
from loose_rail.diagnosis.planning.planner import Offer, Planner
from loose_rail.judgement.limits import limit
from loose_rail.judgement.safety import SafetyFacts

Floats = NDArray[np.float64]
LEAST_BRANCH = 0.02
"""A way on that is less likely is not shown [E]."""
MOST_LEADERS = 3
"""Suspects named at the end of a way."""


@dataclass(frozen=True, slots=True)
class Branch:
    """One way on: how likely it is, who leads then, and the step that follows (None: verdict)."""

    good: bool
    probability: float
    leaders: tuple[Suspect, ...]
    step: Offer | None
    ways: tuple[Branch, ...] = ()


@dataclass(frozen=True)
class Moment:
    """From where it is looked ahead: the safety facts, readings taken by candidate, probes that
    can't be reached."""

    facts: SafetyFacts
    taken: Mapping[str, int]
    skipped: Sequence[str]

    def after(self, offer: Offer) -> Moment:
        """The moment once an offer has been read."""
        state, key = offer.candidate.state, offer.candidate.key
        facts = replace(self.facts, state=state)
        if state.plugged:
            facts = replace(facts, bulk_volts=None, volts={})
        return Moment(facts, {**self.taken, key: self.taken.get(key, 0) + 1}, self.skipped)


def look_ahead(
    planner: Planner, probabilities: Floats, offer: Offer, moment: Moment, depth: int = 1
) -> tuple[Branch, ...]:
    """The two ways on from a reading, each followed to `depth` readings.

    Good is the outcome that a good board gives most often; bad is any other.
    """
    usual = int(np.argmax(planner.chances[0, offer.column]))
    good = planner.chances[:, offer.column, usual]
    found = []
    for is_good, chance in ((True, good), (False, 1.0 - good)):
        weights = probabilities * chance
        share = float(weights.sum())
        if share >= LEAST_BRANCH:
            found.append(
                _way(planner, weights / share, (is_good, share), moment.after(offer), depth)
            )
    return tuple(found)


def _way(
    planner: Planner, then: Floats, way: tuple[bool, float], moment: Moment, depth: int
) -> Branch:
    leaders = leading(planner.table, then, MOST_LEADERS)
    membership, _ = planner.part_rows()
    if float((membership @ then).max(initial=0.0)) >= limit("verdict_probability"):
        return Branch(*way, leaders, None)
    step = planner.best(then, moment.facts, moment.taken, moment.skipped)
    if step is None or depth < 2:
        return Branch(*way, leaders, step)
    return Branch(*way, leaders, step, look_ahead(planner, then, step, moment, depth - 1))
