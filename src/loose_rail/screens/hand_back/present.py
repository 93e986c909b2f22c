"""Handing back: the sheet as it prints, and what is still open."""

from __future__ import annotations

from loose_rail.app.proof import ProofStatus
from loose_rail.app.results import proof
from loose_rail.app.session import JobSession
from loose_rail.screens.hand_back.state import HandBackState
from loose_rail.screens.power_up.present import pair_views

NOT_PROVED = {
    ProofStatus.NONE: "nothing was fitted",
    ProofStatus.NOT_SHOWN: "repair not shown",
    ProofStatus.FAILED: "not repaired",
}


def hand_back_state(session: JobSession, html: str) -> HandBackState:
    """The sheet and what is still open."""
    found = proof(session)
    level, status = found.level, found.status
    open_points = []
    if session.state.verdict is None:
        open_points.append("No verdict was accepted.")
    if not session.state.fitted:
        open_points.append("No part was fitted.")
    if status is ProofStatus.NOT_SHOWN:
        open_points.append("No reading after the repair shows more than a dead board would give.")
    open_points += found.failures
    if session.state.board_state.plugged:
        open_points.append("The board is recorded as plugged in: pull the plug before reassembly.")
    handed = session.state.handed_back
    return HandBackState(
        html,
        f"{level.title}. It does not cover {level.leaves_open}."
        if status is ProofStatus.SHOWN
        else f"{NOT_PROVED[status]}.".capitalize(),
        f"{handed.price:.2f}" if handed and handed.price is not None else "",
        tuple(open_points),
        handed is not None,
        "Handed back"
        if handed
        else "Hand back"
        if status is ProofStatus.SHOWN
        else "Hand back as it is",
        pair_views(session),
        "Not repaired: the repair has failed." if status is ProofStatus.FAILED else "",
    )
