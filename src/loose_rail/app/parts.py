"""The replacement of the accepted part: chosen from stock by rule."""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.app.deciding import standing_verdict
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Component
from loose_rail.jobs import events as ev
from loose_rail.judgement.replacement.electrolytic import (
    Candidate,
    Fit,
    check_replacement,
    original_of,
)

FIT_WORDS = {Fit.OK: "OK", Fit.NOTE: "OK with a note", Fit.NO: "NO"}


def part_to_replace(session: JobSession) -> Component | None:
    """The part of the standing verdict."""
    verdict = standing_verdict(session)
    return session.board.component(verdict.part) if verdict else None


def has_rules(part: Component) -> bool:
    """Whether rules choose a replacement for this kind of part."""
    return is_a(part, Trait.ELECTROLYTIC)


def candidates_for(session: JobSession, stock: Sequence[Candidate]) -> tuple[Candidate, ...]:
    """What there is to choose from; without a stock list, the part as it was."""
    verdict = session.state.verdict
    if stock or verdict is None:
        return tuple(stock)
    part = session.board.component(verdict.part)
    return (original_of(part),) if has_rules(part) else ()


def choose_part(session: JobSession, item: Candidate) -> Outcome:
    """This one is taken. Raises JobError where it can't be stored."""
    part = part_to_replace(session)
    if part is None:
        return Outcome.refused("No verdict has been accepted yet.")
    check = check_replacement(session.board, part.ref, item)
    if check.fit is Fit.NO:
        return Outcome.refused("This one is not suitable; choose another with the number keys.")
    session.record(
        ev.ReplacementChosen(
            part=part.ref,
            farads=item.farads,
            volts=item.volts,
            celsius=item.celsius,
            esr_ohms=item.esr_ohms,
            diameter_mm=item.diameter_mm,
            height_mm=item.height_mm,
            pitch_mm=item.pitch_mm,
            verdict=f"{item.name}: {FIT_WORDS[check.fit]}",
            notes=check.notes,
        )
    )
    return Outcome(f"Chosen: {item.name}.")
