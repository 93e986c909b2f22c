"""Boards with the chance that the fault lies on each, as rows."""

from __future__ import annotations

from loose_rail.diagnosis.explain.levels import board_shares
from loose_rail.diagnosis.review import Review
from loose_rail.kernel.quantities import percents
from loose_rail.screens.shared.rows import BoardShare

MOST_BOARDS = 3
LEAST_SHARE = 0.005


def boards_of(review: Review | None) -> tuple[BoardShare, ...]:
    """Boards, the likeliest first, and all others as one row, so that what is shown adds up; empty
    while predictions are being worked out."""
    if review is None:
        return ()
    shares = board_shares(review.table, review.assessment.probabilities, review.unlisted[0])
    shown = [
        (one.name[:1].upper() + one.name[1:], one.probability)
        for one in shares[:MOST_BOARDS]
        if one.probability >= LEAST_SHARE
    ]
    rest = 1.0 - sum(share for _, share in shown)
    if rest >= LEAST_SHARE:
        shown.append(("All others", rest))
    words = percents([share for _, share in shown])
    return tuple(
        BoardShare(name, text, share) for (name, share), text in zip(shown, words, strict=True)
    )
