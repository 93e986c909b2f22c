"""Looking over: part by part in suspicion order, one key for what is seen."""

from __future__ import annotations

from loose_rail.app.looking_over import NOTHING_SEEN, options_of, survey_order
from loose_rail.app.session import JobSession
from loose_rail.boards.kinds.registry import kind_of, kind_words
from loose_rail.diagnosis.evidence.soft_evidence import findings
from loose_rail.diagnosis.inference.posterior import bad_probabilities
from loose_rail.screens.look_over.state import SurveyRow, SurveyState
from loose_rail.screens.shared.board_rows import boards_of
from loose_rail.screens.shared.rail_map.present import MapBuilder
from loose_rail.screens.shared.suspect_rows import suspect_rows
from loose_rail.vocabulary.both_ends import READ_AT_BOTH_ENDS

MOST_NOTE = 70
GENERAL_HINT = "Body, legs and joints, with a lens and raking light."


def survey_state(session: JobSession, selected: int) -> SurveyState:
    """The page with one part selected."""
    order = survey_order(session)
    selected = max(0, min(selected, len(order) - 1))
    part = order[selected]
    findings_ = [one for one in session.state.findings if one.seen not in READ_AT_BOTH_ENDS]
    seen = {one.part: one.seen for one in findings_}
    bad: dict[str, float] = {}
    if session.review is not None:
        bad = bad_probabilities(session.review.table, session.review.assessment.probabilities)
    rows = tuple(
        SurveyRow(
            ref=one.ref,
            words=one.duty or kind_words(one.kind),
            seen=findings()[seen[one.ref]].words if one.ref in seen else "",
            share=bad.get(one.ref, 0.0),
            odd=seen.get(one.ref, NOTHING_SEEN) != NOTHING_SEEN,
        )
        for one in order
    )
    looked = sum(bool(row.seen) for row in rows)
    odd = sum(row.odd for row in rows)
    rail_map = MapBuilder(session.board, (), bad, None, part.ref).build()
    return SurveyState(
        title="Look over",
        part=part.ref,
        part_words=part.duty or kind_words(part.kind),
        hint=kind_of(part).look or GENERAL_HINT,
        options=options_of(part),
        chosen=seen.get(part.ref, ""),
        rows=rows,
        selected=selected,
        rail_map=rail_map,
        boards=boards_of(session.review),
        suspects=suspect_rows(session.review),
        done=f"{looked} of {len(rows)} looked at, {odd} odd. A clean board proves nothing."
        + _last_note(session),
        action="Go to cold checks",
        can_be_named=session.board.known_by == "own",
    )


def _last_note(session: JobSession) -> str:
    notes = [text for stage, text, _ in session.state.notes if stage == "look_over"]
    if not notes:
        return ""
    last = notes[-1]
    return f" Noted: {last if len(last) <= MOST_NOTE else last[: MOST_NOTE - 1] + '…'}"
