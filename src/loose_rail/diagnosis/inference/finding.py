"""When the evidence is enough: how sure, by what proof, and what is still unproved.

"Best match" until a direct measurement at the part itself disagrees with a sound part; then
"confirmed". A part that can't be measured in place stays a best match and says so.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.co_failures import co_failures_of
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.good_by_itself import TWICE, good_by_itself
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.posterior import (
    Suspect,
    bad_probabilities,
    part_probabilities,
    suspects_of,
)
from loose_rail.diagnosis.inference.repeats import counting
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Verdict, expected_reading, judge
from loose_rail.judgement.limits import limit
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]

COMPANION_PROBABILITY = 0.05
TELLING_LOG_ODDS = 1.0
"""A direct reading confirms where it favours its part by more than e to 1."""


class Standing(StrEnum):
    """How far the evidence has come."""

    UNDECIDED = "undecided"
    BEST_MATCH = "best_match"
    CONFIRMED = "confirmed"


@dataclass(frozen=True, slots=True)
class Finding:
    """The leading part: probability, standing, its suspects, and the readings that confirm it.

    `twins` are parts whose fault no reading tells from it; the probability is theirs together.
    `companions` are other parts that may be bad as well, with their probabilities. `waits_for` are
    the parts that may have opened a fuse and were not read: until then it is no verdict.
    `by_itself` says that its own reading alone condemns it, whatever the rest points to;
    `exchanged` that the set runs with a good one in its place, `alone` that it measured bad off the
    set.
    """

    part: str
    probability: float
    standing: Standing
    suspects: tuple[Suspect, ...]
    confirmed_by: tuple[int, ...]
    twins: tuple[str, ...] = ()
    companions: tuple[tuple[str, float], ...] = ()
    waits_for: tuple[str, ...] = ()
    by_itself: bool = False
    exchanged: bool = False
    alone: bool = False


def finding_of(
    table: PredictionTable,
    probabilities: Floats,
    evidence: Sequence[Evidence],
    ranked: Sequence[Suspect] | None = None,
) -> Finding | None:
    """The leading part and how well it is proved; None where no part leads.

    The part that is the likeliest cause leads; how sure that it is bad counts the rows where it
    is a consequence too, so that two that fail together don't keep each other in doubt. `ranked`
    are all suspects in order, where they are known already.
    """
    causes = part_probabilities(table, probabilities)
    if not causes:
        return None
    parts = bad_probabilities(table, probabilities)
    part = max(causes, key=lambda ref: (causes[ref], ref))
    sure = parts[part] >= sure_from(table, part)
    direct = direct_confirmations(table, part, evidence, probabilities)
    others = sorted(((ref, p) for ref, p in parts.items() if ref != part), key=_likeliest)
    companions = tuple((ref, p) for ref, p in others if p >= COMPANION_PROBABILITY)
    standing = Standing.UNDECIDED
    cleared = max(good_by_itself(table, part, evidence, probabilities).values(), default=0)
    if sure and cleared < TWICE:  # no part is renewed that is good by itself, whatever else reads
        standing = Standing.CONFIRMED if direct else Standing.BEST_MATCH
    every = suspects_of(table, probabilities) if ranked is None else ranked
    suspects = tuple(s for s in every if s.part == part)
    if not (direct and sure) and cleared < TWICE:
        twins, together = _twins(table, part, probabilities)
        if twins and together >= limit("verdict_probability"):
            found = Finding(
                part=part,
                probability=together,
                standing=Standing.BEST_MATCH,
                suspects=suspects,
                confirmed_by=direct,
                twins=twins,
                companions=companions,
            )
            return _held_back(table, found, evidence)
    found = Finding(
        part=part,
        probability=parts[part],
        standing=standing,
        suspects=suspects,
        confirmed_by=direct,
        twins=(),
        companions=companions,
    )
    return _held_back(table, found, evidence)


def _held_back(table: PredictionTable, finding: Finding, evidence: Sequence[Evidence]) -> Finding:
    """An open fuse is an effect: no verdict on one before everything that may have opened it was
    read (product rule; electrical reference section 14)."""
    waits = unread_causes(table, finding.part, evidence)
    if not waits or finding.standing is Standing.UNDECIDED:
        return finding
    return replace(finding, standing=Standing.UNDECIDED, waits_for=waits)


def unread_causes(
    table: PredictionTable, part: str, evidence: Sequence[Evidence]
) -> tuple[str, ...]:
    """The parts whose failure opens this fuse and that were not read on the dead board; none for a
    part that is no fuse."""
    if not is_a(table.board.component(part), Trait.FUSE):
        return ()
    read = set()
    for item in evidence:
        probe = table.candidates[table.index(item.candidate)].probe
        if not probe.live:
            read.add(probe.part)
    causes = dict.fromkeys(
        link.cause for link in co_failures_of(table.board) if link.effect == part
    )
    return tuple(ref for ref in causes if ref not in read)


def sure_from(table: PredictionTable, part: str) -> float:
    """The probability that a verdict on a part asks for: more for a whole board than for a part."""
    is_board = is_a(table.board.component(part), Trait.BOARD)
    return limit("board_verdict_probability" if is_board else "verdict_probability")


def _likeliest(item: tuple[str, float]) -> tuple[float, str]:
    return -item[1], item[0]


def _twins(
    table: PredictionTable, part: str, probabilities: Floats
) -> tuple[tuple[str, ...], float]:
    """Parts that read like this one everywhere, and their probability together with it.

    None where a good board reads so too: a fault that nothing shows is no finding.
    """
    own = np.array([row.part == part for row in table.rows])
    leader = int(np.argmax(np.where(own, probabilities, -1.0)))
    alike = table.indistinguishable_from(leader)
    if alike[0]:
        return (), 0.0
    parts = {table.rows[k].part for k in np.flatnonzero(alike)} - {part, ""}
    return tuple(sorted(parts)), float(probabilities[alike | own].sum())


CONFIRMS_TIMES = 2.0
"""A reading confirms what foresees it so many times better than a good board does [E]."""


def direct_confirmations(
    table: PredictionTable,
    part: str,
    evidence: Sequence[Evidence],
    probabilities: Floats | None = None,
) -> tuple[int, ...]:
    """Numbers of the cold readings at the part itself that disagree with a good board, and agree
    with what is thought to be wrong with it (`probabilities` `(n_rows,)`, where they are known).

    A low reading in place proves nothing where a part beside it would read the same; lifted does.
    For a board behind a connector the pair of readings with its cable on and off takes that place.
    """
    found: list[int] = []
    bad = np.array([any(f.ref == part for f in row.faults) for row in table.rows])
    weights = bad * (1.0 if probabilities is None else probabilities)
    counts = counting(table, evidence)
    for item, holds in zip(evidence, counts, strict=True):
        number = table.index(item.candidate)
        column = column_of(table, number)
        if column.probe.part != part or column.probe.live or not holds:
            continue
        sound = expected_reading(table.board, column.probe, float(column.low[0]))
        if judge(column.probe, item.observation, sound).verdict is not Verdict.DISAGREES:
            continue
        likely = column.likelihood(item.observation)
        if probabilities is not None and (
            float(weights @ likely) < CONFIRMS_TIMES * float(weights.sum() * likely[0])
        ):
            continue
        lower = item.observation.centre < float(column.low[0])
        if not (lower and not column.probe.lifted and _hidden(table, number, evidence)):
            found.append(item.number)
    return tuple(found) or _pair_confirmation(table, part, evidence)


def beside_in_doubt(
    table: PredictionTable, part: str, evidence: Sequence[Evidence]
) -> tuple[str, ...]:
    """The parts that may be what reads low at this one, as far as they can be lifted and were not
    found good so."""
    found: list[str] = []
    for item in evidence:
        number = table.index(item.candidate)
        probe = table.candidates[number].probe
        if probe.part == part and not probe.live and not probe.lifted:
            found += _hidden(table, number, evidence)
    return tuple(ref for ref in dict.fromkeys(found) if ref in table.liftable)


def _hidden(table: PredictionTable, number: int, evidence: Sequence[Evidence]) -> tuple[str, ...]:
    """The parts that hide what is low at a candidate; of those beside a part that can't be lifted
    itself, only what was not found good by itself."""
    hiding = table.hiding(number)
    if table.candidates[number].probe.part in table.liftable:
        return hiding
    good = set()
    for item in evidence:
        column = column_of(table, table.index(item.candidate))
        if column.probe.lifted and column.judged(item.observation).verdict is Verdict.AGREES:
            good.add(column.probe.part)
    return tuple(ref for ref in hiding if ref not in good)


def _pair_confirmation(
    table: PredictionTable, part: str, evidence: Sequence[Evidence]
) -> tuple[int, ...]:
    """The rail that was wrong with a board and right without it: without the main cable, or for one
    on a plug of its own with that plug alone off."""
    if not is_a(table.board.component(part), Trait.BOARD):
        return ()
    own_plug = any(candidate.state.without == part for candidate in table.candidates)
    seen: dict[tuple[str, bool], tuple[int, bool]] = {}
    for item in evidence:
        candidate = table.candidates[table.index(item.candidate)]
        state = candidate.state
        without = state.without == part if own_plug else not state.main_cable
        other = state.without not in ("", part) or (own_plug and not state.main_cable)
        if candidate.probe.live and candidate.probe.rail and not other:
            column = column_of(table, table.index(item.candidate))
            sound = expected_reading(table.board, column.probe, float(column.low[0]))
            good = judge(column.probe, item.observation, sound).verdict is Verdict.AGREES
            seen[candidate.probe.id, without] = (item.number, good)
    for (probe, without), (number, good) in seen.items():
        partner = seen.get((probe, not without))
        if not without and partner and not good and partner[1]:
            return (number, partner[0])
    return ()


def confirming_columns(
    table: PredictionTable, part: str, probabilities: Floats, taken: Sequence[str]
) -> list[int]:
    """Cold candidates at the part where its leading fault predicts something abnormal.

    In place before lifted, the most telling first; empty where the part shows nothing either way.
    """
    rows = [k for k, row in enumerate(table.rows) if row.part == part]
    leader = max(rows, key=lambda k: probabilities[k])
    found: list[tuple[int, float, int]] = []
    for number, candidate in enumerate(table.candidates):
        probe = candidate.probe
        if probe.part != part or probe.live or candidate.key in taken:
            continue
        column = column_of(table, number)
        if column.open[0] != column.open[leader]:
            found.append((int(probe.lifted), -99.0, number))
            continue
        if column.open[0]:
            continue
        gap = abs(float(column.y[0] - column.y[leader])) / float(column.sigma[0])
        least = 1.5 if probe.mode is MeterMode.ESR else limit("disagrees_sigmas")
        if gap > least:
            found.append((int(probe.lifted), -gap, number))
    return [number for _, _, number in sorted(found)]
