"""What to read after a repair, in order: the readings that were wrong first, then in the set."""

from __future__ import annotations

from loose_rail.app.proof import dead_reads_the_same
from loose_rail.app.results import judged
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.model.predictions import Candidate, live_states
from loose_rail.diagnosis.planning.planner import reachable
from loose_rail.jobs.fold import Reading
from loose_rail.judgement.judge import Verdict
from loose_rail.screens.card.present import Task, sound_of
from loose_rail.vocabulary.board_state import BoardState, Power

IN_THE_SET = BoardState(Power.STANDBY, True, 0)
SWITCHED_ON = BoardState(Power.ON, True, 0)


def proof_candidates(session: JobSession) -> list[tuple[Candidate, str]]:
    """Candidates in order, each with the reason for it: the points that were wrong, the first
    rail of the board alone, then in the set, asleep and switched on, every rail that is up there.

    Only points are asked for where a dead board would read otherwise.
    """
    assert session.engine is not None
    table = session.engine.table
    found: list[tuple[Candidate, str]] = []
    limited = first_power(session)
    for reading in _before(session):
        probe, judgement = judged(session, reading)
        if probe.live and probe.meter and probe.rail and judgement.verdict is Verdict.DISAGREES:
            candidate = table.candidates[table.index(reading.candidate)]
            found.append((candidate, "The same point in the same state as before the repair."))
    if not any(c.state.lamp_watts == limited.lamp_watts for c, _ in found):
        through = "through the lamp" if limited.lamp_watts else "on the adapter"
        first = [(c, f"The first rail, {through}.") for c in _telling(session, limited)[:1]]
        found = first + found
    found.sort(key=lambda item: item[0].state.lamp_watts != limited.lamp_watts)
    in_set = _telling(session, IN_THE_SET)[:1]
    found += [(c, "In the set, in standby: the rail with its real load.") for c in in_set]
    asleep = {c.probe.rail for c in in_set}
    for candidate in _telling(session, SWITCHED_ON):
        if candidate.probe.rail not in asleep:
            why = "Switched on: a rail with its load, for the next level of proof."
            found.append((candidate, why))
    return list(dict((c.key, (c, why)) for c, why in reversed(found)).values())[::-1]


def _telling(session: JobSession, state: BoardState) -> list[Candidate]:
    """One point a rail in a state where a dead board would not read as a good one: at the connector
    where the rail has a pin, the standby rail first."""
    assert session.engine is not None
    table, board = session.engine.table, session.board
    connectors = {connector.ref for connector in board.connectors}
    best: dict[str, Candidate] = {}
    for candidate in table.candidates:
        probe = candidate.probe
        if not (probe.live and probe.meter and probe.rail and candidate.state == state):
            continue
        if dead_reads_the_same(probe, sound_of(session, candidate)):
            continue
        if probe.rail not in best or probe.stop in connectors:
            best[probe.rail] = candidate
    return sorted(best.values(), key=lambda c: c.probe.rail != board.standby_rail)


def first_power(session: JobSession) -> BoardState:
    """The first powered state after a repair: where a rail was wrong before, else the board alone;
    behind a lamp, or on its own adapter."""
    states = live_states(session.board)
    seen = [r.state for r in _before(session) if r.state in states and r.state.lamp_watts]
    alone = [s for s in states if s.power is Power.STANDBY and s.lamp_watts and not s.main_cable]
    return (seen or alone or states)[0]


def _before(session: JobSession) -> list[Reading]:
    """Readings taken before the last repair."""
    return [r for r in session.state.live_readings if r.round < session.state.round]


def proof_task(session: JobSession) -> Task | None:
    """The next reading of the proof, None when all are taken or safety lets none be."""
    taken = {reading.candidate for reading in session.state.proof_readings}
    beyond = session.out_of_reach
    for candidate, why in proof_candidates(session):
        if candidate.key in taken or candidate.probe.id in beyond:
            continue
        if reachable(session.board, candidate.state, session.facts):
            return Task(candidate, "Prove the repair · about 2 min", why)
    return None
