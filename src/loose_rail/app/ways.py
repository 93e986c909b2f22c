"""The ways on of a job at the shop's prices, and choosing one of them."""

from __future__ import annotations

import re

from loose_rail.app.deciding import (
    LEAST_REASON,
    accept_verdict,
    decide,
    prices_of,
    standing_verdict,
)
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.app.settings import KeepSetting
from loose_rail.boards.whole_board import WHOLE_BOARD
from loose_rail.diagnosis.explain.levels import level_of_part
from loose_rail.diagnosis.explain.unproved import standby_pair
from loose_rail.diagnosis.explain.ways_on import GIVING_BACK, Kind, Way, ways_on
from loose_rail.diagnosis.inference.finding import Standing
from loose_rail.jobs import events as ev

NUMBER = re.compile(r"\s*(\d{1,2})\s*(?:because\s+(.*\S))?\s*", re.IGNORECASE)


def ways_of(session: JobSession) -> list[Way]:
    """Every way on, the best first; none without predictions."""
    review = session.review
    if review is None:
        return []
    found = review.assessment
    return ways_on(
        review.table, found.probabilities, found.finding, prices_of(session), review.unlisted[0]
    )


def hands_back(session: JobSession) -> bool:
    """Whether no reading tells more and nothing leaves more than to hand the set back."""
    review = session.review
    if review is None or review.assessment.next_step is not None or session.state.fitted:
        return False
    return ways_of(session)[0].kind is Kind.HAND_BACK


def parts_of_way(session: JobSession, way: Way) -> tuple[str, ...]:
    """What a way replaces, by designator; the power board as one."""
    if way.parts:
        return way.parts
    found: list[str] = []
    for name in way.boards:
        if name == WHOLE_BOARD:
            found.append(WHOLE_BOARD)
            continue
        found += [p.ref for p in session.board.components if level_of_part(p) == name]
    return tuple(found)


def enter_decision(session: JobSession, text: str, keep: KeepSetting | None = None) -> Outcome:
    """A typed line of the verdict page: the number of a way, with a reason where it needs one;
    anything else as `decide` takes it."""
    if match := NUMBER.fullmatch(text):
        return choose_way(session, int(match[1]), match[2] or "")
    return decide(session, text, keep)


def choose_way(session: JobSession, number: int, reason: str = "") -> Outcome:
    """The way of this number is taken; a board is exchanged only once the standby rail was read
    with the main cable off, or with a reason."""
    ways = ways_of(session)
    if not 1 <= number <= len(ways):
        return Outcome.refused(f"There are {len(ways)} ways on: type the number of one.")
    way, parts = ways[number - 1], parts_of_way(session, ways[number - 1])
    if standing_verdict(session) is None and way.kind not in GIVING_BACK:
        refused = _verdict_for(session, way, parts, number, reason)
        if refused is not None:
            return refused
    session.record(
        ev.WayChosen(
            way=str(way.kind),
            title=way.title,
            parts=list(parts),
            cost=way.worth.cost,
            chance=way.worth.chance,
            outlay=way.outlay,
        )
    )
    return Outcome(f"Way on: {way.title}.")


def _verdict_for(
    session: JobSession, way: Way, parts: tuple[str, ...], number: int, reason: str
) -> Outcome | None:
    """The verdict that a way rests on, accepted or decided; else why it has to wait."""
    review = session.reviewed
    finding = review.assessment.finding
    ready = finding is not None and finding.standing is not Standing.UNDECIDED
    if way.boards and standby_pair(review).bare is None and not _enough(reason):
        return Outcome.refused(
            "No board before the standby rail was read with the main cable off. Read it, or say "
            f"why not: {number} because …"
        )
    if ready and finding is not None and (finding.part in parts or not way.boards):
        accept_verdict(session)
        return None
    if way.kind is Kind.REPAIR and not parts:  # it is in no list of this board
        return Outcome.refused(f"{way.title}: {way.words}; the line then counts as its outcome.")
    if way.kind is Kind.REPAIR:
        return Outcome.refused("The evidence does not single out one part yet: no verdict.")
    if not _enough(reason):
        return Outcome.refused(
            f"The evidence has not settled. With a reason it is yours: {number} because …"
        )
    title = way.boards[0] if way.boards else way.title
    session.overrule(parts[0], title, "", way.worth.chance, reason)
    return None


def _enough(reason: str) -> bool:
    return len(reason.split()) >= LEAST_REASON
