"""A reading taken again that says the same is no second witness: it only rules out a slip."""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.observation import Form, Observation

SAME_SHARE, SAME_LEAST = 0.15, 0.05
"""Two readings at one point that differ by less, of the larger one and in SI units, say the same
[E]."""
MOVES_SHARE, MOVES_LEAST_SHARE = 0.4, 0.1
"""The same of the ends of a point that moves: a display catches them as it likes, the lower one
within a tenth of the upper [E]."""


def counting(table: PredictionTable, evidence: Sequence[Evidence]) -> list[bool]:
    """For each reading whether it stands: one of the dead board that most of those at its own
    candidate speak against is a slip. Where all differ, all stand."""
    own: dict[str, list[int]] = {}
    for number, item in enumerate(evidence):
        own.setdefault(item.candidate, []).append(number)
    found = [True] * len(evidence)
    for candidate, numbers in own.items():
        if table.candidates[table.index(candidate)].probe.live:
            continue
        seen = [evidence[k].observation for k in numbers]
        alike = [sum(says_the_same(one, other) for other in seen) for one in seen]
        for number, like in zip(numbers, alike, strict=True):
            found[number] = like == max(alike) or 2 * max(alike) <= len(numbers)
    return found


def repeats(evidence: Sequence[Evidence], table: PredictionTable | None = None) -> list[int]:
    """For each reading how often it was said: 0 where an earlier one at its point says the same, 1
    or more else. With a `table`, parts across the same two nets are one point, and what was read
    once on the dead board against twice or more is a slip: 0 as well."""
    times = [1] * len(evidence)
    first_said: dict[str | int, list[int]] = {}
    for number, item in enumerate(evidence):
        point = item.candidate if table is None else table.place_of[table.index(item.candidate)]
        before = first_said.setdefault(point, [])
        for earlier in before:
            if says_the_same(evidence[earlier].observation, item.observation):
                times[earlier] += 1
                times[number] = 0
                break
        else:
            before.append(number)
    if table is not None:
        for point, said in first_said.items():
            most = max(times[number] for number in said)
            if most > 1 and not table.candidates[int(point)].probe.live:
                for number in said:
                    times[number] = times[number] if times[number] > 1 else 0
    return times


def says_the_same(first: Observation, second: Observation) -> bool:
    """Whether two readings of one point agree within what a hand and a meter scatter."""
    if first.form is not second.form:
        return False
    if first == second:
        return True
    ends = ((first.low, second.low), (first.high, second.high))
    share, least = SAME_SHARE, SAME_LEAST
    if first.form in (Form.TICKING, Form.RANGE):
        share, least = MOVES_SHARE, MOVES_LEAST_SHARE * abs(first.high) + SAME_LEAST
    return all(abs(a - b) <= share * max(abs(a), abs(b)) + least for a, b in ends)
