"""Taking in: words propose symptoms and history, the person confirms; checks before opening."""

from __future__ import annotations

import re
from itertools import groupby

from loose_rail.app.outcome import Echo, Outcome
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.evidence.customer_words import Proposal, proposal_words, proposals
from loose_rail.diagnosis.evidence.history import history_words
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import ONE_OF
from loose_rail.kernel.short_hand import short_or_long


def new_proposals(session: JobSession, text: str) -> list[Proposal]:
    """What words propose that does not count yet."""
    known = {one.symptom for one in session.state.symptoms}
    known |= {one.fact for one in session.state.history}
    return [one for one in proposals(text) if one.kind not in known]


def understood_pieces(text: str) -> tuple[tuple[str, bool], ...]:
    """A text in pieces, each with whether it says something that is known; joined they are it."""
    plain = text.lower().replace("’", "'")
    marks = [False] * len(text)
    for one in proposals(text):
        words = short_or_long(one.phrase)
        for match in re.finditer(words, plain, re.IGNORECASE) if words else ():
            marks[match.start() : match.end()] = [True] * (match.end() - match.start())
    pieces: list[tuple[str, bool]] = []
    for mark, letters in groupby(zip(marks, text, strict=True), key=lambda pair: pair[0]):
        pieces.append(("".join(letter for _, letter in letters), mark))
    return tuple(pieces)


def words_echo(session: JobSession, text: str) -> Echo:
    """The mapping of the words, shown while they are typed."""
    if not text.strip():
        waiting = new_proposals(session, session.state.complaint)
        if not waiting:
            return Echo("", False)
        words = "; ".join(proposal_words(one) for one in waiting)
        return Echo(f"In the complaint: {words}. + takes it over.", False)
    found = new_proposals(session, text)
    if found:
        return Echo("; ".join(proposal_words(one) for one in found), False)
    return Echo("Nothing in these words is known as a symptom or a fact yet.", True)


def confirm_words(session: JobSession, text: str) -> Outcome:
    """Enter: what the words propose counts from now on."""
    found = new_proposals(session, text)
    if not found:
        return Outcome("No new symptom or fact in these words; Ctrl+N keeps them as a note.")
    for one in found:
        if one.is_history:
            session.record(ev.HistoryNoted(one.kind, one.phrase))
        else:
            session.record(ev.SymptomNoted(one.kind, one.phrase, one.hertz))
    return Outcome(f"Counts now: {'; '.join(proposal_words(one) for one in found)}.")


def drop_noted(session: JobSession, key: str) -> Outcome:
    """Take one symptom or fact back."""
    group, _, name = key.partition(":")
    events: tuple[ev.SymptomNoted | ev.HistoryNoted, ...] = (
        session.state.symptoms if group == "symptom" else session.state.history
    )
    for event in events:
        if name == (event.symptom if isinstance(event, ev.SymptomNoted) else event.fact):
            session.take_back(event)
            return Outcome(
                f"No longer counts: {name.replace('_', ' ')}. Ctrl+Shift+Z puts it back."
            )
    return Outcome("")


def _take_answers_back(session: JobSession, answers: tuple[str, str]) -> None:
    """Every answer to one question, the older ones behind the last too."""
    while found := next((h for h in session.state.history if h.fact in answers), None):
        session.take_back(found)


def answer_check(session: JobSession, fact: str) -> Outcome:
    """A check before opening is answered; answering the same again takes it back."""
    standing = {one.fact: one for one in session.state.history}
    if fact in standing:
        _take_answers_back(session, next(pair for pair in ONE_OF if fact in pair))
    else:
        session.record(ev.HistoryNoted(fact))
    return Outcome(history_words(fact) if fact not in standing else "Taken back.")
