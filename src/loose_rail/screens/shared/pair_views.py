"""Points read before and after the repair, as they are drawn."""

from __future__ import annotations

from loose_rail.diagnosis.review import Review
from loose_rail.screens.shared.pairs import PairView


def pair_views(review: Review | None) -> tuple[PairView, ...]:
    """The pairs of a job; none without predictions."""
    if review is None:
        return ()
    return tuple(
        PairView(
            title=f"{pair.probe.title} · {pair.after.state.label}",
            before=pair.before.observation.text(),
            after=pair.after.observation.text(),
            expected=pair.judgement.expected,
            unit=pair.probe.unit,
            before_span=pair.before_span,
            after_span=pair.after_span,
            expected_span=pair.expected_span,
            good=pair.good,
        )
        for pair in review.pairs
    )
