"""Boards with the chance that the fault lies on each, as rows."""

from __future__ import annotations

from loose_rail.diagnosis.explain.levels import board_shares
from loose_rail.diagnosis.review import Review
from loose_rail.kernel.quantities import percent
from loose_rail.screens.shared.rows import BoardShare

MOST_BOARDS = 4
LEAST_SHARE = 0.005


def boards_of(review: Review | None) -> tuple[BoardShare, ...]:
    """Boards, the likeliest first; empty while predictions are being worked out."""
    if review is None:
        return ()
    shares = board_shares(review.table, review.assessment.probabilities)
    return tuple(
        BoardShare(one.name[:1].upper() + one.name[1:], percent(one.probability), one.probability)
        for one in shares[:MOST_BOARDS]
        if one.probability >= LEAST_SHARE
    )
