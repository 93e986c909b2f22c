"""The safety facts of a job, settled in one go from its log: nothing is taken from an earlier
answer."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.barrier import insulation_probes
from loose_rail.boards.own.board import KNOWN_BY as OWN
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.dossier import Beside
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.in_line import lamps_that_show
from loose_rail.diagnosis.inference.shop_history import ClosedJob
from loose_rail.diagnosis.inference.short_excluded import bright_unexplained, short_excluded
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.proof.standing import standing_high_rail, standing_over_voltage
from loose_rail.jobs.state import JobState, Measured
from loose_rail.judgement.limits import limit
from loose_rail.judgement.safety import STORED_ENERGY, SafetyFacts, needs_acknowledgement
from loose_rail.vocabulary.lamp_pattern import LampPattern

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Bench:
    """The bench and the shop at the moment of a review.

    `now` is ISO 8601 text; empty, and what was measured counts whatever its age. `sitting` is the
    last event of earlier sittings: what was measured empty then is measured again. `lacks` names
    meter settings that nothing on this bench has, `has_lamp` whether a lamp can stand in line.
    `beside` is what a job file tells in no event.
    """

    now: str = ""
    sitting: int = 0
    lacks: frozenset[str] = frozenset()
    has_lamp: bool = True
    closed_jobs: tuple[ClosedJob, ...] = ()
    beside: tuple[Beside, ...] = ()


def settled_facts(board: Board, job: JobState, bench: Bench) -> SafetyFacts:
    """What the log alone says, while there are no predictions: full mains is not free, and a lamp
    that was full bright forbids power."""
    volts = {one.part: one.volts for one in job.measured if _counts(one, bench)}
    acknowledged = STORED_ENERGY in job.acknowledged or not needs_acknowledgement(board)
    return SafetyFacts(
        state=job.board_state,
        bulk_volts=volts.get(""),
        primary_short_excluded=False,
        volts={part: value for part, value in volts.items() if part},
        state_known=job.state_known,
        acknowledged=acknowledged,
        over_volts=None,
        bright_lamp=LampPattern.BRIGHT in job.lamps,
        barrier_ohms=_barrier_ohms(board, job),
        pins_confirmed=pins_confirmed(board, job),
        has_lamp=bench.has_lamp,
    )


def pins_confirmed(board: Board, job: JobState) -> bool:
    """Whether the pins of a jumper are sure: of a known board they are, of one that was typed only
    once somebody has looked at the same two."""
    wake, seen = board.wake, job.pins
    if board.known_by != OWN:
        return True
    same = seen is not None and (seen.connector, seen.pin) == (wake.connector, wake.pin)
    return same and seen is not None and seen.source_pin == wake.source_pin


def _barrier_ohms(board: Board, job: JobState) -> float | None:
    """The last reading across the barrier; an open one is as good as any."""
    probes = insulation_probes(board)
    found = [r.observation.low for r in job.live_readings if r.probe in probes]
    return found[-1] if found else None


def with_predictions(
    facts: SafetyFacts,
    table: PredictionTable,
    job: JobState,
    chances_now: Floats,
    evidence_now: Sequence[Evidence],
) -> SafetyFacts:
    """The facts with what the predictions say of the board as it is now: `chances_now` `(n_rows,)`
    and `evidence_now` are of the present repair round."""
    shown = lamps_that_show(job)
    high, parts = standing_high_rail(table, job.readings_in(job.round))
    return replace(
        facts,
        primary_short_excluded=short_excluded(table, chances_now, evidence_now, shown),
        over_volts=standing_over_voltage(table, job.readings_in(job.round)),
        high_rail=high,
        high_rail_parts=parts,
        bright_lamp=bright_unexplained(table, evidence_now, job.lamps),
    )


def for_planning(facts: SafetyFacts, job: JobState) -> SafetyFacts:
    """The facts by which minutes are reckoned: what was measured counts whatever its age, so that
    the next probe hangs on the log alone. Whether it may be read now is asked of `facts`."""
    volts = {one.part: one.volts for one in job.measured}
    return replace(
        facts,
        bulk_volts=volts.get(""),
        volts={part: value for part, value in volts.items() if part},
    )


def expires_at(job: JobState, bench: Bench) -> str:
    """When the first of what counts as measured ceases to; empty where nothing does."""
    if not bench.now:
        return ""
    ends = [_end(one) for one in job.measured if _counts(one, bench)]
    return min(ends).isoformat() if ends else ""


def _end(one: Measured) -> datetime:
    return datetime.fromisoformat(one.at) + timedelta(minutes=limit("drained_minutes"))


def _counts(one: Measured, bench: Bench) -> bool:
    """Whether a measurement still counts: of this sitting, and not so long ago that somebody may
    have plugged the board in since."""
    if one.sequence <= bench.sitting:
        return False
    return not bench.now or datetime.fromisoformat(bench.now) < _end(one)
