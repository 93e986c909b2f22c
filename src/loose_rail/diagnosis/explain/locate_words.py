"""Parts that lie side by side: how to find the shorted one without lifting each."""

from __future__ import annotations

from loose_rail.boards.parallels import in_parallel
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.inference.posterior import bad_probabilities
from loose_rail.diagnosis.review import Review

LEAST_IN_DOUBT = 0.04
"""A part from this chance on is worth naming [E]."""
MOST_NAMED = 4
"""Parts named in one sentence."""


def locate_words(review: Review, names: Names) -> str:
    """What finds the shorted one of several parts with no iron, where the offered reading would
    lift one of them; else nothing."""
    step = review.step
    if step is None or not step.offer.candidate.probe.lifted:
        return ""
    table = review.table
    part = step.offer.candidate.probe.part
    bad = bad_probabilities(table, review.assessment.probabilities)
    beside = [ref for ref in in_parallel(table.board, part) if bad.get(ref, 0.0) > LEAST_IN_DOUBT]
    if not beside:
        return ""
    order = sorted(beside, key=lambda ref: -bad[ref])[: MOST_NAMED - 1]
    listed = ", ".join(names.short(ref) for ref in (part, *order))
    return (
        f"Without an iron: drained, feed 1 V, at most 1 A across it; of {listed} the warm one, or "
        "where the millivolts along the track are lowest, has the short."
    )
