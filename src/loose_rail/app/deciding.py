"""Deciding: a verdict is accepted, the shop's prices, and the person's own decision with its
reason."""

from __future__ import annotations

import re

import msgspec

from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.app.settings import KeepSetting
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.explain.unproved import unproved
from loose_rail.diagnosis.explain.ways_on import GIVING_BACK
from loose_rail.diagnosis.inference.finding import Standing
from loose_rail.diagnosis.inference.posterior import bad_probabilities
from loose_rail.diagnosis.planning.stopping import ShopCosts
from loose_rail.jobs import events as ev
from loose_rail.judgement.economics import Prices
from loose_rail.kernel.quantities import percent

PRICES = {
    "part": "part",
    "kit": "kit",
    "board": "board",
    "new": "new",
    "pair": "pair",
    "strips": "strips",
    "old": "old",
    "hour": "hour",
    "comeback": "comeback",
    "set": "set_value",
}
"""How a price is called on the line; all but that of the set can be kept for the whole shop."""
ALWAYS = "always"
LEAST_REASON = 3
BECAUSE = re.compile(r"^\s*(\S+)\s+because\s+(.*\S)\s*$", re.IGNORECASE)


def prices_of(session: JobSession) -> Prices:
    """The prices typed in this job over those of the shop."""
    given = {
        field: float(session.state.detail(f"price_{name}"))
        for name, field in PRICES.items()
        if session.state.detail(f"price_{name}")
    }
    return msgspec.structs.replace(session.prices, **given)


def costs_of(session: JobSession) -> ShopCosts:
    """What acting and reading cost here, by the same prices."""
    prices = prices_of(session)
    return ShopCosts(per_hour=prices.hour, part=prices.part)


def standing_verdict(session: JobSession) -> ev.VerdictAccepted | None:
    """The accepted verdict, None where none was or where its repair has failed."""
    review, state = session.review, session.state
    round_now = review.dossier.round if review else max(state.round - 1, 0)
    return state.verdict if state.verdict_round == round_now else None


def given_back(session: JobSession) -> bool:
    """Whether the way that was chosen last is to give the set back as it is."""
    way = session.state.way
    return way is not None and way.way in GIVING_BACK


def accept_verdict(session: JobSession) -> Outcome:
    """The leading finding becomes the verdict, with what it does not cover."""
    review = session.review
    finding = review.assessment.finding if review else None
    if review is None or finding is None or finding.standing is Standing.UNDECIDED:
        return Outcome.refused("The evidence does not single out one part yet.")
    session.accept_verdict(unproved(review, Names(session.board)))
    return Outcome(f"Verdict accepted: {finding.suspects[0].title}.")


def decide(session: JobSession, text: str, keep: KeepSetting | None = None) -> Outcome:
    """A typed line of the verdict page: prices of this job, after `always` those of the shop, or
    another part with a reason. Raises StoreError where the shop's can't be kept."""
    match = BECAUSE.match(text)
    if match:
        return _overrule(session, match.group(1), match.group(2))
    words = text.replace(",", " ").lower().split()
    always = words[:1] == [ALWAYS]
    words = words[1:] if always else words
    pairs = list(zip(words[::2], words[1::2], strict=False))
    if len(words) % 2 or not pairs or any(name not in PRICES for name, _ in pairs):
        known = ", ".join(PRICES)
        return Outcome.refused(
            f"A number chooses a way, C27 because … decides for another part; prices are {known} "
            "with a number, after “always” for every job."
        )
    if not all(re.fullmatch(r"\d{1,5}(\.\d{1,2})?", number) for _, number in pairs):
        return Outcome.refused("Prices are plain numbers: board 35, kit 12.")
    said = ", ".join(f"{name} {number}" for name, number in pairs)
    if always and keep is not None:
        if any(name == "set" for name, _ in pairs):
            return Outcome.refused("What a set is worth belongs to its job: leave “always” out.")
        new = {PRICES[name]: float(number) for name, number in pairs}
        session.prices = msgspec.structs.replace(session.prices, **new)
        keep("prices", session.prices)
        return Outcome(f"Prices of the shop: {said}.")
    for name, number in pairs:
        session.record(ev.DetailNoted(f"price_{name}", number))
    return Outcome(f"Prices kept: {said}.")


def _overrule(session: JobSession, ref: str, reason: str) -> Outcome:
    parts = {part.ref.upper(): part for part in session.board.components}
    part = parts.get(ref.upper())
    if part is None:
        return Outcome.refused(f"“{ref}” is no part of this board.")
    if len(reason.split()) < LEAST_REASON:
        return Outcome.refused("Say why in a few words: the reason is printed on the sheet.")
    chance, title, suspect = 0.0, f"{part.ref}, {part.duty or part.kind}", ""
    if session.review is not None:
        found = session.review.assessment
        bad = bad_probabilities(session.review.table, found.probabilities)
        chance = bad.get(part.ref, 0.0)
        own = [s for s in found.suspects if s.part == part.ref]
        if own:
            title, suspect = own[0].title, own[0].key
    session.overrule(part.ref, title, suspect, chance, reason)
    words = f"Decided: {title}, against {percent(chance)} by the evidence."
    return Outcome(f"{words} The reason is kept: {reason}.")
