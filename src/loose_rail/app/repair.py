"""Rework of the parts of the list, one after the other, step by step, on a board that was measured
empty."""

from __future__ import annotations

from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.boards.whole_board import component_of
from loose_rail.jobs import events as ev
from loose_rail.judgement.rework import (
    OPEN,
    REMOVE,
    Action,
    Method,
    ReworkStep,
    action_words,
    actions_for,
    methods_for,
    mounting_of,
    steps_for,
    usual_action,
)
from loose_rail.judgement.safety import reservoir_name


def repair_steps(session: JobSession) -> tuple[ReworkStep, ...]:
    """The steps of the part in hand, in order."""
    part = session.state.part_in_hand
    if not part:
        return ()
    return steps_for(mounting_of(component_of(session.board, part)), action_of(session, part))


def action_of(session: JobSession, part: str) -> Action:
    """What is done with a part: what was chosen, else what its fault asks for; a cracked joint is
    solder and no reason for a new part."""
    chosen = session.state.method_for(part)
    if chosen in set(Action):
        return Action(chosen)
    if part not in {one.ref for one in session.board.components}:
        return Action.REPLACE  # exchanged whole, or of another board than this one
    verdict = session.state.verdict
    own = verdict is not None and verdict.part == part
    mode = verdict.suspect.partition(":")[2].partition(":")[0] if verdict and own else ""
    mounting = mounting_of(component_of(session.board, part))
    return Action.REPLACE if chosen else usual_action(mounting, mode)


def next_action(session: JobSession) -> Outcome:
    """The next of what can be done with the part in hand: replace, reflow, tighten."""
    part = session.state.part_in_hand
    if session.state.verdict is None or not part:
        return Outcome.refused("No verdict has been accepted.")
    ways = actions_for(mounting_of(component_of(session.board, part)))
    if set(session.state.rework_done) - {OPEN} or session.state.fitted_since_verdict(part):
        return Outcome.refused("That is chosen before the work begins.")
    if len(ways) < 2:
        return Outcome.refused(f"{part} is exchanged; there is nothing to solder.")
    action = ways[(ways.index(action_of(session, part)) + 1) % len(ways)]
    session.record(ev.MethodChosen(part, action.value))
    return Outcome(f"{part}: {action_words(action)[0]}.")


def current_step(session: JobSession) -> ReworkStep | None:
    """The first step that is not done, None where all are."""
    done = session.state.rework_done
    return next((one for one in repair_steps(session) if one.key not in done), None)


def methods_now(session: JobSession) -> dict[str, Method]:
    """Ways to get the part in hand off, while that is the step; none else."""
    current = current_step(session)
    if current is None or current.key != REMOVE:
        return {}
    part = component_of(session.board, session.state.part_in_hand)
    return methods_for(mounting_of(part))


def method_words(session: JobSession, part: str) -> str:
    """How a part was taken off, as it follows what was done with it; empty where nobody said."""
    name = session.state.method_for(part)
    if not name or name in set(Action):
        return ""
    known = methods_for(mounting_of(component_of(session.board, part)))
    return f", taken off by {known[name].words}" if name in known else ""


def done_words(session: JobSession, part: str) -> str:
    """What was done with a part: replaced, its joints reflowed, its contacts tightened."""
    return action_words(action_of(session, part))[2]


def choose_method(session: JobSession, name: str) -> Outcome:
    """How the part in hand is taken off."""
    method = methods_now(session).get(name)
    if method is None:
        return Outcome.refused("How a part comes off is chosen when it is its turn.")
    part = session.state.part_in_hand
    session.record(ev.MethodChosen(part, name))
    return Outcome(f"{part} by {method.words}.")


def next_repair_step(session: JobSession) -> Outcome:
    """The current step is done; all done, the part counts as fitted (`leaves`)."""
    verdict = session.state.verdict
    if verdict is None:
        return Outcome.refused("No verdict has been accepted.")
    part, current = session.state.part_in_hand, current_step(session)
    if current is not None:
        refusal = _not_drained(session) if current.key == OPEN else _maybe_plugged(session)
        if refusal:
            return Outcome.refused(refusal)
        session.record(ev.ReworkStepDone(part, current.key))
        return Outcome("")
    if not session.state.fitted_since_verdict(part):
        session.fit_part(part)
    ahead = [one for one in session.state.to_replace if not session.state.fitted_since_verdict(one)]
    if ahead:
        return Outcome(f"{_counts_as(session, part)}. Next of the list: {ahead[0]}.")
    every = session.state.to_replace
    replaced = all(action_of(session, one) is Action.REPLACE for one in every)
    plain = f"{', '.join(every)} count as fitted"
    words = plain if replaced and len(every) > 1 else _counts_as(session, part)
    return Outcome(f"{words}; readings from here on are proof.", leaves=True)


def _counts_as(session: JobSession, part: str) -> str:
    if action_of(session, part) is Action.REPLACE:
        return f"{part} counts as fitted"
    return f"{part}: {done_words(session, part)}"


def _not_drained(session: JobSession) -> str:
    """Why the first step of the rework has to wait: plugged in, not confirmed, or not measured."""
    if plugged := _maybe_plugged(session):
        return plugged
    charged = session.to_measure()
    if charged:
        what = reservoir_name(session.board, charged[0])
        return f"Not drained by the record: measure {what} at its own leads, enter it here."
    return ""


def _maybe_plugged(session: JobSession) -> str:
    state = session.state
    if state.board_state.plugged or not state.state_known:
        return "Pull the plug and press U: no rework on a board that may be plugged in."
    return ""
