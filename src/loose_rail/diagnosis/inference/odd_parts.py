"""Parts that their own reading finds out of limits: bad whatever else is, and renewed first.

A capacitor at five times its ESR, or a part that reads wrong by itself with a leg out, is bad
though no single cause explains all the rest: two things can be wrong with a set.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.repeats import repeats
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Verdict
from loose_rail.vocabulary.meter_mode import MeterMode


@dataclass(frozen=True, slots=True)
class OddPart:
    """A part, the number of the reading at itself that is out of limits, its candidate, and how
    often that was read."""

    part: str
    number: int
    candidate: str
    times: int


def odd_parts(table: PredictionTable, evidence: Sequence[Evidence]) -> tuple[OddPart, ...]:
    """Parts that the last reading at themselves, by ESR or lifted, found out of their limits."""
    last: dict[str, OddPart] = {}
    for item, times in zip(evidence, repeats(evidence), strict=True):
        if not times:
            continue
        column = column_of(table, table.index(item.candidate))
        probe = column.probe
        if probe.mode is not MeterMode.ESR and not probe.lifted:
            continue
        last.pop(probe.id, None)
        if column.judged(item.observation).verdict is Verdict.DISAGREES:
            last[probe.id] = OddPart(probe.part, item.number, item.candidate, times)
    found: dict[str, OddPart] = {}
    for one in last.values():
        known = found.get(one.part)
        if known is None or one.times > known.times:
            found[one.part] = one
    return tuple(found.values())
