"""States of the stages that are kept as a record: take in, strip down, look over."""

from __future__ import annotations

from loose_rail.app.session import JobSession
from loose_rail.diagnosis.symptoms import symptom_words
from loose_rail.jobs import events as ev
from loose_rail.kernel.quantities import fixed
from loose_rail.presenters.states import RecordState, SuspectRow
from loose_rail.presenters.words import STAGE_TITLES

_RECORD_INTROS = {
    "take_in": "What the customer saw and heard, and what was tried before opening.",
    "strip_down": "What was taken off, in order; it goes back on from the bottom up.",
    "look_over": "What the eye found. A clean board proves nothing.",
}


def record_state(session: JobSession, suspects: tuple[SuspectRow, ...]) -> RecordState:
    """A stage kept as a record: its facts and notes, the estimate beside it."""
    state, key = session.state, session.state.stage
    facts: list[tuple[str, str]] = []
    if key == "take_in":
        facts = [
            ("Set", state.set_name),
            ("Board", f"{session.board.id}, also {', '.join(session.board.aliases)}"),
            ("In the customer's words", state.complaint),
        ]
        facts += [("Understood", _symptom_words(s)) for s in state.symptoms]
        facts.append(("Spending limit", f"{state.spending_limit:.2f} {state.currency}".strip()))
    notes = tuple((at[11:16], text) for stage, text, at in state.notes if stage == key)
    following = ev.STAGES[ev.STAGES.index(key) + 1]
    return RecordState(
        STAGE_TITLES[key],
        _RECORD_INTROS.get(key, ""),
        tuple(facts),
        notes,
        suspects,
        f"Go to {STAGE_TITLES[following].lower()}",
    )


def _symptom_words(symptom: ev.SymptomNoted) -> str:
    if symptom.symptom == "ticks" and symptom.hertz:
        return f"“{symptom.words}”: restarts, {fixed(symptom.hertz, 2)} a second"
    return f"“{symptom.words}”: {symptom_words(symptom.symptom)}"
