"""The verdict: the balance of the leading suspects, and what it does not cover."""

from __future__ import annotations

from loose_rail.app.deciding import prices_of, standing_verdict
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.explain.levels import board_shares, section_shares
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.explain.reasons import reasons_for
from loose_rail.diagnosis.explain.routes import routes_of
from loose_rail.diagnosis.explain.supply_words import GOOD_SUPPLY, supply_words
from loose_rail.diagnosis.explain.unproved import covered, unproved
from loose_rail.diagnosis.inference.finding import Standing
from loose_rail.diagnosis.inference.judged import judged
from loose_rail.diagnosis.inference.posterior import bad_probabilities
from loose_rail.diagnosis.review import Review
from loose_rail.kernel.quantities import percent
from loose_rail.screens.shared.card.present import finding_title
from loose_rail.screens.verdict.reasoning import reasoning_blocks
from loose_rail.screens.verdict.state import BalanceBar, BalanceColumn, RouteView, VerdictState

MOST_COLUMNS = 3
MOST_LEVELS = 2
LEAST_LEVEL = 0.02


def verdict_state(session: JobSession) -> VerdictState:
    """The balance of the leading suspects and what the verdict covers."""
    review = session.review
    if review is None:
        return VerdictState(
            headline="Working out the predictions",
            standing="",
            columns=(),
            covered=(),
            unproved=(),
            action="Wait",
            accepted=False,
        )
    finding = review.assessment.finding
    ready = finding is not None and finding.standing is not Standing.UNDECIDED
    accepted = standing_verdict(session) is not None
    headline, standing = _headline(session, review)
    action = "Go to parts" if accepted else "Accept the verdict"
    return VerdictState(
        headline=headline,
        standing=standing,
        columns=_columns(review),
        covered=covered(review),
        unproved=unproved(review, Names(review.table.board)),
        action=action if ready or accepted else "Back to the bench",
        accepted=accepted,
        reasoning=tuple(reasoning_blocks(session, review)),
        levels=level_words(review),
        routes=route_views(session, review),
    )


def _headline(session: JobSession, review: Review) -> tuple[str, str]:
    """The verdict in a line, and how it stands."""
    finding, own = review.assessment.finding, standing_verdict(session)
    if own is not None and own.reason:
        against = f"Against the evidence ({percent(own.probability)}), because {own.reason}."
        return f"Decided: {own.title}", against
    if finding is None or finding.standing is Standing.UNDECIDED:
        supply = review.assessment.supply
        if supply is not None:
            return GOOD_SUPPLY, supply_words(review.table.board, supply)
        return (
            "No verdict yet: the evidence does not single out one part",
            "More readings would tell more; the bench offers the next one.",
        )
    headline = f"{finding_title(finding)}: {percent(finding.probability)} sure"
    if finding.standing is Standing.CONFIRMED:
        numbers = ", ".join(str(n) for n in finding.confirmed_by)
        return headline, f"Confirmed by reading {numbers} at the part itself."
    return (
        headline,
        "Best match. No reading at the part itself confirms it: it can't be told in place.",
    )


def _columns(review: Review) -> tuple[BalanceColumn, ...]:
    names = Names(review.table.board)
    told = {reading.number: _bar_words(review, reading.number) for reading in review.readings}
    columns = []
    for suspect in review.assessment.suspects[:MOST_COLUMNS]:
        dossier = review.dossier
        reasons = reasons_for(review.table, suspect.key, dossier.evidence, dossier.clues, told)
        bars = tuple(BalanceBar(reason.words, reason.log_odds) for reason in reasons)
        columns.append(
            BalanceColumn(names.title(suspect.title), percent(suspect.probability), bars)
        )
    return tuple(columns)


def _bar_words(review: Review, number: int) -> str:
    reading = next(one for one in review.readings if one.number == number)
    probe, _ = judged(review.table, reading)
    return f"{number}  {probe.title}: {reading.observation.text(2)}"


def level_words(review: Review) -> str:
    """Board, section and part in one line, each with its probability."""
    table, chances = review.table, review.assessment.probabilities
    said = []
    for title, shares in (
        ("Board", board_shares(table, chances)),
        ("Section", section_shares(table, chances)),
    ):
        best = [s for s in shares[:MOST_LEVELS] if s.probability > LEAST_LEVEL]
        said.append(f"{title}: {', '.join(f'{s.name} {percent(s.probability)}' for s in best)}")
    parts = sorted(bad_probabilities(table, chances).items(), key=lambda item: -item[1])
    best_parts = [f"{ref} {percent(p)}" for ref, p in parts[:MOST_LEVELS] if p > LEAST_LEVEL]
    said.append(f"Part: {', '.join(best_parts) or 'none leads'}")
    return "   ".join(said)


def route_views(session: JobSession, review: Review) -> tuple[RouteView, ...]:
    """The routes for the chart and its list."""
    found, currency = review.assessment, review.job.currency
    routes = routes_of(review.table, found.probabilities, found.finding, prices_of(session))
    return tuple(
        RouteView(
            title=route.title,
            cost=route.cost,
            chance=route.chance,
            figures=f"{route.cost:.0f} {currency}".rstrip() + f" · cures {percent(route.chance)}",
            words=route.words,
        )
        for route in routes
    )
