"""Handing back: the sheet as it prints, and what is still open."""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.app.comebacks import returned_by
from loose_rail.app.costing import cost_of
from loose_rail.app.deciding import given_back
from loose_rail.app.handing_over import final_points
from loose_rail.app.proving import NOT_PROVED, proof
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.explain.unproved import left_open
from loose_rail.diagnosis.explain.ways_on import Kind
from loose_rail.diagnosis.proof.standing import Proof, ProofStatus
from loose_rail.jobs.summary import Summary
from loose_rail.screens.hand_back.state import HandBackState, PointView
from loose_rail.screens.shared.pair_views import pair_views


def hand_back_state(session: JobSession, html: str, jobs: Sequence[Summary] = ()) -> HandBackState:
    """The sheet and what is still open; `jobs` are the shop's."""
    found = proof(session)
    level, status = found.level, found.status
    handed = session.state.handed_back
    proved = f"{level.title}. It does not cover {level.leaves_open}."
    action = "Hand back" if status is ProofStatus.SHOWN else "Hand back as it is"
    return HandBackState(
        html=html,
        proof=proved if status is ProofStatus.SHOWN else f"{NOT_PROVED[status]}.".capitalize(),
        price=f"{handed.price:.2f}" if handed and handed.price is not None else "",
        open_points=tuple(_open_points(session, found)),
        handed_back=handed is not None,
        action="Handed back" if handed else action,
        pairs=pair_views(session.review),
        points=tuple(
            PointView(
                number=number,
                words=one.item.words,
                said=one.bad or one.words,
                status=one.status,
                caution="" if one.settled else one.item.caution,
            )
            for number, one in enumerate(final_points(session), start=1)
        ),
        cost=_cost_words(session),
        came_back=_came_back(session, jobs, level.title),
        proposed_price=f"{cost_of(session).total:.2f}",
        failed="Not repaired: the repair has failed." if status is ProofStatus.FAILED else "",
    )


def _came_back(session: JobSession, jobs: Sequence[Summary], level: str) -> str:
    """What became of sets like this one: proved as far, gone the same way, with parts of a make."""
    way, lines = session.state.way, [("Sets proved as far as this one", returned_by(jobs, level))]
    lines += [(f"By the way “{way.title}”", returned_by(jobs, way=way.way))] if way else []
    lines += [(f"With {make} parts", returned_by(jobs, make=make)) for make in session.state.makes]
    return " ".join(f"{title}: {found.words}." for title, found in lines)


def _cost_words(session: JobSession) -> str:
    """How the price that is proposed comes together."""
    cost = cost_of(session)
    carriage = f", carriage {cost.carriage:.2f}" if cost.carriage else ""
    work = f"{cost.hours:.2f} h at {cost.rate:.2f}"
    currency = session.state.currency
    return f"Parts {cost.parts:.2f}{carriage}, {work}: {cost.total:.2f} {currency}".rstrip()


def _open_points(session: JobSession, found: Proof) -> list[str]:
    way = session.state.way
    points = []
    if way is not None and given_back(session):
        how = "with nothing replaced" if way.way == Kind.HAND_BACK else "unrepaired"
        points.append(f"Given back {how}, as decided.")
    if not session.state.fitted and not points:
        points.append("No part was fitted.")
    if session.state.verdict is None:
        points.append("No verdict was accepted.")
    if found.status is ProofStatus.NOT_SHOWN:
        points.append("No reading after the repair shows more than a dead board would give.")
    points += found.failures
    if session.review is not None:
        points += left_open(session.review, Names(session.board))
    if session.state.board_state.plugged:
        points.append("The board is recorded as plugged in: pull the plug before reassembly.")
    return points
