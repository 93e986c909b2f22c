"""Rework of the accepted part, step by step."""

from __future__ import annotations

from loose_rail.app.repair import OPEN, current_step, repair_steps
from loose_rail.app.session import JobSession
from loose_rail.boards.profile import Component
from loose_rail.diagnosis.step import asks_before_rework
from loose_rail.jobs.state import JobState
from loose_rail.kernel.quantities import nominal
from loose_rail.screens.rework.state import ReworkState, ReworkStep
from loose_rail.screens.shared.card.present import drain_wait, reservoir_title


def rework_state(session: JobSession) -> ReworkState:
    """Steps for the accepted part; all done, the part counts as fitted."""
    verdict, board = session.state.verdict, session.board
    if verdict is None:
        return ReworkState(
            title="Rework",
            part="",
            part_words="",
            plus_words="",
            minus_words="",
            polarised=False,
            steps=(),
            action="Go to the verdict",
            message="No verdict has been accepted.",
        )
    state = session.state
    part = board.component(state.part_in_hand)
    current = current_step(state)
    fitted = state.fitted_since_verdict(part.ref)
    number, count = state.to_replace.index(part.ref) + 1, len(state.to_replace)
    which = f" ({number} of {count})" if count > 1 else ""
    return ReworkState(
        title=f"{part.ref} is replaced{which}" if fitted else f"Replace {part.ref}{which}",
        part=part.ref,
        part_words=_part_words(session.state, part),
        plus_words=board.net(part.pins["plus"]).where if "plus" in part.pins else "",
        minus_words="ground side of the board's mark" if "plus" in part.pins else "",
        polarised=part.kind == "electrolytic",
        steps=_steps(session.state),
        action=_action(number == count) if current is None else "Done, next step",
        safety=_safety(session) if current is not None and current.key == OPEN else "",
        asks_bulk=asks_before_rework(board, session.state, session.facts),
    )


def _action(last: bool) -> str:
    return "Part fitted: go to power up" if last else "Part fitted: next of the list"


def _steps(state: JobState) -> tuple[ReworkStep, ...]:
    current = current_step(state)
    found = []
    for step in repair_steps():
        status = "done" if step.key in state.rework_done else "ahead"
        status = "current" if step == current else status
        found.append(ReworkStep(key=step.key, text=step.text, caution=step.caution, status=status))
    return tuple(found)


def _safety(session: JobSession) -> str:
    """What comes before the first step."""
    state = session.state
    if state.board_state.plugged:
        return "The record says it is plugged in. Pull the plug, then press U."
    if not state.state_known:
        return "The board's state was not confirmed. Pull the plug, then press U."
    charged = session.to_measure()
    if not charged:
        return ""
    what = reservoir_title(session.board, charged[0])
    wait = drain_wait(session.board, charged[0])[1]
    return f"Measure volts across {what}, at its own leads, and enter them. {wait}"


def _part_words(state: JobState, part: Component) -> str:
    words = f"{part.ref}, {part.duty}"
    new, offer = state.replacement, state.offer_for(part.ref)
    if offer is not None:
        words += f": {offer.offer}"
    elif new is not None and new.part == part.ref:
        words += f": {nominal(new.farads, 'F')} {nominal(new.volts, 'V')}, {new.celsius:g} °C"
    return words
