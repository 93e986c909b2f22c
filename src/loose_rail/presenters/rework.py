"""Rework of the accepted part, step by step."""

from __future__ import annotations

from loose_rail.app.session import JobSession
from loose_rail.kernel.quantities import nominal
from loose_rail.presenters.card import drain_wait
from loose_rail.presenters.states import ReworkState, ReworkStep

_REWORK = (
    ("open", "Unplugged and drained: bulk measured below 10 V", "It is measured, not assumed."),
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
    fitted = part.ref in session.state.fitted
    plugged = session.state.board_state.plugged
    asks_bulk = current_found and "open" not in done and not plugged and not session.drained
    safety = ""
    if current_found and "open" not in done:
        if plugged:
            safety = "The record says it is plugged in. Pull the plug, then press U."
        elif asks_bulk:
            safety = f"Measure volts across the bulk and enter them. {drain_wait(session)[1]}"
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
