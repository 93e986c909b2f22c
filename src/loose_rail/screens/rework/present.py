"""Rework of the accepted part, step by step."""

from __future__ import annotations

from loose_rail.app.session import JobSession
from loose_rail.jobs.fold import JobState
from loose_rail.kernel.quantities import nominal
from loose_rail.screens.card.present import drain_wait, reservoir_title
from loose_rail.screens.rework.state import ReworkState, ReworkStep

_REWORK = (
    (
        "open",
        "Unplugged and drained: every reservoir measured below 10 V",
        "It is measured, not assumed.",
    ),
    ("mark", "Photograph the part and its polarity mark before it comes off", ""),
    ("remove", "Remove it: both leads wet, no force on the pads", "Hot iron; fumes: extract them."),
    (
        "pads",
        "Clean holes and pads; read the empty pads for a short",
        "Vented electrolyte: wipe it off, wash hands.",
    ),
    ("fit", "Fit the new part: polarity against the board mark, seated flat", ""),
    ("solder", "Solder, trim, clean the flux, look at the joints under light", ""),
    ("neighbours", "Look once more at the neighbours of the same age and heat", ""),
)


def fitted_since(state: JobState, part: str) -> bool:
    """Whether a part was fitted after the verdict that its rework belongs to."""
    return any(one.part == part and one.round > state.verdict_round for one in state.fits)


def rework_state(session: JobSession) -> ReworkState:
    """Steps for the accepted part; all done, the part counts as fitted."""
    verdict = session.state.verdict
    if verdict is None:
        return ReworkState(
            "Rework",
            "",
            "",
            "",
            "",
            False,
            (),
            "Go to the verdict",
            "No verdict has been accepted.",
        )
    part = session.board.component(verdict.part)
    done = set(session.state.rework_done)
    steps: list[ReworkStep] = []
    current_found = False
    for key, text, caution in _REWORK:
        if key in done:
            status = "done"
        elif not current_found:
            status, current_found = "current", True
        else:
            status = "ahead"
        steps.append(ReworkStep(key, text, caution, status))
    fitted = fitted_since(session.state, part.ref)
    confirmed = session.state.state_known and not session.state.board_state.plugged
    charged = session.to_measure()
    asks_bulk = current_found and "open" not in done and confirmed and bool(charged)
    safety = ""
    if current_found and "open" not in done:
        if session.state.board_state.plugged:
            safety = "The record says it is plugged in. Pull the plug, then press U."
        elif not confirmed:
            safety = "The board's state was not confirmed. Pull the plug, then press U."
        elif asks_bulk:
            what = reservoir_title(session, charged[0])
            wait = drain_wait(session, charged[0])[1]
            safety = f"Measure volts across {what}, at its own leads, and enter them. {wait}"
    action = "Done, next step" if current_found else "Part fitted: go to power up"
    replacement = session.state.replacement
    words = f"{part.ref}, {part.duty}"
    if replacement is not None:
        words += (
            f": {nominal(replacement.farads, 'F')} {nominal(replacement.volts, 'V')}, "
            f"{replacement.celsius:g} °C"
        )
    return ReworkState(
        f"Replace {part.ref}" if not fitted else f"{part.ref} is replaced",
        part.ref,
        words,
        session.board.net(part.pins["plus"]).where if "plus" in part.pins else "",
        "ground side of the board's mark" if "plus" in part.pins else "",
        part.kind == "electrolytic",
        tuple(steps),
        action,
        safety=safety,
        asks_bulk=asks_bulk,
    )
