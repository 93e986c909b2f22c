"""A reading taken again that says the same is no second witness: it only rules out a slip."""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.kernel.observation import Observation

SAME_SHARE, SAME_LEAST = 0.15, 0.05
"""Two readings at one point that differ by less, of the larger one and in SI units, say the same
[E]."""


def repeats(evidence: Sequence[Evidence]) -> list[int]:
    """For each reading how often it was said: 0 where an earlier one at its point says the same, 1
    or more else."""
    times = [1] * len(evidence)
    first_said: dict[str, list[int]] = {}
    for number, item in enumerate(evidence):
        before = first_said.setdefault(item.candidate, [])
        for earlier in before:
            if says_the_same(evidence[earlier].observation, item.observation):
                times[earlier] += 1
                times[number] = 0
                break
        else:
            before.append(number)
    return times


def says_the_same(first: Observation, second: Observation) -> bool:
    """Whether two readings of one point agree within what a hand and a meter scatter."""
    if first.form is not second.form:
        return False
    if first == second:
        return True
    ends = ((first.low, second.low), (first.high, second.high))
    return all(abs(a - b) <= SAME_SHARE * max(abs(a), abs(b)) + SAME_LEAST for a, b in ends)
