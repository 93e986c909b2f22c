"""Handing back: the sheet as it prints, and what is still open."""

from __future__ import annotations

from loose_rail.app.results import proof_level
from loose_rail.app.session import JobSession
from loose_rail.presenters.power_up import pair_views
from loose_rail.presenters.states import HandBackState


def hand_back_state(session: JobSession, html: str) -> HandBackState:
    """The sheet and what is still open."""
    level = proof_level(session)
    open_points = []
    if session.state.verdict is None:
        open_points.append("No verdict was accepted.")
    if not session.state.fitted:
        open_points.append("No part was fitted.")
    if session.state.fitted and not session.state.proof_readings:
        open_points.append("Nothing was read after the repair.")
    if session.state.board_state.plugged:
        open_points.append("The board is recorded as plugged in: pull the plug before reassembly.")
    handed = session.state.handed_back
    return HandBackState(
        html,
        f"{level.title}. It does not cover {level.leaves_open}.",
        f"{handed.price:.2f}" if handed and handed.price is not None else "",
        tuple(open_points),
        handed is not None,
        "Handed back" if handed else "Hand back",
        pair_views(session),
    )
