"""A technician who works through a simulated set by a rule, reading by reading, to a verdict.

The engine's own plan is one rule; a fixed checklist, a random safe order and information without
cost are others, for comparison. All share the rule of the verdict: its confirmation, pair and
companion readings are taken as the review asks for them. What is done is a log of events, and what
comes next is read from the same review of it that the window shows.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from benchmarks.simulated_sets import SimulatedSet
from loose_rail.boards.reservoirs import bulk_of, reservoirs_beside
from loose_rail.diagnosis.dossier import Beside
from loose_rail.diagnosis.evidence.soft_evidence import LAMP_PATTERNS, Clue
from loose_rail.diagnosis.evidence.symptoms import Symptom
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.assessment import Assessment, Purpose
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.diagnosis.planning.planner import Offer
from loose_rail.diagnosis.review import Review, review
from loose_rail.diagnosis.settled_facts import Bench, settled_facts
from loose_rail.diagnosis.step import asks_for_lamp
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import extended, fold
from loose_rail.jobs.observations import reading_event
from loose_rail.jobs.state import JobState
from loose_rail.judgement.safety import (
    STORED_ENERGY,
    needs_acknowledgement,
    probe_refusals,
    state_refusals,
)
from loose_rail.judgement.spread import FULL_SCALE
from loose_rail.kernel.observation import Observation, open_circuit, ticking, value
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState
from loose_rail.vocabulary.lamp_pattern import LampPattern
from loose_rail.vocabulary.meter_mode import MeterMode

RESIDUAL_BULK_VOLTS = 1.4
METER_SHARE, VOLTS_SHARE, ESR_SHARE, DIODE_VOLTS, LEAD_OHMS = 0.008, 0.006, 0.08, 0.006, 0.05
TICK_SHARE, RATE_SHARE = 0.1, 0.08
"""How a good meter and a careful hand scatter [P]."""
AT = "2026-01-05T09:00:00+00:00"
"""The time of every event: what was measured counts whatever its age."""
Rule = Callable[[Review, "Sitting"], Offer | None]


@dataclass
class Sitting:
    """One set on the bench: the log so far, and what it took."""

    engine: Engine
    simulated: SimulatedSet
    rng: np.random.Generator
    gross_share: float
    bench: Bench
    records: list[ev.Record] = field(default_factory=list)
    job: JobState = field(default_factory=JobState)
    minutes: float = 0.0
    state_changes: int = 0
    unsafe: list[str] = field(default_factory=list)
    slips: int = 0
    lead_ohms: float = LEAD_OHMS

    def record(self, event: ev.AnyEvent) -> None:
        """One more event."""
        self.records.append(ev.Record(len(self.records) + 1, AT, "bench", event))
        one = len(self.records) == 1
        self.job = fold(self.records) if one else extended(self.job, self.records)

    def review(self) -> Review:
        """What the log says now."""
        return review(self.engine, self.job, self.bench)

    @property
    def taken(self) -> set[str]:
        """Candidates that were read."""
        return {reading.candidate for reading in self.job.readings}


@dataclass(frozen=True)
class Outcome:
    """How a job went: the last assessment and what it took."""

    assessment: Assessment
    minutes: float
    readings: int
    state_changes: int
    unsafe: tuple[str, ...]
    slips: int


def sit_down(
    engine: Engine,
    simulated: SimulatedSet,
    symptoms: Sequence[Symptom],
    rng: np.random.Generator,
    gross_share: float,
    clues: Sequence[Clue] = (),
) -> Sitting:
    """A set is taken in with what its owner says."""
    bench = Bench(beside=tuple(Beside(clue) for clue in clues))
    found = Sitting(engine, simulated, rng, gross_share, bench)
    board = engine.table.board
    found.record(
        ev.JobOpened(
            ticket="0001",
            set_name="simulated set",
            board_id=board.id,
            complaint="",
            spending_limit=0.0,
            currency="",
        )
    )
    for one in symptoms:
        found.record(ev.SymptomNoted(one.kind, "", one.hertz))
    if needs_acknowledgement(board):
        found.record(ev.HazardAcknowledged(STORED_ENERGY))
    return found


def work_through(
    engine: Engine,
    simulated: SimulatedSet,
    symptoms: Sequence[Symptom],
    rule: Rule,
    rng: np.random.Generator,
    gross_share: float = 0.03,
    most_readings: int = 200,
    clues: Sequence[Clue] = (),
    lead_ohms: float = LEAD_OHMS,
) -> Outcome:
    """Follow the rule until the review has its verdict, nothing is left, or patience ends."""
    sitting = sit_down(engine, simulated, symptoms, rng, gross_share, clues)
    sitting.lead_ohms = lead_ohms
    while True:
        found = sitting.review()
        offer = next_of(found, rule, sitting)
        if offer is None or len(sitting.job.readings) >= most_readings:
            break
        take(found, offer, sitting)
    return Outcome(
        assessment=found.assessment,
        minutes=sitting.minutes,
        readings=len(sitting.job.readings),
        state_changes=sitting.state_changes,
        unsafe=tuple(sitting.unsafe),
        slips=sitting.slips,
    )


def next_of(found: Review, rule: Rule, sitting: Sitting) -> Offer | None:
    """What the verdict asks for, else what the rule picks; None at the end."""
    step = found.step
    if step is None:
        return None
    return rule(found, sitting) if step.purpose is Purpose.INFORM else step.offer


def by_plan(found: Review, sitting: Sitting) -> Offer | None:
    """The engine's own choice."""
    return found.step.offer if found.step else None


def by_information(found: Review, sitting: Sitting) -> Offer | None:
    """The most information, whatever it costs."""
    others = found.assessment.others
    return max(others, key=lambda o: (o.information, o.candidate.key), default=None)


def at_random(found: Review, sitting: Sitting) -> Offer | None:
    """Any safe reading that was not taken."""
    free = _unread(found, sitting)
    return free[int(sitting.rng.integers(len(free)))] if free else None


def by_checklist(found: Review, sitting: Sitting) -> Offer | None:
    """The usual working order: cold from the mains inwards, then live from the mains outwards."""
    free = _unread(found, sitting)
    order = checklist(found.table)
    return min(free, key=lambda offer: order[offer.candidate.key], default=None)


def _unread(found: Review, sitting: Sitting) -> list[Offer]:
    """Safe candidates that were not read; parts are not lifted without a suspicion."""
    taken, chances = sitting.taken, found.assessment.probabilities
    allowed = found.engine.planner.allowed_offers(chances, found.facts)
    return [o for o in allowed if o.candidate.key not in taken and not o.candidate.probe.lifted]


KIND_ORDER = (
    "fuse",
    "bridge",
    "mosfet_n",
    "igbt",
    "surge_suppressor",
    "ntc",
    "electrolytic",
    "diode",
    "fusible_resistor",
    "resistor",
)


def checklist(table: PredictionTable) -> dict[str, int]:
    """The place of every candidate in the usual working order."""
    board = table.board
    sections = {section.id: number for number, section in enumerate(board.sections)}
    states = list(dict.fromkeys(c.state for c in table.candidates if c.probe.live))

    def place(candidate: Candidate) -> tuple[int, int, int, str]:
        probe = candidate.probe
        if probe.live:
            return (1, states.index(candidate.state), 0, "")
        part = board.component(probe.part)
        kind = KIND_ORDER.index(part.kind) if part.kind in KIND_ORDER else len(KIND_ORDER)
        return (0, kind, sections.get(part.section, 0), probe.id)

    ordered = sorted(table.candidates, key=place)
    return {candidate.key: number for number, candidate in enumerate(ordered)}


# ---- the hand and the meter ----------------------------------------------------------------


def take(found: Review, offer: Offer, sitting: Sitting) -> None:
    """Bring the board into the state, read, and note it; what safety refuses is counted."""
    candidate, board = offer.candidate, found.table.board
    by_way = replace(found.facts, state=UNPLUGGED)
    refusals = state_refusals(board, candidate.state, by_way)
    sitting.minutes += offer.minutes
    _put(sitting, candidate.state)
    if asks_for_lamp(sitting.job) and _watch_lamp(candidate.state, sitting):
        sitting.unsafe += [refusal.code for refusal in refusals]
        _put(sitting, UNPLUGGED)  # the plug comes out before any meter
        return
    if candidate.probe.mode.needs_dead_board:
        _measure(found.table, candidate.probe.part, sitting)
    facts = settled_facts(board, sitting.job, sitting.bench)
    refusals += probe_refusals(board, candidate.probe, facts)
    sitting.unsafe += [refusal.code for refusal in refusals]
    seen = read(found.table, offer.column, sitting)
    sitting.record(reading_event(candidate.probe.id, candidate.state, seen, "typed", ""))


def _put(sitting: Sitting, target: BoardState) -> None:
    """The board is brought into a state and that is confirmed."""
    job = sitting.job
    if job.state_known and job.board_state == target:
        return
    sitting.state_changes += job.board_state != target
    sitting.record(ev.StateConfirmed(target.key))


def _measure(table: PredictionTable, part: str, sitting: Sitting) -> None:
    """What is left in each reservoir beside a part once it has been drained and measured."""
    bulk = bulk_of(table.board).part
    known = {one.part or bulk for one in sitting.job.measured}
    for one in reservoirs_beside(table.board, part):
        if one.part in known:
            continue
        if one.part == bulk:
            sitting.record(ev.BulkMeasured(RESIDUAL_BULK_VOLTS))
        else:
            sitting.record(ev.ReservoirMeasured(one.part, RESIDUAL_BULK_VOLTS))


def _watch_lamp(state: BoardState, sitting: Sitting) -> bool:
    """The first time through the lamp: what it does is told before any meter. Whether it is full
    bright."""
    simulated, key = sitting.simulated, state.key
    away = int(simulated.share < 1.0 and sitting.rng.random() >= simulated.share)
    glow = float(simulated.lamp_glow[key][away])
    if float(simulated.ticking_hertz[key][away]) > 0:
        pattern = LampPattern.PULSES
    elif glow > LAMP_PATTERNS["glows"][1]:
        pattern = LampPattern.BRIGHT
    else:
        dark = glow <= LAMP_PATTERNS["dark"][1]
        pattern = LampPattern.FLASH_DARK if dark else LampPattern.GLOWS
    sitting.record(ev.ClueNoted("lamp", key, pattern))
    return pattern is LampPattern.BRIGHT


def read(table: PredictionTable, column: int, sitting: Sitting) -> Observation:
    """What is noted at a candidate: as the meter shows it, or now and then a slip."""
    if sitting.rng.random() < sitting.gross_share:
        sitting.slips += 1
        return _slip(table, column, sitting)
    return _shown(sitting, table.candidates[column], column)


def _shown(sitting: Sitting, candidate: Candidate, column: int) -> Observation:
    simulated, rng = sitting.simulated, sitting.rng
    away = int(simulated.share < 1.0 and rng.random() >= simulated.share)
    low, high, hertz = (
        float(values[away, column]) for values in (simulated.low, simulated.high, simulated.hertz)
    )
    probe = candidate.probe
    if np.isinf(low):
        return open_circuit(probe.unit)
    if hertz > 0:
        times = 1.0 + TICK_SHARE * rng.standard_normal(2)
        first, last = low * float(times[0]), high * float(times[1])
        return ticking(
            min(first, last),
            max(first, last),
            "V",
            hertz * float(1.0 + RATE_SHARE * rng.standard_normal()),
        )
    scatter = float(rng.standard_normal())
    shown = low * (1.0 + METER_SHARE * scatter)
    if probe.mode is MeterMode.OHMS:
        shown += sitting.lead_ohms * abs(float(rng.standard_normal()))
    elif probe.mode is MeterMode.ESR:
        shown = low * float(np.exp(ESR_SHARE * scatter)) + 0.3 * sitting.lead_ohms * rng.random()
    elif probe.mode is MeterMode.DIODE:
        shown = low + DIODE_VOLTS * scatter
    elif probe.live:
        shown = low * (1.0 + VOLTS_SHARE * scatter)
    return _in_range(shown, probe.unit, probe.mode)


def _in_range(shown: float, unit: str, mode: MeterMode) -> Observation:
    if shown > FULL_SCALE.get(mode, np.inf):
        return open_circuit(unit)
    return value(float(f"{shown:.3g}"), unit)


def _slip(table: PredictionTable, column: int, sitting: Sitting) -> Observation:
    """A wrong pin, a decimal, no contact or a number out of nowhere."""
    rng, candidate = sitting.rng, table.candidates[column]
    probe = candidate.probe
    seen = _shown(sitting, candidate, column)
    kind = rng.integers(4)
    if kind == 0:
        alike = [
            k
            for k, other in enumerate(table.candidates)
            if other.probe.mode is probe.mode
            and other.probe.lifted == probe.lifted
            and other.state == candidate.state
        ]
        wrong = alike[int(rng.integers(len(alike)))]
        return _shown(sitting, table.candidates[wrong], wrong)
    if kind == 1 and np.isfinite(seen.centre):
        return _in_range(seen.centre * (10.0 if rng.random() < 0.5 else 0.1), seen.unit, probe.mode)
    if kind == 2:
        return value(0.0, "V") if probe.live else open_circuit(probe.unit)
    if probe.live:
        return value(round(float(rng.uniform(0.0, 20.0)), 1), "V")
    if probe.mode is MeterMode.DIODE:
        return value(round(float(rng.uniform(0.0, 2.0)), 3), "V")
    return _in_range(float(10 ** rng.uniform(-1, 6)), probe.unit, probe.mode)
