"""The one action of each stage: do it and, where it is done, go to the next stage."""

from __future__ import annotations

from typing import TYPE_CHECKING

from loose_rail.app.proof import ProofStatus
from loose_rail.app.results import proof
from loose_rail.app.session import JobSession
from loose_rail.jobs import events as ev
from loose_rail.judgement.replacement.electrolytic import check_replacement
from loose_rail.screens.card.present import reservoir_title
from loose_rail.screens.hand_back.present import NOT_PROVED
from loose_rail.screens.parts.present import FIT_WORDS
from loose_rail.screens.rework.present import fitted_since, rework_state
from loose_rail.screens.shared.notice import Notice
from loose_rail.screens.strip_down.present import following
from loose_rail.screens.verdict.present import verdict_state

if TYPE_CHECKING:
    from loose_rail.screens.job.present import JobPresenter


def go_on(presenter: JobPresenter) -> Notice:
    """Do the action of the current stage and, where it is done, go to the next one."""
    session, stage = presenter.session, presenter.stage
    if stage == "strip_down":
        session.enter_stage(following(session))
        return Notice("")
    if stage in ("take_in", "look_over"):
        session.enter_stage(ev.STAGES[ev.STAGES.index(stage) + 1])
        return Notice("")
    if stage in ("cold_checks", "live_checks"):
        session.enter_stage("verdict")
        return Notice("")
    action = {
        "verdict": _accept_verdict,
        "parts": _choose_part,
        "rework": _next_rework,
        "power_up": _finish_power_up,
        "hand_back": _hand_back,
    }[stage]
    return action(presenter)


def _accept_verdict(presenter: JobPresenter) -> Notice:
    session = presenter.session
    state = verdict_state(session)
    if state.accepted:
        session.enter_stage("parts")
        return Notice("")
    if not state.can_accept:
        session.enter_stage("cold_checks")
        return Notice("The bench offers the next probe.")
    session.accept_verdict(state.unproved)
    session.enter_stage("parts")
    return Notice(f"Verdict accepted: {state.headline}.")


def _choose_part(presenter: JobPresenter) -> Notice:
    session = presenter.session
    state = presenter.parts()
    if state.message:
        session.enter_stage("rework" if state.can_choose else "verdict")
        return Notice("")
    if not state.can_choose:
        return Notice("This one is not suitable; choose another with the number keys.", "problem")
    item = presenter.stock[presenter.selected_stock]
    assert session.state.verdict is not None
    check = check_replacement(session.board, session.state.verdict.part, item)
    session.record(
        ev.ReplacementChosen(
            session.state.verdict.part,
            item.farads,
            item.volts,
            item.celsius,
            item.esr_ohms,
            item.diameter_mm,
            item.height_mm,
            item.pitch_mm,
            f"{item.name}: {FIT_WORDS[check.fit]}",
            check.notes,
        )
    )
    session.enter_stage("rework")
    return Notice(f"Chosen: {item.name}.")


def _next_rework(presenter: JobPresenter) -> Notice:
    session = presenter.session
    state = rework_state(session)
    if session.state.verdict is None:
        session.enter_stage("verdict")
        return Notice("")
    current = next((step for step in state.steps if step.status == "current"), None)
    if current is not None:
        refusal = _not_drained(session) if current.key == "open" else _maybe_plugged(session)
        if refusal:
            return Notice(refusal, "problem")
        session.record(ev.ReworkStepDone(session.state.verdict.part, current.key))
        return Notice("")
    if not fitted_since(session.state, session.state.verdict.part):
        session.fit_part(session.state.verdict.part)
    session.enter_stage("power_up")
    return Notice(
        f"{session.state.verdict.part} counts as fitted; readings from here on are proof."
    )


def _not_drained(session: JobSession) -> str:
    """Why the first step of the rework has to wait: plugged in, not confirmed, or not measured."""
    charged = session.to_measure()
    if plugged := _maybe_plugged(session):
        return plugged
    if charged:
        what = reservoir_title(session, charged[0])
        return f"Not drained by the record: measure {what} at its own leads, enter it here."
    return ""


def _maybe_plugged(session: JobSession) -> str:
    state = session.state
    if state.board_state.plugged or not state.state_known:
        return "Pull the plug and press U: no rework on a board that may be plugged in."
    return ""


def _finish_power_up(presenter: JobPresenter) -> Notice:
    session = presenter.session
    if not session.state.fitted:
        session.enter_stage("rework")
        return Notice("Finish the rework first.", "problem")
    found = proof(session)
    if found.status is ProofStatus.FAILED:
        session.enter_stage("cold_checks")
        return Notice(f"Not repaired. {found.failures[0]}", "problem")
    if found.status is not ProofStatus.SHOWN:
        return Notice(
            "Not shown yet: read a rail that a dead board could not give, with the repaired board "
            "under power.",
            "problem",
        )
    session.enter_stage("hand_back")
    return Notice("")


def _hand_back(presenter: JobPresenter) -> Notice:
    session = presenter.session
    if session.state.handed_back is not None:
        return Notice("This job is handed back already.")
    if session.state.board_state.plugged:
        return Notice("The board is recorded as plugged in: pull the plug first (U).", "problem")
    found = proof(session)
    repaired = found.status is ProofStatus.SHOWN
    level = found.level.title if repaired else NOT_PROVED[found.status]
    session.record(ev.HandedBack(level, presenter.price, repaired))
    words = "Handed back." if repaired else f"Handed back as it is: {level}."
    return Notice(f"{words} The report can be printed or saved with Ctrl+P.")
