"""What was shown after a repair: proved to a level, failed, or not shown. Pure over table and log.

A proof can fail: a reading out of range, or a lamp that draws, says "not repaired". A reading that
a dead board would give too proves nothing, however well it agrees.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.proof.soaked import COUNTS_FROM_HOURS, soak_with_readings
from loose_rail.jobs.state import JobState, Reading
from loose_rail.judgement.judge import Expectation, Judgement, Verdict, judge
from loose_rail.judgement.load_steps import UnderLoad, covered, steps_of, troubles
from loose_rail.judgement.over_voltage import (
    OverVoltage,
    divider_probes,
    key_of,
    over_voltage,
    sense_parts,
    too_high_for_loads,
)
from loose_rail.judgement.proof import (
    IN_THE_SET,
    LEVELS,
    LOADED,
    ON_THE_MAINS,
    SWITCHED_ON,
    ProofLevel,
    level_of,
    soaked,
)
from loose_rail.kernel.observation import value
from loose_rail.vocabulary.lamp_pattern import LampPattern
from loose_rail.vocabulary.light import Light


class ProofStatus(StrEnum):
    """How a repair stands."""

    NONE = "none"
    """Nothing was fitted."""
    NOT_SHOWN = "not_shown"
    """Fitted, and no reading yet that only a working board gives."""
    FAILED = "failed"
    SHOWN = "shown"


@dataclass(frozen=True, slots=True)
class Proof:
    """A repair as it stands: why it failed, in sentences, and the level that was shown."""

    status: ProofStatus
    failures: tuple[str, ...]
    level: ProofLevel


def proof_of(table: PredictionTable | None, state: JobState) -> Proof:
    """How the last repair stands by what was read and seen after it."""
    if table is None or not state.fits:
        status = ProofStatus.NOT_SHOWN if state.fits else ProofStatus.NONE
        return Proof(status, (), level_of(()))
    failures = failures_of(table, state)
    good = [r.state for r in state.proof_readings if r.state.plugged and shows_life(table, r)]
    if failures:
        return Proof(ProofStatus.FAILED, failures, level_of(()))
    level, soak = level_of(good), soak_with_readings(table, state)
    loads = under_load(state)
    if loads and level.rank < LOADED:  # one rail under a load ran straight on the mains already
        borne = LOADED if covered(table.board, loads) else ON_THE_MAINS
        level = LEVELS[max(borne, level.rank)]
    if level.rank >= SWITCHED_ON and state.light != Light.RIGHT:
        level = replace(level, leaves_open=f"light and picture, {level.leaves_open}")
    if soak is not None and level.rank >= IN_THE_SET and soak.attended_hours >= COUNTS_FROM_HOURS:
        level = soaked(soak.attended_hours)
    return Proof(ProofStatus.SHOWN if good or loads else ProofStatus.NOT_SHOWN, (), level)


def under_load(state: JobState) -> list[UnderLoad]:
    """What was read under dummy loads since the last repair."""
    return [UnderLoad(one.rail, one.amps, one.volts, one.ripple) for one in state.loads_read]


def load_troubles(board: Board, state: JobState) -> list[tuple[UnderLoad, str, list[str]]]:
    """Every load that was read, in its order, its rail's name, and what is wrong under it."""
    read, steps = under_load(state), steps_of(board)
    found = []
    for seen in read:
        own = [one for one in steps if one.rail == seen.rail]
        if own:  # a rail that the mended board has no more counts for nothing
            step = min(own, key=lambda one: abs(one.amps - seen.amps))
            found.append((seen, step.title, troubles(step, seen, read)))
    return found


_SEEN = {
    Light.DARK: "stays dark",
    Light.MOMENT: "lights up, then goes dark",
    Light.FLICKERS: "flickers or pulses",
    Light.DIM: "is dim, or a part of it dark",
    Light.NO_PICTURE: "has light, but no or a wrong picture",
}


def failures_of(table: PredictionTable, state: JobState) -> tuple[str, ...]:
    """Why the last repair has failed, a sentence each; none where it has not."""
    found = []
    drawing = [pattern for pattern in map(LampPattern, state.lamps) if pattern.draws]
    if drawing:
        found.append(f"The lamp in line: {drawing[-1].label}. Something draws too much.")
    if state.light and Light(state.light).is_bad:
        found.append(f"Switched on, the set {_SEEN[Light(state.light)]}.")
    for _, title, wrong in load_troubles(table.board, state):
        found += [f"{title} under a dummy load: {words}." for words in wrong]
    soak = state.soak
    for look in soak.bad_looks if soak is not None else ():
        after = f"{soak.attended_hours:.1f} h" if soak is not None else ""
        found.append(f"On soak, after {after}: {look.words}.")
    for reading in _last_of_each(state.proof_readings):
        probe, _, judged = _judged(table, reading)
        if judged.verdict is Verdict.DISAGREES:
            found.append(
                f"Reading {reading.number}, {probe.title}, {reading.state.label}: "
                f"{reading.observation.text()}, expected {judged.expected}."
            )
    return tuple(found)


def _last_of_each(readings: Sequence[Reading]) -> list[Reading]:
    """The last reading at each point: what was read again and came right no longer counts."""
    return list({reading.candidate: reading for reading in readings}.values())


def dead_reads_the_same(probe: Probe, expectation: Expectation) -> bool:
    """Whether a board without any supply would give a good reading here too: 0 V where 0 V is
    right tells nothing of a repair."""
    return judge(probe, value(0.0, probe.unit), expectation).verdict is not Verdict.DISAGREES


def shows_life(table: PredictionTable, reading: Reading) -> bool:
    """Whether a reading is good where a dead board would read otherwise."""
    probe, expectation, judged = _judged(table, reading)
    return judged.verdict is Verdict.AGREES and not dead_reads_the_same(probe, expectation)


def _judged(table: PredictionTable, reading: Reading) -> tuple[Probe, Expectation, Judgement]:
    column = column_of(table, table.index(reading.candidate))
    return column.probe, column.expectation, column.judged(reading.observation)


def standing_high_rail(
    table: PredictionTable, readings: Sequence[Reading]
) -> tuple[str, tuple[str, ...]]:
    """Why no other board may hang on the supply, by the last reading of each rail, and the parts
    that set the volts of that rail; empty where it may."""
    found: dict[str, tuple[str, tuple[str, ...]]] = {}
    for reading in readings:
        probe, _, _ = _judged(table, reading)
        if probe.live and probe.rail:
            words = too_high_for_loads(table.board, probe, reading.observation)
            found[probe.rail] = words, sense_parts(table.board, probe)
    return next((one for one in found.values() if one[0]), ("", ()))


def standing_over_voltage(
    table: PredictionTable, readings: Sequence[Reading]
) -> OverVoltage | None:
    """The last over-voltage among the readings of the board as it is now; None once everything that
    sets that voltage has been read after it and is good."""
    found: OverVoltage | None = None
    cleared: set[str] = set()
    probes = tuple(candidate.probe for candidate in table.candidates)
    for reading in readings:
        probe, _, judged = _judged(table, reading)
        stop = over_voltage(table.board, probe, reading.observation, reading.number)
        if stop is not None:
            found, cleared = stop, set()
        elif judged.verdict is Verdict.AGREES:
            cleared.add(reading.candidate)
    if found is None:
        return None
    wanted = {key_of(probe) for probe in divider_probes(table.board, found, probes)}
    return None if wanted and wanted <= cleared else found
