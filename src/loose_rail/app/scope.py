"""How far a repair goes: only what is bad, its batch, or every electrolytic on its rail; with what
each costs and how often such repairs come back."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.app.deciding import prices_of, standing_verdict
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.boards.co_failures import co_failures_of
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.whole_board import WHOLE_BOARD
from loose_rail.diagnosis.explain.ways_on import MINUTES_A_KIT_PART, MINUTES_A_PART
from loose_rail.jobs import events as ev
from loose_rail.judgement.economics import comeback_risk

MINIMUM, BATCH, RAIL = "minimum", "batch", "rail"
WORDS = {
    MINIMUM: "only what is bad",
    BATCH: "with the electrolytics of its age and heat",
    RAIL: "with every electrolytic on its rail",
}
"""The scopes by the word that is typed."""


@dataclass(frozen=True, slots=True)
class Scope:
    """How far: the parts, what they and the work cost beside the minimum, come-back risk."""

    name: str
    parts: tuple[str, ...]
    cost: float
    comeback: float
    current: bool
    currency: str = ""

    @property
    def words(self) -> str:
        """In a line."""
        count = f"{len(self.parts)} part{'s' if len(self.parts) > 1 else ''}"
        cost = f"costs {self.cost:.0f} {self.currency}".rstrip()
        return f"{self.name}: {count}, {cost}, {100 * self.comeback:.0f} % come back"


def scopes(session: JobSession) -> tuple[Scope, ...]:
    """The scopes of this repair; none without a verdict, or where a board is exchanged."""
    verdict = standing_verdict(session)
    listed = session.state.to_replace
    if verdict is None or not listed or WHOLE_BOARD in listed:
        return ()
    first = _least(session)
    more = {MINIMUM: (), BATCH: _batch(session, first), RAIL: _rail(session, first)}
    told = {name: tuple(dict.fromkeys(first + parts)) for name, parts in more.items()}
    kept = [name for name in told if name == MINIMUM or len(told[name]) > len(first)]
    return tuple(_scope(session, name, told[name], listed) for name in kept)


def choose_scope(session: JobSession, name: str) -> Outcome:
    """The list becomes that of the scope; what the person added by hand otherwise stays."""
    found = {one.name: one for one in scopes(session)}
    if name not in found:
        return Outcome.refused(f"There is no scope “{name}” here: {', '.join(found) or 'none'}.")
    wanted, state = found[name].parts, session.state
    every = {ref for one in found.values() for ref in one.parts}
    for ref in state.to_replace:
        struck = ref in every and ref not in wanted and not state.fitted_since_verdict(ref)
        if struck:
            session.record(ev.PartStruck(ref))
    for ref in wanted:
        if ref not in state.to_replace:
            session.record(ev.PartListed(ref, WORDS[name]))
    return Outcome(f"Scope: {WORDS[name]}.")


def _scope(
    session: JobSession, name: str, parts: tuple[str, ...], listed: tuple[str, ...]
) -> Scope:
    prices, first = prices_of(session), _least(session)
    more = len(parts) - len(first)
    minutes = MINUTES_A_PART * len(first) + MINUTES_A_KIT_PART * more
    verdict = session.state.verdict
    sure = verdict is not None and verdict.standing == "confirmed"
    aged = set(first) | set(_batch(session, first))
    renewed = aged <= set(parts) and len(aged) > 1
    left = not _electrolytics(session) <= set(parts)
    return Scope(
        name=name,
        parts=parts,
        cost=prices.part * len(parts) + prices.hour * minutes / 60.0,
        comeback=comeback_risk(sure, False, left and not renewed, renewed),
        current=set(parts) == set(listed),
        currency=session.state.currency,
    )


def _least(session: JobSession) -> tuple[str, ...]:
    """What the way or the verdict names."""
    state = session.state
    if state.way is not None and state.way.parts:
        return tuple(state.way.parts)
    return (state.verdict.part,) if state.verdict is not None else ()


def _batch(session: JobSession, first: tuple[str, ...]) -> tuple[str, ...]:
    cans = _electrolytics(session)
    return tuple(
        link.effect
        for link in co_failures_of(session.board)
        if link.cause in first and link.effect_mode == "dried" and link.effect in cans
    )


def _rail(session: JobSession, first: tuple[str, ...]) -> tuple[str, ...]:
    """Electrolytics of the sections that the parts stand in: both ends of a rail's filter."""
    board = session.board
    sections = {board.component(ref).section for ref in first}
    return tuple(
        ref for ref in sorted(_electrolytics(session)) if board.component(ref).section in sections
    )


def _electrolytics(session: JobSession) -> set[str]:
    return {part.ref for part in session.board.components if is_a(part, Trait.ELECTROLYTIC)}
