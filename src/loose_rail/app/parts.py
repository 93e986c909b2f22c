"""The parts of a repair: the list of what is replaced, and what is fitted for each by its ratings.

A typed line of the page puts a part on the list (`+C22 same batch`), takes it off (`-C22`), brings
one in front (`C22`), or offers a part for that one (`1000u 16V 105C low-esr was 1000u 10V`).
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from loose_rail.app.deciding import standing_verdict
from loose_rail.app.outcome import Echo, Outcome
from loose_rail.app.repair import action_of
from loose_rail.app.scope import WORDS as SCOPES, choose_scope
from loose_rail.app.session import JobSession
from loose_rail.boards.co_failures import co_failures_of
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.parts_named import names_a_kind, parts_named
from loose_rail.boards.profile import Component
from loose_rail.boards.whole_board import component_of
from loose_rail.jobs import events as ev
from loose_rail.judgement.replacement.electrolytic import (
    Candidate,
    Fit,
    check_replacement,
    original_of,
)
from loose_rail.judgement.replacement.judge_offer import judge_offer
from loose_rail.judgement.replacement.judged import Judged
from loose_rail.judgement.replacement.offer import read_offer
from loose_rail.judgement.rework import Action, action_words
from loose_rail.kernel.errors import BadEntryError

FIT_WORDS = {Fit.OK: "OK", Fit.NOTE: "OK with a note", Fit.NO: "NO"}
LEAST_COMPANION = 0.2
"""From this chance on a part that fails with another is proposed to be renewed or read [E]."""
MOST_COMPANIONS = 4
_ADD, _STRIKE = re.compile(r"\+\s*(\S.*)"), re.compile(r"-\s*([A-Za-z].*)")
_ONLY_WAS = re.compile(r"was\s+(\S.*)", re.IGNORECASE)
_WAS = re.compile(r"\s+was\s+", re.IGNORECASE)
LINE_HELP = (
    "Type its ratings, such as 1000u 16V 105C low-esr; was 1000u 10V tells the old one; +C22 adds "
    "a part, -C22 strikes one."
)


@dataclass(frozen=True, slots=True)
class ListedPart:
    """A part of the list: why it is there, what was chosen for it, whether it is fitted."""

    part: Component
    why: str
    chosen: str
    fitted: bool


@dataclass(frozen=True, slots=True)
class Companion:
    """A part that often fails with one of the list: how likely, and in which way."""

    part: Component
    chance: float
    words: str


def repair_list(session: JobSession) -> tuple[ListedPart, ...]:
    """What is replaced in this repair, in order; empty without a standing verdict."""
    state = session.state
    if standing_verdict(session) is None:
        return ()
    whys = {one.part: one.why for one in state.listed}
    found = []
    for ref in state.to_replace:
        offer, stock = state.offer_for(ref), state.replacement
        chosen = f"{offer.offer}: {offer.verdict}" if offer else ""
        if not chosen and stock is not None and stock.part == ref:
            chosen = stock.verdict
        if not chosen and (action := action_of(session, ref)) is not Action.REPLACE:
            chosen = f"{action_words(action)[0]}: no new part"
        why = whys.get(ref) or (state.way.title if state.way else "the verdict")
        part = component_of(session.board, ref)
        found.append(ListedPart(part, why, chosen, state.fitted_since_verdict(ref)))
    return tuple(found)


def companions(session: JobSession) -> tuple[Companion, ...]:
    """What often goes with the parts of the list and is neither on it nor read good since."""
    listed = set(session.state.to_replace)
    read = {one.probe.split(".")[0] for one in session.state.live_readings}
    verdict = session.state.verdict
    mode = verdict.suspect.partition(":")[2].partition(":")[0] if verdict else ""
    found: dict[str, Companion] = {}
    for link in co_failures_of(session.board):
        new = link.effect not in listed and link.effect not in read
        own = verdict is not None and link.cause == verdict.part
        if own and mode and link.cause_mode != mode:
            continue
        if link.cause in listed and new and link.probability >= LEAST_COMPANION:
            part = session.board.component(link.effect)
            words = f"{link.effect_mode.replace('_', ' ')} with {link.cause}"
            known = found.get(link.effect)
            if known is None or link.probability > known.chance:
                found[link.effect] = Companion(part, link.probability, words)
    ranked = sorted(found.values(), key=lambda one: -one.chance)
    return tuple(ranked[:MOST_COMPANIONS])


def has_rules(part: Component) -> bool:
    """Whether a stock of candidates is looked through for this kind of part."""
    return is_a(part, Trait.ELECTROLYTIC)


def candidates_for(session: JobSession, stock: Sequence[Candidate]) -> tuple[Candidate, ...]:
    """What there is to choose from; without a stock list, the part as it was."""
    verdict = session.state.verdict
    if stock or verdict is None:
        return tuple(stock)
    part = component_of(session.board, verdict.part)
    known = has_rules(part) and session.board.is_read(part.ref)
    return (original_of(part),) if known else ()


def choose_part(session: JobSession, part: Component, item: Candidate) -> Outcome:
    """This one of the stock is taken. Raises JobError where it can't be stored."""
    check = check_replacement(session.board, part.ref, item)
    if check.fit is Fit.NO:
        return Outcome.refused(
            "This one is not suitable; choose another with the arrow keys, or type one."
        )
    session.record(
        ev.ReplacementChosen(
            part=part.ref,
            farads=item.farads,
            volts=item.volts,
            celsius=item.celsius,
            esr_ohms=item.esr_ohms,
            diameter_mm=item.diameter_mm,
            height_mm=item.height_mm,
            pitch_mm=item.pitch_mm,
            verdict=f"{item.name}: {FIT_WORDS[check.fit]}",
            notes=check.notes,
        )
    )
    return Outcome(f"Chosen: {item.name}.")


def judged_line(session: JobSession, ref: str, text: str) -> Judged:
    """The verdict on a typed offer for a part. Raises BadEntryError."""
    offer, _, original = _split(text)
    return judge_offer(session.board, ref, offer, original or session.state.original_for(ref))


def line_echo(session: JobSession, ref: str, text: str) -> Echo:
    """What a line would do."""
    if not text.strip():
        return Echo(LINE_HELP)
    if (scope := text.strip().lower()) in SCOPES:
        return Echo(SCOPES[scope])
    if match := _ADD.fullmatch(text.strip()):
        known, _ = _ref_and_rest(session, match[1])
        said = f"{known} goes on the list" if known else _no_part(session, match[1])
        return Echo(said, not known)
    if match := _STRIKE.fullmatch(text.strip()):
        return Echo(f"{_ref(session, match[1]) or match[1]} goes off the list")
    if known := _ref(session, text.strip()):
        return Echo(f"{known} comes in front")
    if match := _ONLY_WAS.fullmatch(text.strip()):
        return Echo(f"On the old {ref} stands {match[1]}")
    try:
        found = judged_line(session, ref, text)
    except BadEntryError as error:
        return Echo(error.message, True)
    left = f"; not understood: {', '.join(found.left)}" if found.left else ""
    return Echo(f"{FIT_WORDS[found.fit]} for {ref}{left}", found.fit is Fit.NO)


def enter_line(session: JobSession, ref: str, text: str) -> Outcome:
    """A line that is no choice of a part: the list changes, or an offer is taken."""
    line = text.strip()
    if line.lower() in SCOPES:
        return choose_scope(session, line.lower())
    if match := _ADD.fullmatch(line):
        known, why = _ref_and_rest(session, match[1])
        if not known:
            return Outcome.refused(_no_part(session, match[1]))
        if known in session.state.to_replace:
            return Outcome.refused(f"{known} is on the list already.")
        session.record(ev.PartListed(known, why or "renewed with it"))
        return Outcome(f"{known} is on the list.")
    if match := _STRIKE.fullmatch(line):
        return _strike(session, match[1])
    if match := _ONLY_WAS.fullmatch(line):
        return _tell_original(session, ref, match[1])
    return _take(session, ref, line)


def _tell_original(session: JobSession, ref: str, words: str) -> Outcome:
    """What stands on the old part: what is offered for its place is held against it."""
    try:
        left = judge_offer(session.board, ref, words, words).left
    except BadEntryError as error:
        return Outcome.refused(error.one_line())
    if left:
        return Outcome.refused(f"Not understood: {', '.join(left)}. {LINE_HELP}")
    session.record(ev.OriginalTold(ref, words))
    return Outcome(f"On the old {ref} stands {words}.")


def chosen_ref(session: JobSession, text: str) -> str:
    """The part of the list that a line names, empty for any other line."""
    known = _ref(session, text.strip())
    return known if known in session.state.to_replace else ""


def _take(session: JobSession, ref: str, line: str) -> Outcome:
    try:
        found = judged_line(session, ref, line)
    except BadEntryError as error:
        return Outcome.refused(error.one_line())
    if found.left:
        return Outcome.refused(f"Not understood: {', '.join(found.left)}. {LINE_HELP}")
    odd = [one for one in found.checks if one.fit is not Fit.OK]
    if found.fit is Fit.NO:
        worst = next(one for one in odd if one.fit is Fit.NO)
        what = worst.attribute.replace("_", " ")
        why = worst.consequence if worst.code.endswith("_unknown") else worst.reason
        return Outcome.refused(f"Not for {ref}: {what}, {why}.")
    offer, _, told = _split(line)
    original = told or session.state.original_for(ref)
    notes = [f"{one.attribute.replace('_', ' ')}: {one.reason}" for one in odd]
    verdict = FIT_WORDS[found.fit]
    make = read_offer(offer, "").word("make")
    session.record(ev.OfferTaken(ref, offer, original, verdict, notes, make))
    return Outcome(f"For {ref}: {offer}, {verdict}.")


def _strike(session: JobSession, word: str) -> Outcome:
    known = _ref(session, word)
    state = session.state
    if state.verdict is not None and known == state.verdict.part:
        return Outcome.refused("That is the part of the verdict: decide otherwise on its page.")
    if state.way is not None and known in state.way.parts:
        return Outcome.refused("That belongs to the way that was chosen: choose another way.")
    if not known or known not in state.to_replace:
        return Outcome.refused(f"{word} is not on the list.")
    if state.fitted_since_verdict(known):
        return Outcome.refused(f"{known} is fitted already.")
    session.record(ev.PartStruck(known))
    return Outcome(f"{known} is off the list.")


def _split(text: str) -> tuple[str, str, str]:
    parts = _WAS.split(text.strip(), maxsplit=1)
    return (parts[0], "was", parts[1]) if len(parts) == 2 else (parts[0], "", "")


_PLAIN_WORDS = re.compile(r"(?:\d+(?:\.\d+)? ?V )?[A-Za-z][A-Za-z -]*\d?", re.IGNORECASE)
"""A part by what it does, and no ratings: “sense resistor”, “12 V reservoir”."""


def _ref(session: JobSession, word: str) -> str:
    """A part of the board by its designator, in any letters, or by what it does where only one is
    meant, of the board or of those that this repair is about; empty for none."""
    wanted = word.upper()
    known = next((one.ref for one in session.board.components if one.ref.upper() == wanted), "")
    named = [] if known or not _PLAIN_WORDS.fullmatch(word) else _named(session, word)
    if len(named) > 1:
        near = {*session.state.to_replace, *(one.part.ref for one in companions(session))}
        named = [one for one in named if one in near]
    return known or (named[0] if len(named) == 1 else "")


def _named(session: JobSession, words: str) -> list[str]:
    return parts_named(session.board, words) if names_a_kind(words) else []


def _ref_and_rest(session: JobSession, text: str) -> tuple[str, str]:
    """A part at the beginning of a line, whose name may have words of its own, and the rest."""
    words = text.split()
    refs = {one.ref.upper(): one.ref for one in session.board.components}
    for count in range(len(words), 0, -1):
        if known := refs.get(" ".join(words[:count]).upper()):
            return known, " ".join(words[count:])
    for count in range(1, len(words) + 1):
        if count < len(words) and words[count].lower() in PLACE_WORDS:
            return _ref(session, text), ""  # “gate resistor of the main switch”: all of it is name
        if known := _ref(session, " ".join(words[:count])):
            return known, " ".join(words[count:])
    return "", text


PLACE_WORDS = frozenset({"of", "at", "for", "on", "in", "behind", "beside", "after", "before"})
"""Behind the name of a part they tell which of several it is."""


def _no_part(session: JobSession, words: str) -> str:
    several = _named(session, words)
    if len(several) > 1:
        return f"“{words}” can be {', '.join(several[:4])}: type the one that is meant."
    return f"“{words}” is no part of this board."
