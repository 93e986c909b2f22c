"""The leading suspects, and what speaks for each, as rows."""

from __future__ import annotations

from loose_rail.boards.kinds.registry import kind_words
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.explain.reasons import reading_weights
from loose_rail.diagnosis.inference.posterior import Suspect
from loose_rail.diagnosis.model.hypotheses import OUTSIDE
from loose_rail.diagnosis.review import Review
from loose_rail.screens.shared.rows import SuspectRow, with_percents

MOST_SUSPECTS = 5
TELLING_LOG_ODDS = 0.7
"""Weight in nats from which a reading is named beside a suspect: twice as likely [E]."""


def suspect_rows(review: Review | None) -> tuple[SuspectRow, ...]:
    """The leading suspects, and all others as one row."""
    if review is None:
        return ()
    names = Names(review.table.board)
    suspects = review.assessment.suspects
    first = suspects[:MOST_SUSPECTS]
    weighed = reading_weights(review.table, [s.key for s in first], review.dossier.evidence)
    rows = [
        SuspectRow(
            percent="",
            title=names.title(names.suspect(one.part, one.title)),
            why=_why(review, one, weights),
            share=one.probability,
        )
        for one, weights in zip(first, weighed, strict=True)
    ]
    rest = suspects[MOST_SUSPECTS:]
    share = sum(one.probability for one in rest)
    others = SuspectRow("", "Everything else", f"{len(rest)} more", share, len(rest))
    return with_percents((*rows, others))


def _why(review: Review, suspect: Suspect, weights: dict[int, float]) -> str:
    speaks = [str(number) for number, weight in weights.items() if weight > TELLING_LOG_ODDS]
    against = [str(number) for number, weight in weights.items() if weight < -TELLING_LOG_ODDS]
    words = []
    if speaks:
        words.append(f"fits reading{'s' if len(speaks) > 1 else ''} {', '.join(speaks)}")
    if against:
        words.append(f"contradicted by {', '.join(against)}")
    if words:
        return " · ".join(words)
    if suspect.key == OUTSIDE and review.unlisted[0]:
        return "this model does not have that part"
    if not suspect.part:
        return "wins when nothing else explains the readings"
    component = review.table.board.component(suspect.part)
    return component.duty or kind_words(component.kind)
