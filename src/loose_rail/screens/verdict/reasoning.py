"""What the review says beyond the next probe: readings to take again, what would change the
verdict, whether to repair now, what is intermittent, what this board did before."""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.app.deciding import costs_of
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.explain.differ import differ
from loose_rail.diagnosis.explain.measurement_errors import slips_of
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.inference.contradictions import contradictions
from loose_rail.diagnosis.inference.finding import Standing
from loose_rail.diagnosis.inference.shop_history import counts_of
from loose_rail.diagnosis.planning.intermittent import soak_plan
from loose_rail.diagnosis.planning.stopping import ShopCosts
from loose_rail.diagnosis.review import Review

MOST_SLIPS = 2
LEAST_RISK = 0.05
"""Money below which a risk is next to nothing."""


def slip_words(review: Review) -> tuple[str, ...]:
    """Readings that contradict the rest, with the likely measurement error."""
    evidence = review.dossier.evidence
    both = contradictions(review.table, evidence)
    if both:
        return tuple(pair.words for pair in both[:MOST_SLIPS])
    found = slips_of(review.table, evidence, review.dossier.clues)
    return tuple(
        f"Reading {slip.number} contradicts the rest: {slip.words}." for slip in found[:MOST_SLIPS]
    )


def stop_words(review: Review, costs: ShopCosts) -> str:
    """Whether repairing now is cheaper than the next reading, in money and its reason."""
    found = review.assessment
    if found.finding is None:
        return ""
    offer = found.next_step.offer if found.next_step else None
    advice = review.stop_advice(costs)
    if advice is None or found.finding.standing is Standing.UNDECIDED:
        return ""
    currency = review.job.currency
    risk = f"{advice.now:.2f} {currency}".rstrip()
    if advice.now < LEAST_RISK:
        return f"Acting on {advice.part} now risks next to nothing."
    if offer is None:
        return f"Acting on {advice.part} now risks {risk} on average: part, rework and trial."
    after = f"{advice.after_reading:.2f} {currency}".rstrip()
    if advice.repair_now:
        return f"Acting on {advice.part} now risks {risk}; one more reading first, {after}."
    return f"One more reading pays: {after} with it, {risk} when acting on {advice.part} now."


def known_words(session: JobSession) -> tuple[str, ...]:
    """The shop's own counts on this board, with their denominators."""
    counts = counts_of(session.board, session.closed_jobs)
    return tuple(
        f"{count.suspect.replace(':', ' ')} {count.words}." for count in counts[:MOST_SLIPS]
    )


def soak_words(review: Review) -> str:
    """What to watch where an intermittent contact is suspected."""
    plan = soak_plan(review.table, review.assessment.probabilities)
    return plan.words if plan else ""


def reasoning_blocks(session: JobSession, review: Review) -> Sequence[tuple[str, str]]:
    """Blocks for the side of the verdict: (role, text)."""
    blocks: list[tuple[str, str]] = []
    for title, texts in (
        ("Read again", slip_words(review)),
        ("What would change the verdict", _if_any(differ(review, Names(review.table.board)))),
        ("Repair now or measure more", _if_any(stop_words(review, costs_of(session)))),
        ("Intermittent", _if_any(soak_words(review))),
        ("Seen before on this board", known_words(session)),
    ):
        if texts:
            blocks.append(("strong", title))
            blocks += [("", text) for text in texts]
    return blocks


def _if_any(text: str) -> tuple[str, ...]:
    return (text,) if text else ()
