"""Parts that their own reading finds out of limits: bad whatever else is, and renewed first.

A capacitor at five times its ESR, or a part that reads wrong by itself with a leg out, is bad
though no single cause explains all the rest: two things can be wrong with a set.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.finding import Finding, Standing
from loose_rail.diagnosis.inference.likelihood import Column, column_of
from loose_rail.diagnosis.inference.posterior import bad_probabilities, suspects_of
from loose_rail.diagnosis.inference.repeats import repeats
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Verdict
from loose_rail.judgement.spread import reads_a_resistor
from loose_rail.kernel.observation import Form
from loose_rail.vocabulary.meter_mode import MeterMode
from loose_rail.vocabulary.roles import Job, role

Floats = NDArray[np.float64]

OTHER_TIMES = 2.2
"""Up to so many times, or so little, another value is another make's and no fault [E]."""
BAD_BY_ITSELF, EXPECTED_BAD = 0.95, 0.5
"""How sure a part is bad that was read out of its limits at itself, twice, or once where it was
expected [E]."""
LOOKED_AT_AGAIN = 0.3
"""What is left of a board's share once its rail's own reservoir was found bad [E]."""


WORN_ALONG = 0.35
"""How likely a can is bad whose ESR is above twice its fresh value, beside one of its age that has
dried: either alone would be let pass more often than not [E]."""


@dataclass(frozen=True, slots=True)
class OddPart:
    """A part, the number of the reading at itself that is out of limits, its candidate, and how
    often that was read; `broken` where it is open in place: what broke it may be another part."""

    part: str
    number: int
    candidate: str
    times: int
    broken: bool = False


def odd_parts(table: PredictionTable, evidence: Sequence[Evidence]) -> tuple[OddPart, ...]:
    """Parts that most readings at themselves, by ESR or lifted, found out of their limits, the last
    one where as many say otherwise, and those that read open in place where a sound one conducts.
    """
    told: dict[str, tuple[int, OddPart | None]] = {}
    for item, times in zip(evidence, repeats(evidence), strict=True):
        if not times:
            continue
        column = column_of(table, table.index(item.candidate))
        probe = column.probe
        conducts = _conducts_itself(column)
        if probe.mode is not MeterMode.ESR and not probe.lifted and not conducts:
            continue
        if told.get(probe.id, (0, None))[0] > times:
            continue
        wrong = column.judged(item.observation).verdict is Verdict.DISAGREES
        if conducts:
            wrong = wrong and item.observation.form is Form.OPEN
        if probe.mode is MeterMode.ESR:  # less than fresh is a short beside it, no worn part
            wrong = wrong and item.observation.centre > float(column.low[0])
        odd = None
        apart = probe.lifted or probe.mode is MeterMode.ESR
        if wrong and not (apart and _another_value(column, item)):
            odd = OddPart(probe.part, item.number, item.candidate, times, conducts)
        told[probe.id] = times, odd
    found: dict[str, OddPart] = {}
    for one in (odd for _, odd in told.values() if odd is not None):
        known = found.get(one.part)
        if known is None or one.times > known.times:
            found[one.part] = one
    return tuple(found.values())


def worn_along(table: PredictionTable, dried: str, evidence: Sequence[Evidence]) -> list[str]:
    """Electrolytics whose last ESR is above what is good, where `dried` is one that was read so
    too: the same age and heat."""
    last: dict[str, bool] = {}
    for item in evidence:
        column = column_of(table, table.index(item.candidate))
        probe = column.probe
        if probe.mode is MeterMode.ESR and is_a(
            table.board.component(probe.part), Trait.ELECTROLYTIC
        ):
            above = item.observation.centre > float(column.low[0])
            wrong = column.judged(item.observation).verdict is not Verdict.AGREES
            last[probe.part] = wrong and above
    return [ref for ref, worn in last.items() if worn and ref != dried] if last.get(dried) else []


def _conducts_itself(column: Column) -> bool:
    """Whether a part reads through itself in place, resistor or junction: what lies beside it only
    conducts more, and a reading of OL is its own. A fuse does, and is never the cause."""
    probe, board = column.probe, column.board
    if probe.live or probe.lifted or not probe.part or not math.isfinite(float(column.low[0])):
        return False
    return probe.mode is MeterMode.DIODE or reads_a_resistor(board, probe)


def _another_value(column: Column, item: Evidence) -> bool:
    """Whether a part by itself, or the ESR of one, reads what another make of this board may have
    there: some other value, no short and no break."""
    seen, sound = item.observation, float(column.low[0])
    if seen.form is not Form.VALUE or not np.isfinite(sound):
        return False
    return sound / OTHER_TIMES < seen.low < sound * OTHER_TIMES


def _cans(table: PredictionTable, leader: str) -> set[str]:
    """Reservoirs of the rails that a leading board takes from; none where no board leads."""
    board = table.board
    if not is_a(board.component(leader), Trait.BOARD):
        return set()
    rails = {load.rail for load in board.loads if load.part == leader}
    return {ref for rail in rails for ref in board.roles.get(role(rail, Job.RESERVOIR), [])}


def _can_first(
    table: PredictionTable,
    finding: Finding,
    can: OddPart,
    also: dict[str, float],
    probabilities: Floats,
) -> Finding:
    """A board is not condemned for pulling a rail down whose own reservoir is bad: a dried can
    gives way to a good load. It is renewed first, with what else was found bad or worn (`also`),
    then the board is looked at again."""
    also = {ref: share for ref, share in also.items() if ref != can.part}
    known = {can.part, *also}
    others = [(ref, share) for ref, share in finding.companions if ref not in known]
    return Finding(
        part=can.part,
        probability=BAD_BY_ITSELF,
        standing=Standing.CONFIRMED,
        suspects=tuple(s for s in suspects_of(table, probabilities) if s.part == can.part),
        confirmed_by=(can.number,),
        companions=(
            *also.items(),
            (finding.part, min(finding.probability, LOOKED_AT_AGAIN)),
            *others,
        ),
        by_itself=True,
    )


def with_odd_parts(
    table: PredictionTable,
    finding: Finding | None,
    probabilities: Floats,
    evidence: Sequence[Evidence],
    open_ended: bool,
) -> Finding | None:
    """The finding with the parts that their own reading, taken twice or expected, finds out of
    limits: they are bad, though they may not be all. Beside what is confirmed they are companions;
    before what no reading confirms, and where no reading tells more (not `open_ended`), the first
    of them leads."""
    bad = bad_probabilities(table, probabilities)
    odd = [
        one
        for one in odd_parts(table, evidence)
        if one.part in bad and (one.times > 1 or bad[one.part] >= EXPECTED_BAD)
    ]
    standing = Standing.UNDECIDED if finding is None else finding.standing
    cans = [] if finding is None else [o for o in odd if o.part in _cans(table, finding.part)]
    if finding is not None and standing is Standing.CONFIRMED and cans:
        worn = worn_along(table, cans[-1].part, evidence)
        also = {**dict.fromkeys(worn, WORN_ALONG), **{o.part: BAD_BY_ITSELF for o in odd}}
        return _can_first(table, finding, cans[-1], also, probabilities)
    if finding is not None and standing is Standing.CONFIRMED:
        known = {finding.part, *finding.twins}
        known |= {ref for ref, share in finding.companions if share >= EXPECTED_BAD}
        more = {one.part: BAD_BY_ITSELF for one in odd if one.part not in known}
        for ref in worn_along(table, finding.part, evidence):
            if max(dict(finding.companions).get(ref, 0.0), more.get(ref, 0.0)) < WORN_ALONG:
                more[ref] = WORN_ALONG
        kept = [(ref, share) for ref, share in finding.companions if ref not in more]
        return replace(finding, companions=(*more.items(), *kept)) if more else finding
    suspects = suspects_of(table, probabilities)
    leading = [one for one in odd if not one.broken or one.part == suspects[0].part]
    if not leading or (standing is Standing.UNDECIDED and open_ended):
        return finding
    first = max(leading, key=lambda one: (bad.get(one.part, 0.0), one.part))
    others = {one.part: BAD_BY_ITSELF for one in odd}
    if finding is not None and standing is Standing.BEST_MATCH:
        others.setdefault(finding.part, bad.get(finding.part, 0.0))
        others = {**dict(finding.companions), **others}
    others = {**{ref: p for ref, p in bad.items() if p >= EXPECTED_BAD}, **others}
    others.pop(first.part, None)
    return Finding(
        part=first.part,
        probability=max(BAD_BY_ITSELF, bad.get(first.part, 0.0)),
        standing=Standing.CONFIRMED,
        suspects=tuple(s for s in suspects if s.part == first.part),
        confirmed_by=(first.number,),
        companions=tuple(sorted(others.items(), key=lambda item: (-item[1], item[0]))),
        by_itself=True,
    )
