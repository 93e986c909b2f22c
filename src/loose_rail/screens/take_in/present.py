"""Taking in: words propose symptoms and history, the person confirms; checks before opening."""

from __future__ import annotations

from loose_rail.app.session import JobSession
from loose_rail.diagnosis.evidence.customer_words import Proposal, proposal_words, proposals
from loose_rail.diagnosis.evidence.history import history_facts, history_words
from loose_rail.diagnosis.evidence.symptoms import reason_of, symptom_words
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import ONE_OF
from loose_rail.judgement.limits import limit
from loose_rail.kernel.quantities import fixed
from loose_rail.screens.shared.notice import EntryEcho, Notice
from loose_rail.screens.shared.rows import SuspectRow
from loose_rail.screens.take_in.estimate import boards_of, worth_words
from loose_rail.screens.take_in.papers import papers_state
from loose_rail.screens.take_in.state import CheckItem, IntakeState, NotedItem
from loose_rail.screens.verdict.decision import costs_of

CHECKS = (
    (
        "Outlet, cord, plug fuse",
        (("outlet_tried", "others tried"), ("outlet_dead", "one was dead")),
    ),
    ("Half a minute unplugged", (("reset_tried", "changed nothing"), ("reset_helped", "helped"))),
)
OF_CHECKS = frozenset(key for _, options in CHECKS for key, _ in options)


def intake_state(session: JobSession, suspects: tuple[SuspectRow, ...]) -> IntakeState:
    """The page as it stands."""
    state = session.state
    facts = {one.fact for one in state.history}
    checks = tuple(
        CheckItem(title, options, next((key for key, _ in options if key in facts), ""))
        for title, options in CHECKS
    )
    aliases = ", ".join(session.board.aliases)
    return IntakeState(
        "Take in",
        state.set_name,
        f"{session.board.id}, also {aliases}" if aliases else session.board.id,
        state.complaint,
        noted_items(session),
        checks,
        tuple((at[11:16], text) for stage, text, at in state.notes if stage == "take_in"),
        boards_of(session),
        suspects,
        worth_words(session, costs_of(session)),
        papers_state(session),
        round(limit("reset_seconds")),
        "Go to strip down",
    )


def noted_items(session: JobSession) -> tuple[NotedItem, ...]:
    """Symptoms and history that count, in the order they were noted."""
    found = []
    for symptom in session.state.symptoms:
        rate = f", {fixed(symptom.hertz, 2)} a second" if symptom.hertz else ""
        found.append(
            NotedItem(
                f"symptom:{symptom.symptom}",
                symptom_words(symptom.symptom) + rate,
                symptom.words,
                reason_of(symptom.symptom),
            )
        )
    for one in session.state.history:
        if one.fact not in OF_CHECKS:
            reason = str(history_facts()[one.fact]["reason"])
            found.append(
                NotedItem(f"history:{one.fact}", history_words(one.fact), one.words, reason)
            )
    return tuple(found)


def new_proposals(session: JobSession, text: str) -> list[Proposal]:
    """What words propose that does not count yet."""
    known = {one.symptom for one in session.state.symptoms}
    known |= {one.fact for one in session.state.history}
    return [one for one in proposals(text) if one.kind not in known]


def words_echo(session: JobSession, text: str) -> EntryEcho:
    """The mapping of the words, shown while they are typed."""
    if not text.strip():
        waiting = new_proposals(session, session.state.complaint)
        if not waiting:
            return EntryEcho("", False)
        words = "; ".join(proposal_words(one) for one in waiting)
        return EntryEcho(f"In the complaint: {words}. + takes it over.", False)
    found = new_proposals(session, text)
    if found:
        return EntryEcho("; ".join(proposal_words(one) for one in found), False)
    return EntryEcho("Nothing in these words is known as a symptom or a fact yet.", True)


def confirm_words(session: JobSession, text: str) -> Notice:
    """Enter: what the words propose counts from now on."""
    found = new_proposals(session, text)
    if not found:
        return Notice("No new symptom or fact in these words; Ctrl+N keeps them as a note.")
    for one in found:
        if one.is_history:
            session.record(ev.HistoryNoted(one.kind, one.phrase))
        else:
            session.record(ev.SymptomNoted(one.kind, one.phrase, one.hertz))
    return Notice(f"Counts now: {'; '.join(proposal_words(one) for one in found)}.")


def drop_noted(session: JobSession, key: str) -> Notice:
    """Take one symptom or fact back."""
    group, _, name = key.partition(":")
    events: tuple[ev.SymptomNoted | ev.HistoryNoted, ...] = (
        session.state.symptoms if group == "symptom" else session.state.history
    )
    for event in events:
        if name == (event.symptom if isinstance(event, ev.SymptomNoted) else event.fact):
            session.take_back(event)
            return Notice(f"No longer counts: {name.replace('_', ' ')}. Ctrl+Shift+Z puts it back.")
    return Notice("")


def _take_answers_back(session: JobSession, answers: tuple[str, str]) -> None:
    """Every answer to one question, the older ones behind the last too."""
    while found := next((h for h in session.state.history if h.fact in answers), None):
        session.take_back(found)


def answer_check(session: JobSession, fact: str) -> Notice:
    """A check before opening is answered; answering the same again takes it back."""
    standing = {one.fact: one for one in session.state.history}
    if fact in standing:
        _take_answers_back(session, next(pair for pair in ONE_OF if fact in pair))
    else:
        session.record(ev.HistoryNoted(fact))
    return Notice(history_words(fact) if fact not in standing else "Taken back.")
