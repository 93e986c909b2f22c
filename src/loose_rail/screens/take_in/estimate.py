"""The first estimate: which board, and whether opening the set is worth the bench's time."""

from __future__ import annotations

from loose_rail.app.session import JobSession
from loose_rail.diagnosis.explain.levels import (
    NO_FAULT_HERE,
    OUTSIDE_MODEL,
    POWER_BOARD,
    board_shares,
)
from loose_rail.diagnosis.planning.stopping import ShopCosts
from loose_rail.kernel.quantities import percent
from loose_rail.screens.shared.rows import BoardShare

MOST_BOARDS = 4
LEAST_SHARE = 0.005
DIAGNOSIS_MINUTES = 20.0
"""Mean minutes of a diagnosis, docs/benchmarks/diagnosis.md, rounded up [E]."""


def boards_of(session: JobSession) -> tuple[BoardShare, ...]:
    """Boards, the likeliest first; empty while predictions are being worked out."""
    if session.engine is None or session.assessment is None:
        return ()
    shares = board_shares(session.engine.table, session.assessment.probabilities)
    return tuple(
        BoardShare(one.name[:1].upper() + one.name[1:], percent(one.probability), one.probability)
        for one in shares[:MOST_BOARDS]
        if one.probability >= LEAST_SHARE
    )


def worth_words(session: JobSession, costs: ShopCosts) -> tuple[str, ...]:
    """Worth opening? The expected cost against the limit, with what it rests on."""
    if session.engine is None or session.assessment is None:
        return ()
    shares = {
        one.name: one.probability
        for one in board_shares(session.engine.table, session.assessment.probabilities)
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
    if elsewhere > 0.15:
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
