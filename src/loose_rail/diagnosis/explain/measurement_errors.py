"""Readings that contradict the rest, and the slip that would explain each.

A reading is suspicious where the other evidence leaves it less likely than a gross error. The
likely slip is the transformation of it that the rest would expect: a decimal place, the leads, the
pin beside it, another state of the board, a gate that still holds a charge.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.soft_evidence import Clue, joint_log
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.posterior import log_prior, reading_logs
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Verdict
from loose_rail.judgement.limits import limit
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]
Meant = tuple[str, str, Observation]

FITS_TIMES = 12.0
"""A slip is named where the reading so changed is so many times likelier than a gross error [E]."""
CONTRADICTS_SHARE = 0.55
"""More than this chance that the reading is a gross error: read it again [E]."""
LEAST_OTHERS = 2
"""Readings that must stand beside one before it is called a slip."""
NOTHING_VOLTS = 0.3
"""Below this a live point reads as if nothing were there [E]."""
LIVE_SOUND_VOLTS = 1.0
"""Above this it should be plain that something is there [E]."""
SHORT_OHMS = 20.0
"""Below this a beeper beeps [P]."""
AC_ON_DC = 2.221
"""What an averaging AC range shows of a DC volt: 2 · 1.1107 (textbook)."""
DECADES, PREFIXES = (10.0, 0.1), (1000.0, 0.001)
"""A point slips by one place anywhere; a prefix is misread in ohms and farads. No meter shows 0.292
V for 292 V [P]."""
AS_SOUND = "as a sound board reads: it stands against the others, so read it and them once more"
"""What is said of a right-looking reading: no slip is laid at its door."""


@dataclass(frozen=True, slots=True)
class Slip:
    """A reading to take again: its number, the chance that it is wrong, the likely slip."""

    number: int
    candidate: str
    probability: float
    words: str


def slips_of(
    table: PredictionTable, evidence: Sequence[Evidence], clues: Sequence[Clue] = ()
) -> list[Slip]:
    """Contradicting readings, the most suspicious first; none where there is nothing to hold
    against them."""
    if len(evidence) <= LEAST_OTHERS:
        return []
    logs = reading_logs(table, evidence)
    base = log_prior(table) + joint_log(clues, len(table.rows))
    total = logs.sum(axis=0)
    found: list[Slip] = []
    for number, item in enumerate(evidence):
        rest = base + total - logs[number]
        weights = np.exp(rest - rest.max())
        weights /= weights.sum()
        wrong = _gross_chance(table, item, logs[number], weights)
        if wrong > CONTRADICTS_SHARE and not _said_twice(evidence, number):
            words = _likely_slip(table, item, weights)
            found.append(Slip(item.number, item.candidate, wrong, words))
    return sorted(found, key=lambda slip: (-slip.probability, slip.number))


def _gross_chance(table: PredictionTable, item: Evidence, log: Floats, weights: Floats) -> float:
    """Posterior chance that this reading is a gross error, or something that no suspect foresees,
    given all the others."""
    column = column_of(table, table.index(item.candidate))
    flat = column.flat(item.observation)
    known = ~column.outside
    likely = float((weights * np.exp(log))[known].sum())
    gross = flat * float((weights * column.gross)[known].sum())
    return min(gross / likely, 1.0) if likely > 0 else 1.0


def _said_twice(evidence: Sequence[Evidence], number: int) -> bool:
    """A second reading at the same point that says the same makes a slip unlikely."""
    item = evidence[number]
    for other in evidence:
        if other is not item and other.candidate == item.candidate:
            gap = abs(other.observation.centre - item.observation.centre)
            same_form = other.observation.form is item.observation.form
            if same_form and not gap > 0.1 * abs(item.observation.centre) + 0.05:
                return True
    return False


def _likely_slip(table: PredictionTable, item: Evidence, weights: Floats) -> str:
    own = column_of(table, table.index(item.candidate))
    if own.judged(item.observation).verdict is Verdict.AGREES:
        return AS_SOUND
    best, chosen = FITS_TIMES, "misread or mistyped: read it again"
    for words, candidate, observation in _slipped(table, item):
        column = column_of(table, table.index(candidate))
        known = ~column.outside
        likely = column.likelihood(observation)
        times = float((weights * likely)[known].sum()) / (
            limit("gross_error") * column.flat(observation)
        )
        if times > best:
            best, chosen = times, words
    return chosen


def _slipped(table: PredictionTable, item: Evidence) -> Iterator[Meant]:
    """What was meant, if a slip was made: words, candidate, observation."""
    own = table.candidates[table.index(item.candidate)]
    yield from _of_the_display(own, item.observation)
    yield from _of_the_place(table, own, item.observation)
    yield from _of_the_board(table, own, item.observation)


def _of_the_display(own: Candidate, seen: Observation) -> Iterator[Meant]:
    if seen.form is not Form.VALUE:
        return
    for factor in (*DECADES, *(PREFIXES if own.probe.unit != "V" else ())):
        moved = replace(seen, low=seen.low * factor, high=seen.high * factor)
        yield f"a decimal or a prefix: {moved.text()} would fit", own.key, moved
    if own.probe.live:
        true = replace(seen, low=seen.low / AC_ON_DC, high=seen.high / AC_ON_DC)
        yield "an AC range on a DC point", own.key, true


def _of_the_place(table: PredictionTable, own: Candidate, seen: Observation) -> Iterator[Meant]:
    for other in table.candidates:
        probe = other.probe
        if other.key == own.key or probe.mode is not own.probe.mode:
            continue
        if probe.live and probe.id == own.probe.id:
            yield f"the board was in another state: {other.state.label}", other.key, seen
        elif probe.live and other.state == own.state and probe.stop == own.probe.stop:
            yield f"the pin beside it: {probe.title}", other.key, seen
        elif not own.probe.live and _turned(own, other):
            yield "the leads were swapped", other.key, seen


def _turned(own: Candidate, other: Candidate) -> bool:
    """Whether the other candidate is the same part with the leads the other way round."""
    a, b = own.probe, other.probe
    same = a.part == b.part and not b.lifted
    return same and {a.plus, a.minus} == {b.plus, b.minus}


def _of_the_board(table: PredictionTable, own: Candidate, seen: Observation) -> Iterator[Meant]:
    sound = float(table.low[0, table.index(own.key)])
    if own.probe.live and abs(seen.centre) < NOTHING_VOLTS and sound > LIVE_SOUND_VOLTS:
        there = Observation(Form.VALUE, sound, sound, seen.unit)
        yield "the set was switched off, or the plug was out", own.key, there
    gated = is_a(table.board.component(own.probe.part), Trait.GATED)
    if gated and own.probe.mode in (MeterMode.OHMS, MeterMode.DIODE) and seen.centre < SHORT_OHMS:
        form = Form.OPEN if np.isinf(sound) else Form.VALUE
        meant = Observation(form, sound, sound, seen.unit)
        yield "a charge left on the gate: short gate to source, read again", own.key, meant
