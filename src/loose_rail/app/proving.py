"""How the last repair of a job stands, and what that is called on its sheet."""

from __future__ import annotations

from loose_rail.app.session import JobSession
from loose_rail.diagnosis.proof.standing import Proof, ProofStatus, proof_of

NOT_PROVED = {
    ProofStatus.NONE: "nothing was fitted",
    ProofStatus.NOT_SHOWN: "repair not shown",
    ProofStatus.FAILED: "not repaired",
}
"""How a repair that is not proved is called on the sheet."""


def proof(session: JobSession) -> Proof:
    """How the last repair stands: not shown, failed and why, or shown to a level."""
    return proof_of(session.engine.table if session.engine else None, session.state)
