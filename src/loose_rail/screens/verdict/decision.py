"""Deciding: the verdict at three levels, the routes with the shop's prices, and the person's own
decision with its reason."""

from __future__ import annotations

import re

from loose_rail.app.session import JobSession
from loose_rail.diagnosis.explain.levels import board_shares, section_shares
from loose_rail.diagnosis.explain.routes import Prices, routes_of
from loose_rail.diagnosis.inference.posterior import bad_probabilities
from loose_rail.diagnosis.planning.stopping import ShopCosts
from loose_rail.jobs import events as ev
from loose_rail.kernel.quantities import percent
from loose_rail.screens.shared.notice import Notice
from loose_rail.screens.verdict.state import RouteView

PRICES = {"part": "part", "kit": "kit", "board": "board", "hour": "hour", "set": "set_value"}
MOST_LEVELS = 2
LEAST_LEVEL = 0.02
LEAST_REASON = 3
BECAUSE = re.compile(r"^\s*(\S+)\s+because\s+(.*\S)\s*$", re.IGNORECASE)


def prices_of(session: JobSession) -> Prices:
    """The prices typed in this job over the defaults."""
    given = {
        field: float(session.state.detail(f"price_{name}"))
        for name, field in PRICES.items()
        if session.state.detail(f"price_{name}")
    }
    return Prices(**given)


def costs_of(session: JobSession) -> ShopCosts:
    """What acting and reading cost here, by the same prices."""
    prices = prices_of(session)
    return ShopCosts(per_hour=prices.hour, part=prices.part)


def level_words(session: JobSession) -> str:
    """Board, section and part in one line, each with its probability."""
    if session.engine is None or session.assessment is None:
        return ""
    table, chances = session.engine.table, session.assessment.probabilities
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


def route_views(session: JobSession) -> tuple[RouteView, ...]:
    """The routes for the chart and its list."""
    if session.engine is None or session.assessment is None:
        return ()
    found = session.assessment
    routes = routes_of(session.engine.table, found.probabilities, found.finding, prices_of(session))
    currency = session.state.currency
    return tuple(
        RouteView(
            route.title,
            route.cost,
            route.chance,
            f"{route.cost:.0f} {currency}".rstrip() + f" · cures {percent(route.chance)}",
            route.words,
        )
        for route in routes
    )


def decide(session: JobSession, text: str) -> Notice:
    """A typed line of the verdict page: prices, or another part with a reason."""
    match = BECAUSE.match(text)
    if match:
        return _overrule(session, match.group(1), match.group(2))
    words = text.replace(",", " ").lower().split()
    pairs = list(zip(words[::2], words[1::2], strict=False))
    if len(words) % 2 or not pairs or any(name not in PRICES for name, _ in pairs):
        known = ", ".join(PRICES)
        return Notice(
            f"C27 because … decides for another part; prices are {known} with a number.", "problem"
        )
    if not all(re.fullmatch(r"\d{1,5}(\.\d{1,2})?", number) for _, number in pairs):
        return Notice("Prices are plain numbers: board 35, kit 12.", "problem")
    for name, number in pairs:
        session.record(ev.DetailNoted(f"price_{name}", number))
    return Notice(f"Prices kept: {', '.join(f'{name} {number}' for name, number in pairs)}.")


def _overrule(session: JobSession, ref: str, reason: str) -> Notice:
    parts = {part.ref.upper(): part for part in session.board.components}
    part = parts.get(ref.upper())
    if part is None:
        return Notice(f"“{ref}” is no part of this board.", "problem")
    if len(reason.split()) < LEAST_REASON:
        return Notice("Say why in a few words: the reason is printed on the sheet.", "problem")
    chance, title, suspect = 0.0, f"{part.ref}, {part.duty or part.kind}", ""
    if session.engine is not None and session.assessment is not None:
        table, found = session.engine.table, session.assessment
        chance = bad_probabilities(table, found.probabilities).get(part.ref, 0.0)
        own = [s for s in found.suspects if s.part == part.ref]
        if own:
            title, suspect = own[0].title, own[0].key
    session.overrule(part.ref, title, suspect, chance, reason)
    words = f"Decided: {title}, against {percent(chance)} by the evidence."
    return Notice(f"{words} The reason is kept: {reason}.")
