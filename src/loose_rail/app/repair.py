"""Rework of the parts of the list, one after the other, step by step, on a board that was measured
empty."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.jobs import events as ev
from loose_rail.jobs.state import JobState
from loose_rail.judgement.limits import limit
from loose_rail.judgement.safety import reservoir_name


@dataclass(frozen=True, slots=True)
class RepairStep:
    """A step of the rework by its key in the log."""

    key: str
    text: str
    caution: str = ""


OPEN = "open"
"""The step before every other: unplugged, and every reservoir measured empty."""


def repair_steps() -> tuple[RepairStep, ...]:
    """The steps in order."""
    volts = f"{limit('drained_volts'):.0f} V"
    return (
        RepairStep(
            OPEN,
            f"Unplugged and drained: every reservoir measured below {volts}",
            "It is measured, not assumed.",
        ),
        RepairStep("mark", "Photograph the part and its polarity mark before it comes off"),
        RepairStep(
            "remove",
            "Remove it: both leads wet, no force on the pads",
            "Hot iron; fumes: extract them.",
        ),
        RepairStep(
            "pads",
            "Clean holes and pads; read the empty pads for a short",
            "Vented electrolyte: wipe it off, wash hands.",
        ),
        RepairStep("fit", "Fit the new part: polarity against the board mark, seated flat"),
        RepairStep("solder", "Solder, trim, clean the flux, look at the joints under light"),
        RepairStep("neighbours", "Look once more at the neighbours of the same age and heat"),
    )


def current_step(state: JobState) -> RepairStep | None:
    """The first step that is not done, None where all are."""
    return next((one for one in repair_steps() if one.key not in state.rework_done), None)


def next_repair_step(session: JobSession) -> Outcome:
    """The current step is done; all done, the part counts as fitted (`leaves`)."""
    verdict = session.state.verdict
    if verdict is None:
        return Outcome.refused("No verdict has been accepted.")
    part, current = session.state.part_in_hand, current_step(session.state)
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
        return Outcome(f"{part} counts as fitted. Next of the list: {ahead[0]}.")
    fitted = ", ".join(session.state.to_replace)
    words = f"{fitted} counts as fitted" if fitted == part else f"{fitted} count as fitted"
    return Outcome(f"{words}; readings from here on are proof.", leaves=True)


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
