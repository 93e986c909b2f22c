"""The stores against the list of a repair: which lines may stand in which place, the cheapest set
that covers it, taking that set."""

from __future__ import annotations

from dataclasses import dataclass

import msgspec

from loose_rail.app.outcome import Outcome
from loose_rail.app.parts import FIT_WORDS, repair_list
from loose_rail.app.session import JobSession
from loose_rail.app.stores.stock import Line, Ordered, Stores
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.jobs import events as ev
from loose_rail.judgement.cover import Cover, Offer, Terms, cheapest_cover
from loose_rail.judgement.replacement.electrolytic import Fit
from loose_rail.judgement.replacement.judge_offer import judge_offer
from loose_rail.kernel.errors import BadEntryError

OF_A_DONOR = "off a board of this number"
PLENTY = 1000
"""Of what a supplier has."""


@dataclass(frozen=True, slots=True)
class Sourced:
    """A part of the list and the line that it would come from; None where nobody has it."""

    ref: str
    line: Line | None


@dataclass(frozen=True, slots=True)
class Plan:
    """The cheapest way to have every part of the list: what comes from where, and the cover."""

    sources: tuple[Sourced, ...]
    cover: Cover


def open_places(session: JobSession) -> tuple[str, ...]:
    """Parts of the list that nothing was taken for yet."""
    return tuple(row.part.ref for row in repair_list(session) if not row.fitted and not row.chosen)


def plan_for(session: JobSession, stores: Stores) -> Plan:
    """The cheapest set of lines for what is open on the list."""
    needed = open_places(session)
    offers = [offer for line in stores.lines for offer in _offers(session, line, needed)]
    terms = {one.name: Terms(one.carriage, one.least) for one in stores.suppliers}
    cover = cheapest_cover(needed, offers, terms)
    sources = []
    for ref in needed:
        taken = next((one for one in cover.taken if ref in one.covers), None)
        sources.append(Sourced(ref, stores.line(int(taken.line)) if taken else None))
    return Plan(tuple(sources), cover)


def _offers(session: JobSession, line: Line, needed: tuple[str, ...]) -> list[Offer]:
    count = PLENTY if line.supplier else line.count
    if not count:
        return []
    if line.donor:
        there = [ref for ref in needed if _on_donor(session, line, ref)]
        return [
            Offer(str(line.number), frozenset({ref}), line.price, "", len(there)) for ref in there
        ]
    if line.is_kit:
        same = line.board.upper() in {session.board.id.upper(), *_aliases(session)}
        covers = frozenset(line.places) & frozenset(needed)
        offer = Offer(str(line.number), covers, line.price, line.supplier, count)
        return [offer] if same and covers else []
    return [
        Offer(str(line.number), frozenset({ref}), line.price, line.supplier, count)
        for ref in needed
        if _fits(session, ref, line.words) is not None
    ]


def _on_donor(session: JobSession, line: Line, ref: str) -> bool:
    """Whether a donor of this very number still has the part, and it may be used again: an
    electrolytic has aged there as it has here, a fuse has borne what killed the board."""
    part = next((one for one in session.board.components if one.ref == ref), None)
    same = line.board.upper() in {session.board.id.upper(), *_aliases(session)}
    if part is None or not same or ref.upper() in line.gone:
        return False
    return not (is_a(part, Trait.ELECTROLYTIC) or is_a(part, Trait.FUSE))


def _aliases(session: JobSession) -> set[str]:
    return {name.upper() for name in session.board.aliases}


def _fits(session: JobSession, ref: str, words: str) -> Fit | None:
    """How a line of ratings fits a place; None where it may not stand there, or says what is not
    understood there."""
    try:
        found = judge_offer(session.board, ref, words, session.state.original_for(ref))
    except (BadEntryError, KeyError):
        return None
    return None if found.left or found.fit is Fit.NO else found.fit


@dataclass(frozen=True, slots=True)
class Taking:
    """The plan taken: the stores that are left, what the job has then, and how it is told."""

    left: Stores
    events: tuple[ev.OfferTaken, ...]
    outcome: Outcome


def taking(session: JobSession, stores: Stores) -> Taking:
    """What taking the plan changes: what lies in a drawer is one less, what a supplier brings is on
    order, each part of the list has its part. Nothing is kept here: the stores are kept first, so
    that a disk that is full leaves the job as it was, then the job records its events."""
    plan = plan_for(session, stores)
    if not plan.cover.taken:
        refused = Outcome.refused("Nothing in the stores fits what is open on the list.")
        return Taking(stores, (), refused)
    events: list[ev.OfferTaken] = []
    for offer in plan.cover.taken:
        line = stores.line(int(offer.line))
        if line is None:
            continue
        own = (one.ref for one in plan.sources if one.line and one.line.number == line.number)
        refs = tuple(ref for ref in own if ref in offer.covers)
        events += [_taken(session, ref, line) for ref in refs]
        stores = _used(stores, line, refs, session.state.ticket)
    left = f"; nobody has {', '.join(plan.cover.missing)}" if plan.cover.missing else ""
    count = len([one for one in plan.sources if one.line is not None])
    outcome = Outcome(f"{count} parts taken for {plan.cover.total}{left}.")
    return Taking(stores, tuple(events), outcome)


def record_taken(session: JobSession, found: Taking) -> None:
    """The job has its parts. Raises JobError where it can't be stored."""
    for event in found.events:
        session.record(event)


def _taken(session: JobSession, ref: str, line: Line) -> ev.OfferTaken:
    where = f"drawer {line.drawer}" if line.drawer else line.supplier or line.origin
    notes = [f"from {where}"] if where else []
    original = session.state.original_for(ref)
    if line.donor:
        notes.append("used: read it before it goes in")
        return ev.OfferTaken(ref, f"the same, off {line.board}", original, OF_A_DONOR, notes)
    fit = None if line.is_kit else _fits(session, ref, line.words)
    verdict = FIT_WORDS[fit] if fit is not None else "of a kit for this board"
    return ev.OfferTaken(ref, line.words, original, verdict, notes)


def _used(stores: Stores, line: Line, refs: tuple[str, ...], ticket: str) -> Stores:
    if line.supplier:
        ordered = Ordered(line.words, line.supplier, line.price, ticket, refs)
        return stores.with_orders((*stores.orders, ordered))
    now = stores.line(line.number) or line
    if line.donor:
        for ref in refs:
            now = now.without_place(ref)
        left = stores.with_line(now)
    else:
        left = stores.with_line(msgspec.structs.replace(now, count=max(now.count - 1, 0)))
    aside = Ordered(line.words, "", line.price, ticket, refs, "reserved", line.number)
    return left.with_orders((*left.orders, aside))


def fitted_in(stores: Stores, ticket: str, fitted: frozenset[str]) -> Stores:
    """The stores when a job has these parts in its board: what lay at hand for them is fitted."""
    orders = tuple(
        msgspec.structs.replace(one, state="fitted")
        if one.ticket == ticket and one.is_at_hand and set(one.places) <= fitted
        else one
        for one in stores.orders
    )
    return stores if orders == stores.orders else stores.with_orders(orders)
