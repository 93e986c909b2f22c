"""The forecast of the first power-up: asked for as a frozen request, worked out on a worker, kept
for the verdict that it is about."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from loose_rail.app.session import JobSession
from loose_rail.boards.faults import Fault, fault_from_key
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.in_line import LIMITER_DETAIL, limiter_of
from loose_rail.diagnosis.model.forecast import Forecast, forecast
from loose_rail.diagnosis.proof.plan import first_power
from loose_rail.judgement.limiter import Limiter
from loose_rail.vocabulary.board_state import BoardState


@dataclass(frozen=True)
class ForecastRequest:
    """Everything that a forecast needs, taken from the job at one moment."""

    verdict: str
    board: Board
    state: BoardState
    faults: tuple[Fault, ...]
    limiter: Limiter | None

    def work_out(self) -> Forecast:
        """The forecast (some seconds, pure): safe on another thread."""
        return forecast(self.board, self.state, self.faults, self.limiter)


class ForecastKeeper:
    """The forecast of the accepted verdict, worked out once for each verdict."""

    def __init__(self) -> None:
        self._verdict = ""
        self._forecast: Forecast | None = None

    def get(self, session: JobSession) -> Forecast | None:
        """The forecast that fits the present verdict, None while it is missing."""
        return self._forecast if self._verdict == _wanted(session) else None

    def missing(self, session: JobSession) -> ForecastRequest | None:
        """What to work out, None where nothing is missing."""
        verdict = _wanted(session)
        if not verdict or self._verdict == verdict:
            return None
        first = first_state(session)
        limiter = limiter_of(session.state, first.lamp_watts)
        return ForecastRequest(verdict, session.board, first, _faults(session), limiter)

    def keep(self, request: ForecastRequest, found: Forecast) -> None:
        """Keep what was worked out."""
        self._verdict, self._forecast = request.verdict, found


def first_state(session: JobSession) -> BoardState:
    """The state of the first power-up: that of the first reading of the proof, always limited."""
    if session.review is None or not session.review.proof_plan:
        return first_power(session.board, session.state)
    powered = [one.candidate.state for one in session.review.proof_plan]
    return next((state for state in powered if state.plugged), powered[0])


def _wanted(session: JobSession) -> str:
    verdict = session.state.verdict
    limiter = session.state.detail(LIMITER_DETAIL)
    return f"{verdict.part}/{verdict.title}/{limiter}" if verdict else ""


def _faults(session: JobSession) -> tuple[Fault, ...]:
    """The faults of the likeliest hypothesis on the part of the verdict."""
    verdict, review = session.state.verdict, session.review
    if verdict is None or review is None:
        return ()
    own = np.array([row.part == verdict.part for row in review.table.rows])
    if not own.any():
        return ()
    best = int(np.argmax(np.where(own, review.assessment.probabilities, -1.0)))
    keys = review.table.rows[best].faults
    return tuple(fault_from_key(session.board, fault.key) for fault in keys)
