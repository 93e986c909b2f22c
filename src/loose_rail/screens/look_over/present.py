"""Looking over: part by part in suspicion order, one key for what is seen."""

from __future__ import annotations

from loose_rail.app.session import JobSession
from loose_rail.boards.faults import kind_words
from loose_rail.boards.profile import Component
from loose_rail.diagnosis.evidence.soft_evidence import findings, history_clue
from loose_rail.diagnosis.evidence.symptoms import Symptom
from loose_rail.diagnosis.inference.posterior import bad_probabilities, posterior
from loose_rail.jobs import events as ev
from loose_rail.screens.look_over.state import SurveyRow, SurveyState
from loose_rail.screens.rail_map.present import MapBuilder
from loose_rail.screens.shared.notice import Notice
from loose_rail.screens.shared.rows import SuspectRow
from loose_rail.screens.take_in.estimate import boards_of

NOTHING_SEEN = "nothing_seen"
POWERED_ONLY = ("hot", "stays_cold", "drops_volts", "no_drop")
BEHIND_CONNECTORS = ("load",)
HINTS = {
    "electrolytic": "Top and pins, from the side: domed, crusted, tilted. Flat clears little.",
    "fuse": "Glass: clear, wire broken, or blackened. Blackened means a hard short behind it.",
    "connector": "Joints from below, with a lens and raking light: ringed, dull, burnt.",
    "transformer": "Joints at the pins, tape discoloured, core cracked.",
    "bridge": "Body and joints: cracked, holed, board browned beneath.",
    "resistor": "Colour bands burnt, body split, board browned beneath.",
    "fusible_resistor": "A fusible one opens without a mark: looks clear little.",
    "mosfet_n": "Body holed or cracked, mica and screw, joints of the legs.",
    "controller": "Body cracked or holed, above all at the driver pins.",
    "led_strip": "Connectors burnt, lenses fallen off.",
}
MOST_NOTE = 70
GENERAL_HINT = "Body, legs and joints, with a lens and raking light."


def survey_order(session: JobSession) -> list[Component]:
    """Parts in order of suspicion before anything was seen: the order stays while looking."""
    parts = [p for p in session.board.components if p.kind not in BEHIND_CONNECTORS]
    if session.engine is None:
        return parts
    table = session.engine.table
    symptoms = [Symptom(s.symptom, s.hertz) for s in session.state.symptoms]
    clues = [history_clue(table, one.fact) for one in session.state.history]
    bad = bad_probabilities(table, posterior(table, [], symptoms, clues))
    return sorted(parts, key=lambda part: (-bad.get(part.ref, 0.0), part.ref))


def options_of(part: Component) -> tuple[tuple[str, str], ...]:
    """What can be seen on a part: key of the finding and words, nothing seen last."""
    found = [
        (key, str(entry["words"]))
        for key, entry in findings().items()
        if key != NOTHING_SEEN
        and key not in POWERED_ONLY
        and (not entry["kinds"] or part.kind in entry["kinds"])
    ]
    own = [one for one in found if findings()[one[0]]["kinds"]]
    rest = [one for one in found if not findings()[one[0]]["kinds"]]
    return (*own, *rest, (NOTHING_SEEN, "nothing to be seen"))


def survey_state(
    session: JobSession, selected: int, suspects: tuple[SuspectRow, ...]
) -> SurveyState:
    """The page with one part selected."""
    order = survey_order(session)
    selected = max(0, min(selected, len(order) - 1))
    part = order[selected]
    seen = {one.part: one.seen for one in session.state.findings}
    bad: dict[str, float] = {}
    if session.engine is not None and session.assessment is not None:
        bad = bad_probabilities(session.engine.table, session.assessment.probabilities)
    rows = tuple(
        SurveyRow(
            one.ref,
            one.duty or kind_words(one.kind),
            str(findings()[seen[one.ref]]["words"]) if one.ref in seen else "",
            bad.get(one.ref, 0.0),
            seen.get(one.ref, NOTHING_SEEN) != NOTHING_SEEN,
        )
        for one in order
    )
    looked = sum(bool(row.seen) for row in rows)
    odd = sum(row.odd for row in rows)
    rail_map = MapBuilder(session.board, (), bad, None, part.ref).build()
    return SurveyState(
        "Look over",
        part.ref,
        f"{part.duty or kind_words(part.kind)}",
        HINTS.get(part.kind, GENERAL_HINT),
        options_of(part),
        seen.get(part.ref, ""),
        rows,
        selected,
        rail_map,
        boards_of(session),
        suspects,
        f"{looked} of {len(rows)} looked at, {odd} odd. A clean board proves nothing."
        + _last_note(session),
        "Go to cold checks",
    )


def _last_note(session: JobSession) -> str:
    notes = [text for stage, text, _ in session.state.notes if stage == "look_over"]
    if not notes:
        return ""
    last = notes[-1]
    return f" Noted: {last if len(last) <= MOST_NOTE else last[: MOST_NOTE - 1] + '…'}"


def note_finding(session: JobSession, selected: int, number: int) -> Notice:
    """One key: what is seen on the selected part; the same key again takes it back."""
    part = survey_order(session)[selected]
    options = options_of(part)
    if not 0 <= number < len(options):
        return Notice(f"There are {len(options)} things to choose from.", "problem")
    key, words = options[number]
    event = ev.FindingNoted(part.ref, key)
    if event in session.state.findings:
        session.take_back(event)
        return Notice(f"{part.ref}: taken back.")
    session.record(event)
    return Notice(f"{part.ref}: {words}.")


def rest_is_clean(session: JobSession) -> Notice:
    """Nothing is seen on all parts that were not looked at one by one."""
    event = ev.FindingNoted("", NOTHING_SEEN)
    if event in session.state.findings:
        return Notice("That is noted already.")
    session.record(event)
    return Notice("Nothing to be seen on the rest: that clears little, and is noted.")


def next_unseen(session: JobSession, selected: int) -> int:
    """The next part that was not looked at, after this one; the same where there is none."""
    order = survey_order(session)
    seen = {one.part for one in session.state.findings}
    for step in range(1, len(order) + 1):
        number = (selected + step) % len(order)
        if order[number].ref not in seen:
            return number
    return selected
