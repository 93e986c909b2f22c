"""What to read after a repair, in order: the readings that were wrong first, then in the set."""

from __future__ import annotations

from loose_rail.app.results import judged
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.planner import reachable
from loose_rail.diagnosis.predictions import Candidate, live_states
from loose_rail.judgement.judge import Verdict
from loose_rail.live.board_state import BoardState, Power
from loose_rail.presenters.card import Task

IN_THE_SET = BoardState(Power.STANDBY, True, 0)
SWITCHED_ON = BoardState(Power.ON, True, 0)


def proof_candidates(session: JobSession) -> list[tuple[Candidate, str]]:
    """Candidates in order, each with the reason for it."""
    assert session.engine is not None
    table = session.engine.table
    found: list[tuple[Candidate, str]] = []
    rails = [c for c in table.candidates if c.probe.rail and c.probe.live]
    limited = first_power(session)
    for reading in session.state.evidence:
        probe, judgement = judged(session, reading)
        if probe.live and probe.rail and judgement.verdict is Verdict.DISAGREES:
            candidate = table.candidates[table.index(reading.candidate)]
            found.append((candidate, "The same point in the same state as before the repair."))
    connectors = {connector.ref for connector in session.board.connectors}
    pins = [c for c in rails if c.probe.stop in connectors] or rails
    if not any(c.state.lamp_watts == limited.lamp_watts for c, _ in found):
        through = "through the lamp" if limited.lamp_watts else "on the adapter"
        first = next(c for c in pins if c.state == limited)
        found.insert(0, (first, f"The first rail, {through}."))
    found.sort(key=lambda item: item[0].state.lamp_watts != limited.lamp_watts)
    in_set = next(c for c in pins if c.state == IN_THE_SET)
    found.append((in_set, "In the set, in standby: the rail with its real load."))
    for candidate in pins:
        if candidate.state == SWITCHED_ON and candidate.probe.rail != in_set.probe.rail:
            found.append(
                (candidate, "Switched on: a rail with its load, for the next level of proof.")
            )
            break
    return list(dict((c.key, (c, why)) for c, why in reversed(found)).values())[::-1]


def first_power(session: JobSession) -> BoardState:
    """The first powered state after a repair: behind a lamp, or on the board's own adapter."""
    states = live_states(session.board)
    seen = [r.state for r in session.state.evidence if r.state in states and r.state.lamp_watts]
    return seen[0] if seen else states[0]


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
