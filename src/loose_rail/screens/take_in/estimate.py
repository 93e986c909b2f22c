"""The first estimate: which board, and whether opening the set is worth the bench's time."""

from __future__ import annotations

from loose_rail.app.deciding import costs_of
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.explain.levels import (
    NO_FAULT_HERE,
    OUTSIDE_MODEL,
    POWER_BOARD,
    board_shares,
)
from loose_rail.kernel.quantities import percent

DIAGNOSIS_MINUTES = 20.0
"""Mean minutes of a diagnosis, docs/benchmarks/diagnosis.md, rounded up [E]."""
ELSEWHERE_TOLD = 0.15
"""From this chance on that another board is at fault, it is said [E]."""


def worth_words(session: JobSession) -> tuple[str, ...]:
    """Worth opening? The expected cost against the limit, with what it rests on."""
    review, costs = session.review, costs_of(session)
    if review is None:
        return ()
    shares = {
        one.name: one.probability
        for one in board_shares(review.table, review.assessment.probabilities, review.unlisted[0])
    }
    minutes = DIAGNOSIS_MINUTES + costs.rework_minutes + costs.trial_minutes
    cost = costs.part + costs.per_hour * minutes / 60.0
    currency = session.state.currency
    here = shares.get(POWER_BOARD, 0.0)
    said = [
        f"{percent(here)} that a part of the power board is at fault: about {minutes:.0f} min of "
        f"bench time, {cost:.0f} {currency}".rstrip()
        + f" with the part, at {costs.per_hour:.0f} an hour."
    ]
    elsewhere = 1.0 - here - shares.get(NO_FAULT_HERE, 0.0) - shares.get(OUTSIDE_MODEL, 0.0)
    if elsewhere > ELSEWHERE_TOLD:
        said.append(
            f"{percent(elsewhere)} that another board is: the pair of standby readings tells in "
            "five minutes, before anything is bought."
        )
    limit = session.state.spending_limit
    if limit and cost > limit:
        said.append(
            f"That is over the limit of {limit:.2f} {currency}".rstrip()
            + ": worth it where the hour is not counted, or agree on more first."
        )
    elif limit:
        said.append(f"That stays within the limit of {limit:.2f} {currency}".rstrip() + ".")
    worth = session.state.detail("price_set")
    if worth:
        value = float(worth)
        words = "more than that" if value > cost else "less than the repair: a part donor"
        said.append(f"The set is worth {value:.0f} {currency}".rstrip() + f", {words}.")
    return tuple(said)
