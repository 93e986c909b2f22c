"""The one action of each stage: do it and, where it is done, go to the next stage."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from loose_rail.app.deciding import accept_verdict, given_back, standing_verdict
from loose_rail.app.disassembling import following
from loose_rail.app.handing_over import keeps_it_here
from loose_rail.app.outcome import Outcome
from loose_rail.app.parts import choose_part, has_rules, repair_list
from loose_rail.app.proving import NOT_PROVED, proof
from loose_rail.app.repair import next_repair_step
from loose_rail.app.session import JobSession
from loose_rail.app.ways import choose_way, hands_back
from loose_rail.diagnosis.inference.finding import Standing
from loose_rail.diagnosis.proof.standing import ProofStatus
from loose_rail.jobs import events as ev
from loose_rail.judgement.replacement.electrolytic import Candidate
from loose_rail.vocabulary.stage import Stage


@dataclass(frozen=True, slots=True)
class Choices:
    """What the person has in front: the stock, which of it is looked at, for which part; the
    price."""

    stock: Sequence[Candidate] = ()
    selected: int = 0
    part: str = ""
    price: float | None = None


def go_on(session: JobSession, choices: Choices) -> Outcome:
    """Do the action of the current stage and, where it is done, go to the next one."""
    return _ACTIONS.get(Stage(session.state.stage), _next)(session, choices)


def _next(session: JobSession, choices: Choices) -> Outcome:
    stages = list(Stage)
    session.enter_stage(stages[Stage(session.state.stage).position + 1])
    return Outcome("")


def _after_the_ledger(session: JobSession, choices: Choices) -> Outcome:
    session.enter_stage(following(session))
    return Outcome("")


def _to_the_verdict(session: JobSession, choices: Choices) -> Outcome:
    session.enter_stage(Stage.VERDICT)
    return Outcome("")


def _accept(session: JobSession, choices: Choices) -> Outcome:
    if given_back(session):
        session.enter_stage(Stage.HAND_BACK)
        return Outcome("")
    if standing_verdict(session) is not None:
        session.enter_stage(Stage.PARTS)
        return Outcome("")
    if hands_back(session):
        outcome = choose_way(session, 1)
        session.enter_stage(Stage.HAND_BACK)
        return outcome
    finding = session.review.assessment.finding if session.review else None
    if finding is None or finding.standing is Standing.UNDECIDED:
        session.enter_stage(Stage.COLD_CHECKS)
        offered = session.review is None or session.review.assessment.next_step is not None
        return Outcome(
            "The bench offers the next probe."
            if offered
            else "No reading here tells more: O picks one, or a number at the verdict takes a way."
        )
    outcome = accept_verdict(session)
    session.enter_stage(Stage.PARTS)
    return outcome


def _choose(session: JobSession, choices: Choices) -> Outcome:
    listed = repair_list(session)
    if not listed:
        session.enter_stage(Stage.VERDICT)
        return Outcome("")
    front = next((one for one in listed if one.part.ref == choices.part), listed[0])
    if has_rules(front.part) and not front.chosen and choices.stock:
        outcome = choose_part(session, front.part, choices.stock[choices.selected])
        ahead = [one for one in repair_list(session) if has_rules(one.part) and not one.chosen]
        if not outcome.taken or ahead:
            return outcome
        session.enter_stage(Stage.REWORK)
        return outcome
    session.enter_stage(Stage.REWORK)
    return Outcome("")


def _repair(session: JobSession, choices: Choices) -> Outcome:
    if session.state.verdict is None:
        session.enter_stage(Stage.VERDICT)
        return Outcome("")
    outcome = next_repair_step(session)
    if outcome.leaves:
        session.enter_stage(Stage.POWER_UP)
    return outcome


def _finish_power_up(session: JobSession, choices: Choices) -> Outcome:
    if not session.state.fitted:
        session.enter_stage(Stage.REWORK)
        return Outcome.refused("Finish the rework first.")
    found = proof(session)
    if found.status is ProofStatus.FAILED:
        session.enter_stage(Stage.COLD_CHECKS)
        return Outcome.refused(f"Not repaired. {found.failures[0]}")
    if found.status is not ProofStatus.SHOWN:
        return Outcome.refused(
            "Not shown yet: read a rail that a dead board could not give, with the repaired board "
            "under power."
        )
    session.enter_stage(Stage.HAND_BACK)
    return Outcome("")


def _hand_back(session: JobSession, choices: Choices) -> Outcome:
    if session.state.handed_back is not None:
        return Outcome("This job is handed back already.")
    if session.state.board_state.plugged:
        return Outcome.refused("The board is recorded as plugged in: pull the plug first (U).")
    kept = keeps_it_here(session)
    if kept:
        return Outcome.refused(kept)
    found = proof(session)
    repaired = found.status is ProofStatus.SHOWN
    level = found.level.title if repaired else NOT_PROVED[found.status]
    session.record(ev.HandedBack(level, choices.price, repaired))
    words = "Handed back." if repaired else f"Handed back as it is: {level}."
    return Outcome(f"{words} The report can be printed or saved with Ctrl+P.")


_ACTIONS: dict[Stage, Callable[[JobSession, Choices], Outcome]] = {
    Stage.STRIP_DOWN: _after_the_ledger,
    Stage.COLD_CHECKS: _to_the_verdict,
    Stage.LIVE_CHECKS: _to_the_verdict,
    Stage.VERDICT: _accept,
    Stage.PARTS: _choose,
    Stage.REWORK: _repair,
    Stage.POWER_UP: _finish_power_up,
    Stage.HAND_BACK: _hand_back,
}
"""What Enter does beside going to the next stage."""
