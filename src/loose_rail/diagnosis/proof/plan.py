"""What to read after a repair, in order: the readings that were wrong first, then in the set."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from loose_rail.boards.barrier import on_the_hot_side, reads_insulation
from loose_rail.boards.profile import Board
from loose_rail.boards.whole_board import renewed
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.candidates import Candidate, live_states
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.planner import reachable
from loose_rail.diagnosis.proof.coverage import covering
from loose_rail.diagnosis.proof.standing import dead_reads_the_same
from loose_rail.jobs.state import JobState, Reading
from loose_rail.judgement.judge import Verdict
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.vocabulary.board_state import BoardState, Power
from loose_rail.vocabulary.roles import BoardRole

IN_THE_SET = BoardState(Power.STANDBY, True, 0)
SWITCHED_ON = BoardState(Power.ON, True, 0)


@dataclass(frozen=True, slots=True)
class ProofPoint:
    """A reading of the proof, and the reason for it."""

    candidate: Candidate
    why: str


def proof_plan(table: PredictionTable, job: JobState) -> list[ProofPoint]:
    """Points in order, each once: the insulation of a mains side that was worked on, those that
    were wrong, the first rail of the board alone, then in the set, asleep and switched on, every
    rail that is up there.

    Only points are asked for where a dead board would read otherwise.
    """
    limited = first_power(table.board, job)
    found = _wrong_before(table, job)
    if not any(one.candidate.state.lamp_watts == limited.lamp_watts for one in found):
        through = "through the limiter" if limited.lamp_watts else "on the adapter"
        first = telling_points(table, limited)[:1]
        found = [ProofPoint(c, f"The first rail, {through}.") for c in first] + found
    in_set = telling_points(table, IN_THE_SET)[:1]
    found += [ProofPoint(c, "In the set, in standby: the rail with its real load.") for c in in_set]
    asleep = {c.probe.rail for c in in_set}
    for candidate in telling_points(table, SWITCHED_ON):
        if candidate.probe.rail not in asleep:
            why = "Switched on: a rail with its load, for the next level of proof."
            found.append(ProofPoint(candidate, why))
    fitted = renewed(table.board, (one.part for one in job.fits))
    states = (limited, IN_THE_SET, SWITCHED_ON)
    for candidate in covering(table, [one.candidate for one in found], states, fitted):
        found.append(ProofPoint(candidate, "Would show what the rails do not."))
    found.sort(key=lambda one: _place(one.candidate.state, states))
    found = _insulation(table, job) + found
    first_of_each: dict[str, ProofPoint] = {}
    for one in found:
        first_of_each.setdefault(one.candidate.key, one)
    return list(first_of_each.values())


def _place(state: BoardState, states: tuple[BoardState, ...]) -> int:
    """Where a state stands in the order of power: behind the limiter, others, in the set, on."""
    if state in states:
        return (0, 2, 3)[states.index(state)]
    return 0 if state.lamp_watts == states[0].lamp_watts else 1


def next_proof(
    table: PredictionTable, job: JobState, facts: SafetyFacts, beyond: Collection[str]
) -> ProofPoint | None:
    """The next reading of the proof, None when all are taken or safety lets none be; one that the
    person has chosen comes first. `beyond` are probes out of reach."""
    chosen = next((c for c in table.candidates if c.key == job.chosen), None)
    if chosen is not None and reachable(table.board, chosen.state, facts):
        return ProofPoint(chosen, "Chosen by you.")
    taken = {reading.candidate for reading in job.proof_readings}
    for one in proof_plan(table, job):
        if one.candidate.key in taken or one.candidate.probe.id in beyond:
            continue
        if reachable(table.board, one.candidate.state, facts):
            return one
    return None


def _insulation(table: PredictionTable, job: JobState) -> list[ProofPoint]:
    """Hot to cold ground of the dead board, before the first power of a mains side that was worked
    on: a bridge there puts the outputs at mains, and no rail shows it."""
    board = table.board
    refs = {part.ref for part in board.components}
    fitted = refs & renewed(board, (one.part for one in job.fits if one.round == job.round))
    fitted -= set(board.roles.get(BoardRole.CORD, ()))  # exchanged from outside
    if not any(on_the_hot_side(board, part) for part in fitted):
        return []
    points = [c for c in table.candidates if reads_insulation(board, c.probe)][:1]
    why = "Hot to cold, before the first power: the insulation of what was worked on."
    return [ProofPoint(candidate, why) for candidate in points]


def _wrong_before(table: PredictionTable, job: JobState) -> list[ProofPoint]:
    found = []
    for reading in before_the_repair(job):
        column = column_of(table, table.index(reading.candidate))
        probe = column.probe
        if not (probe.live and probe.meter and probe.rail):
            continue
        if column.judged(reading.observation).verdict is Verdict.DISAGREES:
            candidate = table.candidates[table.index(reading.candidate)]
            found.append(
                ProofPoint(candidate, "The same point in the same state as before the repair.")
            )
    return found


def telling_points(table: PredictionTable, state: BoardState) -> list[Candidate]:
    """One point a rail in a state where a dead board would not read as a good one: at the connector
    where the rail has a pin, the standby rail first."""
    board = table.board
    connectors = {connector.ref for connector in board.connectors}
    best: dict[str, Candidate] = {}
    for number, candidate in enumerate(table.candidates):
        probe = candidate.probe
        if not (probe.live and probe.meter and probe.rail and candidate.state == state):
            continue
        if dead_reads_the_same(probe, column_of(table, number).expectation):
            continue
        if probe.rail not in best or probe.stop in connectors:
            best[probe.rail] = candidate
    return sorted(best.values(), key=lambda c: c.probe.rail != board.standby_rail)


def first_power(board: Board, job: JobState) -> BoardState:
    """The first powered state after a repair: where a rail was wrong before, else the board alone;
    behind a lamp, or on its own adapter."""
    states = live_states(board)
    seen = [r.state for r in before_the_repair(job) if r.state in states and r.state.lamp_watts]
    alone = [s for s in states if s.power is Power.STANDBY and s.lamp_watts and not s.main_cable]
    return (seen or alone or states)[0]


def before_the_repair(job: JobState) -> list[Reading]:
    """Readings taken before the last repair."""
    return [r for r in job.live_readings if r.round < job.round]
