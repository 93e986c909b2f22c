"""Taking in: the set, what was said and how it was understood, the first estimate."""

from __future__ import annotations

from loose_rail.app.intake import understood_pieces
from loose_rail.app.session import JobSession
from loose_rail.app.set_picture import picture_of
from loose_rail.diagnosis.evidence.history import history_facts, history_words
from loose_rail.diagnosis.evidence.symptoms import reason_of, symptom_words
from loose_rail.judgement.limits import limit
from loose_rail.kernel.quantities import fixed
from loose_rail.screens.shared.board_rows import boards_of
from loose_rail.screens.shared.suspect_rows import suspect_rows
from loose_rail.screens.take_in.estimate import worth_words
from loose_rail.screens.take_in.papers import papers_state
from loose_rail.screens.take_in.state import CheckItem, IntakeState, NotedItem

CHECKS = (
    (
        "Outlet, cord",
        (("outlet_tried", "tried"), ("outlet_dead", "dead")),
    ),
    ("Out for 30 s", (("reset_tried", "no change"), ("reset_helped", "helped"))),
)
OF_CHECKS = frozenset(key for _, options in CHECKS for key, _ in options)


def intake_state(session: JobSession, followed: str = "") -> IntakeState:
    """The page as it stands; `followed` is the record of the job that this one follows from."""
    state = session.state
    facts = {one.fact for one in state.history}
    checks = tuple(
        CheckItem(title, options, next((key for key, _ in options if key in facts), ""))
        for title, options in CHECKS
    )
    aliases = ", ".join(session.board.aliases)
    return IntakeState(
        title="Take in",
        set_text=state.set_name,
        board_text=f"{session.board.id}, also {aliases}" if aliases else session.board.id,
        complaint=understood_pieces(state.complaint),
        picture=picture_of(session),
        noted=noted_items(session),
        checks=checks,
        notes=(
            *((("", followed),) if followed else ()),
            *((at[11:16], text) for stage, text, at in state.notes if stage == "take_in"),
        ),
        boards=boards_of(session.review),
        suspects=suspect_rows(session.review),
        worth=worth_words(session),
        papers=papers_state(session),
        reset_seconds=round(limit("reset_seconds")),
        action="Go to strip down",
    )


def noted_items(session: JobSession) -> tuple[NotedItem, ...]:
    """Symptoms and history that count, in the order they were noted."""
    found = []
    for symptom in session.state.symptoms:
        rate = f", {fixed(symptom.hertz, 2)} a second" if symptom.hertz else ""
        found.append(
            NotedItem(
                key=f"symptom:{symptom.symptom}",
                words=symptom_words(symptom.symptom) + rate,
                rests_on=symptom.words,
                reason=reason_of(symptom.symptom),
            )
        )
    for one in session.state.history:
        if one.fact not in OF_CHECKS:
            reason = history_facts()[one.fact].reason
            found.append(
                NotedItem(
                    key=f"history:{one.fact}",
                    words=history_words(one.fact),
                    rests_on=one.words,
                    reason=reason,
                )
            )
    return tuple(found)
