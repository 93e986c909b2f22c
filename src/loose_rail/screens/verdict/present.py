"""The verdict: the balance of the leading suspects, and what it does not cover."""

from __future__ import annotations

from loose_rail.app.deciding import given_back, prices_of, standing_verdict
from loose_rail.app.session import JobSession
from loose_rail.app.ways import hands_back, ways_of
from loose_rail.diagnosis.evidence.unlisted_clues import title_of
from loose_rail.diagnosis.explain.levels import board_shares, section_shares
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.explain.reasons import reasons_for
from loose_rail.diagnosis.explain.supply_words import (
    AT_WORK,
    GOOD_SUPPLY,
    at_work_words,
    supply_words,
)
from loose_rail.diagnosis.explain.unproved import covered, unproved
from loose_rail.diagnosis.explain.ways_on import GIVING_BACK, hunch
from loose_rail.diagnosis.inference.finding import Standing
from loose_rail.diagnosis.inference.judged import judged
from loose_rail.diagnosis.inference.outside import SHOWN_BY_A_PART
from loose_rail.diagnosis.inference.posterior import Suspect, bad_probabilities
from loose_rail.diagnosis.review import Review
from loose_rail.judgement.economics import Prices
from loose_rail.kernel.quantities import percent
from loose_rail.screens.shared.card.present import finding_title
from loose_rail.screens.verdict.reasoning import reasoning_blocks
from loose_rail.screens.verdict.state import BalanceBar, BalanceColumn, VerdictState, WayView

AS_IT_STANDS = "As it stands now, and no verdict: each further reading moves these. "
MOST_COLUMNS = 3
MOST_LEVELS = 2
LEAST_LEVEL = 0.02
EVEN = 0.5
"""From here on a decision of one's own goes before the evidence, not against it."""


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
    ready = _ready(session)
    accepted = standing_verdict(session) is not None
    headline, standing = _headline(session, review)
    action = "Go to parts" if accepted else "Accept the verdict"
    on, goes_back = ready or accepted, given_back(session)
    back = "Hand it back" if hands_back(session) else "Back to the bench"
    return VerdictState(
        headline=headline,
        standing=standing,
        columns=_columns(review),
        covered=covered(review),
        unproved=unproved(review, Names(review.table.board)),
        action="Go to hand back" if goes_back else action if on else back,
        accepted=accepted,
        reasoning=tuple(reasoning_blocks(session, review)),
        levels=level_words(review),
        ways=way_views(session, review),
        money=money_words(session),
    )


def _ready(session: JobSession) -> bool:
    """Whether the evidence singles out a part."""
    finding = session.reviewed.assessment.finding
    return finding is not None and finding.standing is not Standing.UNDECIDED


def _headline(session: JobSession, review: Review) -> tuple[str, str]:
    """The verdict in a line, and how it stands."""
    finding, own = review.assessment.finding, standing_verdict(session)
    if own is not None and own.reason:
        how = "Against the evidence" if own.probability < EVEN else "Before the evidence settled"
        return f"Decided: {own.title}", f"{how} ({percent(own.probability)}), because {own.reason}."
    if finding is None or finding.standing is Standing.UNDECIDED:
        supply = review.assessment.supply
        name, how = review.unlisted
        if how in SHOWN_BY_A_PART:
            sure = percent(float(review.assessment.probabilities[-1]))
            return (
                f"{title_of(name, how)[:1].upper()}{title_of(name, how)[1:]}: {sure} sure",
                "This model does not have that part. Renew it, then tell what came of it: "
                f"“replaced {name}: …”.",
            )
        if supply is not None:
            return GOOD_SUPPLY, supply_words(review.table.board, supply)
        if review.assessment.at_work:
            return AT_WORK, at_work_words(float(review.assessment.probabilities[0]))
        return (
            "No verdict yet: the evidence does not single out one part",
            "More readings would tell more; the bench offers the next one.",
        )
    headline = f"{finding_title(finding)}: {percent(finding.probability)} sure"
    if finding.alone:
        return headline, "It measured bad by itself, off the set."
    if finding.exchanged:
        return headline, "The set runs with a good one in its place. Let it run, then hand it back."
    if finding.standing is Standing.CONFIRMED:
        if not finding.confirmed_by:  # told of the part, out of the board or as it stands there
            return headline, "Confirmed: it measured bad, and nothing beside it makes that."
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
        title = f"{names.title(suspect.title)}{_as_the_first(review, suspect)}"
        columns.append(BalanceColumn(title, percent(suspect.probability), bars))
    return tuple(columns)


BAD_BESIDE_SHARE = 0.05
"""From here on a part is plainly surer to be bad than to be what began it."""


def _as_the_first(review: Review, suspect: Suspect) -> str:
    """What the share of a suspect is of, where the verdict is surer: a part may be bad for
    certain, and not for certain be the one that failed first."""
    finding = review.assessment.finding
    if finding is None or finding.part != suspect.part:
        return ""
    suspects = review.assessment.suspects
    first = sum(one.probability for one in suspects if one.part == finding.part)
    return ", as the first to fail" if finding.probability - first > BAD_BESIDE_SHARE else ""


def _bar_words(review: Review, number: int) -> str:
    reading = next(one for one in review.readings if one.number == number)
    probe, _ = judged(review.table, reading)
    return f"{number}  {probe.title}: {reading.observation.text(2)}"


def level_words(review: Review) -> str:
    """Board, section and part in one line, each with its probability."""
    table, chances = review.table, review.assessment.probabilities
    said = []
    for title, shares in (
        ("Board", board_shares(table, chances, review.unlisted[0])),
        ("Section", section_shares(table, chances, review.unlisted[0])),
    ):
        best = [s for s in shares[:MOST_LEVELS] if s.probability > LEAST_LEVEL]
        said.append(f"{title}: {', '.join(f'{s.name} {percent(s.probability)}' for s in best)}")
    parts = sorted(bad_probabilities(table, chances).items(), key=lambda item: -item[1])
    best_parts = [f"{ref} {percent(p)}" for ref, p in parts[:MOST_LEVELS] if p > LEAST_LEVEL]
    said.append(f"Part: {', '.join(best_parts) or 'none leads'}")
    return "   ".join(said)


def way_views(session: JobSession, review: Review) -> tuple[WayView, ...]:
    """The ways on for the chart and its list."""
    currency, chosen = review.job.currency, review.job.way
    found = []
    for way in ways_of(session):
        cost = f"{way.worth.cost:.0f} {currency}".rstrip()
        then = f"; if it fails: {way.then[0].lower()}{way.then[1:]}" if way.then else ""
        parts = [cost, f"cures {percent(way.worth.chance)}", f"leaves {way.value:.0f}"]
        give_back = way.kind in GIVING_BACK
        found.append(
            WayView(
                title=way.title,
                cost=way.worth.cost,
                chance=way.worth.chance,
                figures="" if give_back else " · ".join(parts),
                words=f"{way.words}{then}",
                chosen=chosen is not None and chosen.title == way.title,
                ties_at=way.ties_at,
            )
        )
    return tuple(found)


def money_words(session: JobSession) -> str:
    """What the figures rest on, what a hunch would have cost, the come-backs of the best."""
    ways = ways_of(session)
    if not ways or len(ways) == 1:
        return ""
    prices, best = prices_of(session), ways[0]
    currency = session.state.currency
    if best.kind in GIVING_BACK:
        return "No way leaves more than giving it back." + _set_value_asked(prices)
    said = [f"{best.worth.comeback:.0%} of such repairs come back".replace("%", " %")]
    if best.ties_at is not None and best.ties_at < best.worth.chance:
        said.append(f"it stays the best down to a cure of {percent(best.ties_at)}")
    shown = session.reviewed.unlisted[1] in SHOWN_BY_A_PART
    settled = standing_verdict(session) is not None or _ready(session) or shown
    found = "" if settled else AS_IT_STANDS
    found += f"Way 1: {'; '.join(said)}."
    guess = hunch(ways)
    if guess is not None:
        cost = f"{guess.worth.cost:.0f} {currency}".rstrip()
        found += f" A power board on the hunch: {cost}, cures {percent(guess.worth.chance)}."
    limit = session.state.spending_limit
    over = [str(n) for n, way in enumerate(ways, start=1) if 0 < limit < way.worth.cost]
    if over:
        found += f" Over the agreed limit of {limit:.0f}: {', '.join(over)}; ask first."
    return found + _set_value_asked(prices)


def _set_value_asked(prices: Prices) -> str:
    """What is asked for where nobody has said what the set is worth; else empty."""
    if prices.set_value:
        return ""
    return " What the set is worth is not said (set 150): a board and an hour, twice."
