"""What the readings of a job amount to: judged readings, pairs before and after, level of proof.

Screens and reports both print these; neither works them out.
"""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.app.proof import Proof, proof_of
from loose_rail.app.session import JobSession
from loose_rail.boards.probes import Probe
from loose_rail.jobs.fold import Reading
from loose_rail.judgement.judge import Judgement, Verdict, judge, sound_reading
from loose_rail.judgement.limits import limit
from loose_rail.judgement.proof import ProofLevel


@dataclass(frozen=True, slots=True)
class Pair:
    """The same point before and after the repair; spans are (low, high) in SI units."""

    probe: Probe
    before: Reading
    after: Reading
    judgement: Judgement
    expected_span: tuple[float, float]

    @property
    def good(self) -> bool:
        """Whether the point reads right now."""
        return self.judgement.verdict is Verdict.AGREES

    @property
    def before_span(self) -> tuple[float, float]:
        """Ends of the reading before."""
        return self.before.observation.low, self.before.observation.high

    @property
    def after_span(self) -> tuple[float, float]:
        """Ends of the reading after."""
        return self.after.observation.low, self.after.observation.high


def judged(session: JobSession, reading: Reading) -> tuple[Probe, Judgement]:
    """A reading with its probe and its judgement against a sound board. Needs the predictions."""
    assert session.engine is not None
    known: tuple[Probe, Judgement] | None = session.judgements.get(reading.sequence)
    if known is not None:
        return known
    table = session.engine.table
    column = table.index(reading.candidate)
    probe = table.candidates[column].probe
    sound = sound_reading(session.board, probe, float(table.low[0, column]))
    found = probe, judge(probe, reading.observation, sound)
    session.judgements[reading.sequence] = found
    return found


def pairs_of(session: JobSession) -> tuple[Pair, ...]:
    """Points read after the repair beside what they read before, the same state preferred."""
    if session.engine is None:
        return ()
    table, found = session.engine.table, []
    for after in session.state.proof_readings:
        before = (r for r in session.state.live_readings if r.round < after.round)
        earlier = [r for r in before if r.probe == after.probe]
        if not earlier:
            continue
        same = [r for r in earlier if r.state == after.state]
        probe, judgement = judged(session, after)
        sound = sound_reading(
            session.board, probe, float(table.low[0, table.index(after.candidate)])
        )
        width = limit("agrees_sigmas") * sound.sigma
        ends = (sound.value - width, sound.value + width)
        found.append(Pair(probe, (same or earlier)[-1], after, judgement, ends))
    return tuple(found)


def proof(session: JobSession) -> Proof:
    """How the last repair stands: not shown, failed and why, or shown to a level."""
    return proof_of(session.engine.table if session.engine else None, session.state)


def proof_level(session: JobSession) -> ProofLevel:
    """The level of proof shown by readings after the repair that only a working board gives."""
    return proof(session).level
