"""A technician who works through a simulated set by a rule, reading by reading, to a verdict.

The engine's own plan is one rule; a fixed checklist, a random safe order and information without
cost are others, for comparison. All share the rule of the verdict: its confirmation, pair and
companion readings are taken as the engine asks for them.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from benchmarks.simulated_sets import SimulatedSet
from loose_rail.boards.profile import Board
from loose_rail.boards.reservoirs import reservoirs_beside
from loose_rail.diagnosis.evidence.soft_evidence import LAMP_PATTERNS, Clue, lamp_clue
from loose_rail.diagnosis.evidence.symptoms import Symptom
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.short_excluded import BRIGHT, bright_unexplained, short_excluded
from loose_rail.diagnosis.model.predictions import Candidate, PredictionTable
from loose_rail.diagnosis.planning.engine import Assessment, Engine, Purpose
from loose_rail.diagnosis.planning.planner import Offer
from loose_rail.judgement.safety import SafetyFacts, probe_refusals, state_refusals
from loose_rail.judgement.spread import FULL_SCALE
from loose_rail.kernel.observation import Observation, open_circuit, ticking, value
from loose_rail.vocabulary.board_state import UNPLUGGED
from loose_rail.vocabulary.meter_mode import MeterMode

RESIDUAL_BULK_VOLTS = 1.4
METER_SHARE, VOLTS_SHARE, ESR_SHARE, DIODE_VOLTS, LEAD_OHMS = 0.008, 0.006, 0.08, 0.006, 0.05
TICK_SHARE, RATE_SHARE = 0.1, 0.08
"""How a good meter and a careful hand scatter [P]."""
Rule = Callable[[Engine, Assessment, "Bench"], Offer | None]


@dataclass
class Bench:
    """What has been done on one set so far."""

    set: SimulatedSet
    rng: np.random.Generator
    gross_share: float
    facts: SafetyFacts = field(default_factory=lambda: SafetyFacts(UNPLUGGED, None, False))
    evidence: list[Evidence] = field(default_factory=list)
    minutes: float = 0.0
    state_changes: int = 0
    unsafe: list[str] = field(default_factory=list)
    slips: int = 0
    lamp: str = ""
    lamp_clues: list[Clue] = field(default_factory=list)


@dataclass(frozen=True)
class Outcome:
    """How a job went: the last assessment and what it took."""

    assessment: Assessment
    minutes: float
    readings: int
    state_changes: int
    unsafe: tuple[str, ...]
    slips: int


def work_through(
    engine: Engine,
    simulated: SimulatedSet,
    symptoms: Sequence[Symptom],
    rule: Rule,
    rng: np.random.Generator,
    gross_share: float = 0.03,
    most_readings: int = 200,
    clues: Sequence[Clue] = (),
) -> Outcome:
    """Follow the rule until the engine has its verdict, nothing is left, or patience ends."""
    bench = Bench(simulated, rng, gross_share)
    while True:
        told = (*clues, *bench.lamp_clues)
        found = engine.assess(bench.evidence, symptoms, bench.facts, clues=told)
        lamps = (bench.lamp,) if bench.lamp else ()
        excluded = short_excluded(engine.table, found.probabilities, bench.evidence, lamps)
        bright = bright_unexplained(engine.table, bench.evidence, lamps)
        known = (bench.facts.primary_short_excluded, bench.facts.bright_lamp)
        if (excluded, bright) != known:
            bench.facts = replace(bench.facts, primary_short_excluded=excluded, bright_lamp=bright)
            found = engine.assess(bench.evidence, symptoms, bench.facts, clues=told)
        offer = next_of(engine, found, rule, bench)
        if offer is None or len(bench.evidence) >= most_readings:
            break
        take(engine.table, offer, bench)
    return Outcome(
        found,
        bench.minutes,
        len(bench.evidence),
        bench.state_changes,
        tuple(bench.unsafe),
        bench.slips,
    )


def next_of(engine: Engine, found: Assessment, rule: Rule, bench: Bench) -> Offer | None:
    """What the verdict asks for, else what the rule picks; None at the end."""
    step = found.next_step
    if step is None:
        return None
    return rule(engine, found, bench) if step.purpose is Purpose.INFORM else step.offer


def by_plan(engine: Engine, found: Assessment, bench: Bench) -> Offer | None:
    """The engine's own choice."""
    return found.next_step.offer if found.next_step else None


def by_information(engine: Engine, found: Assessment, bench: Bench) -> Offer | None:
    """The most information, whatever it costs."""
    return max(found.others, key=lambda o: (o.information, o.candidate.key), default=None)


def at_random(engine: Engine, found: Assessment, bench: Bench) -> Offer | None:
    """Any safe reading that was not taken."""
    free = _unread(engine, found, bench)
    return free[int(bench.rng.integers(len(free)))] if free else None


def by_checklist(engine: Engine, found: Assessment, bench: Bench) -> Offer | None:
    """The usual working order: cold from the mains inwards, then live from the mains outwards."""
    free = _unread(engine, found, bench)
    order = checklist(engine.table)
    return min(free, key=lambda offer: order[offer.candidate.key], default=None)


def _unread(engine: Engine, found: Assessment, bench: Bench) -> list[Offer]:
    """Safe candidates that were not read; parts are not lifted without a suspicion."""
    taken = {item.candidate for item in bench.evidence}
    allowed = engine.planner.allowed_offers(found.probabilities, bench.facts)
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


def take(table: PredictionTable, offer: Offer, bench: Bench) -> None:
    """Bring the board into the state, read, and note it; what safety refuses is counted."""
    candidate = offer.candidate
    board: Board = table.board
    by_way = replace(bench.facts, state=UNPLUGGED)
    refusals = state_refusals(board, candidate.state, by_way)
    dead = candidate.probe.mode.needs_dead_board
    before = bench.facts
    measured = {} if candidate.state.plugged or not dead else _measure(board, candidate.probe.part)
    bulk = measured.pop(board.roles["bulk"][0], None)
    bench.facts = SafetyFacts(
        candidate.state,
        bulk,
        before.primary_short_excluded,
        measured,
        bright_lamp=before.bright_lamp,
    )
    seen_bright = _watch_lamp(table, candidate, bench)
    refusals += probe_refusals(board, candidate.probe, bench.facts)
    bench.unsafe += [refusal.code for refusal in refusals]
    bench.state_changes += before.state != candidate.state
    bench.minutes += offer.minutes
    if seen_bright:  # the plug comes out before any meter
        bench.facts = replace(bench.facts, state=UNPLUGGED)
        return
    seen = read(table, offer.column, bench)
    bench.evidence.append(Evidence(len(bench.evidence) + 1, candidate.key, seen))


def _measure(board: Board, part: str) -> dict[str, float]:
    """What is left in each reservoir beside a part once it has been drained and measured."""
    return {one.part: RESIDUAL_BULK_VOLTS for one in reservoirs_beside(board, part)}


def _watch_lamp(table: PredictionTable, candidate: Candidate, bench: Bench) -> bool:
    """The first time through the lamp: what it does is told before any meter. Whether it is full
    bright now."""
    key = candidate.state.key
    if bench.lamp or not candidate.state.lamp_watts:
        return False
    away = int(bench.set.share < 1.0 and bench.rng.random() >= bench.set.share)
    glow = float(bench.set.lamp_glow[key][away])
    if float(bench.set.ticking_hertz[key][away]) > 0:
        bench.lamp = "pulses"
    else:
        bright, dark = LAMP_PATTERNS["glows"][1], LAMP_PATTERNS["dark"][1]
        bench.lamp = "bright" if glow > bright else "glows" if glow > dark else "flash_dark"
    bench.lamp_clues.append(lamp_clue(table, key, bench.lamp))
    return bench.lamp == BRIGHT


def read(table: PredictionTable, column: int, bench: Bench) -> Observation:
    """What is noted at a candidate: as the meter shows it, or now and then a slip."""
    if bench.rng.random() < bench.gross_share:
        bench.slips += 1
        return _slip(table, column, bench)
    return _shown(bench.set, table.candidates[column], column, bench.rng)


def _shown(
    simulated: SimulatedSet, candidate: Candidate, column: int, rng: np.random.Generator
) -> Observation:
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
        shown += LEAD_OHMS * abs(float(rng.standard_normal()))
    elif probe.mode is MeterMode.ESR:
        shown = low * float(np.exp(ESR_SHARE * scatter)) + 0.3 * LEAD_OHMS * rng.random()
    elif probe.mode is MeterMode.DIODE:
        shown = low + DIODE_VOLTS * scatter
    elif probe.live:
        shown = low * (1.0 + VOLTS_SHARE * scatter)
    return _in_range(shown, probe.unit, probe.mode)


def _in_range(shown: float, unit: str, mode: MeterMode) -> Observation:
    if shown > FULL_SCALE.get(mode, np.inf):
        return open_circuit(unit)
    return value(float(f"{shown:.3g}"), unit)


def _slip(table: PredictionTable, column: int, bench: Bench) -> Observation:
    """A wrong pin, a decimal, no contact or a number out of nowhere."""
    rng, candidate = bench.rng, table.candidates[column]
    probe = candidate.probe
    seen = _shown(bench.set, candidate, column, rng)
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
        return _shown(bench.set, table.candidates[wrong], wrong, rng)
    if kind == 1 and np.isfinite(seen.centre):
        return _in_range(seen.centre * (10.0 if rng.random() < 0.5 else 0.1), seen.unit, probe.mode)
    if kind == 2:
        return value(0.0, "V") if probe.live else open_circuit(probe.unit)
    if probe.live:
        return value(round(float(rng.uniform(0.0, 20.0)), 1), "V")
    if probe.mode is MeterMode.DIODE:
        return value(round(float(rng.uniform(0.0, 2.0)), 3), "V")
    return _in_range(float(10 ** rng.uniform(-1, 6)), probe.unit, probe.mode)
