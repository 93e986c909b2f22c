"""What to read after a repair, in order: the readings that were wrong first, then in the set."""

from __future__ import annotations

from loose_rail.app.results import judged
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.planner import reachable
from loose_rail.diagnosis.predictions import Candidate
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
    lamp = next(s for s in (c.state for c in rails) if s.lamp_watts)
    for reading in session.state.evidence:
        probe, judgement = judged(session, reading)
        if probe.live and probe.rail and judgement.verdict is Verdict.DISAGREES:
            state = reading.state if reading.state.lamp_watts else lamp
            candidate = next(c for c in rails if c.probe.id == probe.id and c.state == state)
            found.append((candidate, "The same point in the same state as before the repair."))
    connectors = {connector.ref for connector in session.board.connectors}
    pins = [c for c in rails if c.probe.stop in connectors]
    if not found:
        first = next(c for c in pins if c.state == lamp)
        found.append((first, "The first rail, through the lamp."))
    in_set = next(c for c in pins if c.state == IN_THE_SET)
    found.append((in_set, "In the set, in standby: the rail with its real load."))
    switched = next(c for c in pins if c.state == SWITCHED_ON and c.probe.rail != in_set.probe.rail)
    found.append(
        (switched, "Switched on: the main rail with its load, for the next level of proof.")
    )
    return list(dict((c.key, (c, why)) for c, why in reversed(found)).values())[::-1]


def proof_task(session: JobSession) -> Task | None:
    """The next reading of the proof, None when all are taken or safety lets none be."""
    taken = {reading.candidate for reading in session.state.proof_readings}
    for candidate, why in proof_candidates(session):
        if candidate.key in taken or candidate.probe.id in session.state.skipped:
            continue
        if reachable(session.board, candidate.state, session.facts):
            return Task(candidate, "Prove the repair · about 2 min", why)
    return None
