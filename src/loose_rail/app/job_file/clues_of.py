"""Everything in a job file that is no reading, as symptoms and clues."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from loose_rail.app.job_file.board_of import CaseBoard
from loose_rail.app.job_file.entries import state_in
from loose_rail.app.job_file.lamp_in_line import lamp_pattern
from loose_rail.app.job_file.notes import Notes, shown
from loose_rail.app.job_file.points import parts_of
from loose_rail.boards.kinds.registry import kind_of
from loose_rail.diagnosis.evidence.customer_words import age_fact, proposal_words, proposals
from loose_rail.diagnosis.evidence.history import history_facts
from loose_rail.diagnosis.evidence.soft_evidence import (
    LAMP_PATTERNS,
    Clue,
    cleared_clue,
    disconnected_clue,
    finding_clue,
    finding_key,
    history_clue,
    lamp_clue,
    replaced_clue,
    symptom_clue,
)
from loose_rail.diagnosis.evidence.symptoms import Symptom, kinds
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.negation import either, says

Entry = Mapping[str, object]
PART_KEYS = ("part", "place", "where", "point", "at")
SEEN_KEYS = ("seen", "finding", "what", "note")
YES = (
    *("yes", "true", "helped", "helps", "cured", "cures", "works", "worked", "works again"),
    *("better", "came back", "comes back", "back", "recovered", "recovers", "returned"),
    *("fixed", "fixed it", "repaired", "solved", "starts", "started"),
)
NO = (
    *("no", "false", "nothing", "same", "unchanged", "no change", "no difference", "no effect"),
    *("no help", "did not help", "didn't help", "does not help", "doesn't help"),
    *("did not work", "didn't work", "did not fix it", "didn't fix it", "not fixed"),
    *("did not come back", "didn't come back", "does not come back", "doesn't come back"),
    *("changed nothing", "still dead", "still the same", "as before"),
)
GOOD = ("good", "ok", "okay", "fine", "sound", "healthy", "passes", "passed", "all right")
BAD = (
    *("bad", "short", "shorted", "shorts", "open", "leaky", "leaks", "dried", "dried out"),
    *("high esr", "fail", "fails", "failed", "faulty", "dead", "blown"),
)


@dataclass(frozen=True)
class Clues:
    """What a file tells beside its readings."""

    symptoms: tuple[Symptom, ...]
    clues: tuple[Clue, ...]
    skipped: tuple[str, ...]


def clues_of(case: CaseBoard, table: PredictionTable, given: Entry, notes: Notes) -> Clues:
    """Read complaint, symptoms, history, findings, actions and what can't be reached."""
    symptoms: dict[str, Symptom] = {}
    facts: dict[str, None] = {}
    for text in _texts(given.get("complaint"), notes):
        if not _mapped(text, symptoms, facts, notes) and text.strip():
            notes.leave(text, "no words in it are in the vocabulary of symptoms yet")
    for entry in _list(given.get("symptoms"), notes, "symptoms"):
        _symptom(entry, symptoms, facts, notes)
    _history(given.get("history"), symptoms, facts, notes)
    clues = [history_clue(table, fact) for fact in facts]
    for entry in _list(given.get("findings"), notes, "findings"):
        clues += _finding(case, table, entry, notes)
    for entry in _list(given.get("actions"), notes, "actions"):
        clues += _action(case, table, entry, notes)
    skipped = []
    for entry in _list(given.get("skipped"), notes, "skipped"):
        skipped += _skipped(case, table, entry, notes)
    return Clues(tuple(symptoms.values()), tuple(clues), tuple(skipped))


def _list(given: object, notes: Notes, name: str) -> list[object]:
    if given is None:
        return []
    if isinstance(given, list):
        return given
    if isinstance(given, str | Mapping):
        return [given]
    notes.leave({name: given}, f"{name} are a list")
    return []


def _texts(given: object, notes: Notes) -> Iterator[str]:
    for one in _list(given, notes, "complaint"):
        if isinstance(one, str):
            yield one
        elif isinstance(one, Mapping) and isinstance(one.get("text"), str):
            yield str(one["text"])
        else:
            notes.leave(one, "a complaint is text")


def _mapped(text: str, symptoms: dict[str, Symptom], facts: dict[str, None], notes: Notes) -> bool:
    found = proposals(text)
    for proposal in found:
        notes.understood.append(proposal_words(proposal))
        if proposal.is_history:
            facts.setdefault(proposal.kind)
        else:
            symptoms.setdefault(proposal.kind, Symptom(proposal.kind, proposal.hertz))
    return bool(found)


def _symptom(
    entry: object, symptoms: dict[str, Symptom], facts: dict[str, None], notes: Notes
) -> None:
    words, hertz = entry, None
    if isinstance(entry, Mapping):
        words = next((entry[k] for k in ("kind", "symptom", "words", "text") if entry.get(k)), "")
        rate = entry.get("hertz", entry.get("rate"))
        if isinstance(rate, int | float) and not isinstance(rate, bool) and rate > 0:
            hertz = float(rate)
        elif rate is not None:
            notes.leave(entry, "a rate is a number of hertz above zero; the symptom counts without")
    text = str(words).strip()
    key = text.lower().replace(" ", "_")
    if key in kinds():
        symptoms[key] = Symptom(key, hertz)
    elif key in history_facts():
        facts.setdefault(key)
    elif not _mapped(text, symptoms, facts, notes):
        notes.leave(entry, f"no such symptom; known are {', '.join(list(kinds())[:8])} and more")


def _history(
    given: object, symptoms: dict[str, Symptom], facts: dict[str, None], notes: Notes
) -> None:
    if given is None:
        return
    if isinstance(given, Mapping):
        for key, value in given.items():
            _history_entry(str(key), value, symptoms, facts, notes)
        return
    for entry in _list(given, notes, "history"):
        if isinstance(entry, Mapping):
            _history(entry, symptoms, facts, notes)
        else:
            _fact(str(entry), entry, symptoms, facts, notes)


def _history_entry(
    key: str,
    value: object,
    symptoms: dict[str, Symptom],
    facts: dict[str, None],
    notes: Notes,
) -> None:
    lowered = key.lower()
    if value is None or value is False or value == "":
        return
    if "age" in lowered or "year" in lowered:
        if isinstance(value, int | float) and not isinstance(value, bool) and 0 <= value < 100:
            fact = age_fact(float(value))
            if fact:
                facts.setdefault(fact)
        elif not _mapped(f"{value} years old", symptoms, facts, notes):
            notes.leave({key: value}, "an age is a number of years")
        return
    if isinstance(value, list):
        _history(value, symptoms, facts, notes)
    elif value is True:
        _fact(key, {key: value}, symptoms, facts, notes)
    elif isinstance(value, str):
        joined = f"{lowered}_{value.lower()}".replace(" ", "_")
        words = joined if joined in history_facts() else value
        _fact(words, {key: value}, symptoms, facts, notes)
    elif "hour" in lowered and isinstance(value, int | float):
        if value > 20_000:
            facts.setdefault("old")
    else:
        notes.leave({key: value}, "this fact of the history is not understood")


def _fact(
    text: str, whole: object, symptoms: dict[str, Symptom], facts: dict[str, None], notes: Notes
) -> None:
    key = text.strip().lower().replace(" ", "_")
    if key in history_facts():
        facts.setdefault(key)
    elif not _mapped(text.replace("_", " "), symptoms, facts, notes):
        known = ", ".join(list(history_facts())[:8])
        notes.leave(whole, f"this fact of the history is not understood; known are {known}")


# ---- what was seen and done ----------------------------------------------------------------


def _finding(case: CaseBoard, table: PredictionTable, entry: object, notes: Notes) -> list[Clue]:
    where, seen = _where_and_what(entry, PART_KEYS, SEEN_KEYS)
    key = finding_key(seen)
    if not key:
        notes.leave(entry, "not understood; known are bulging, leaked, burnt, blown, cracked ring…")
        return []
    parts = parts_of(case, where) or _of_letter(case, where)
    if parts:
        return [_spread([finding_clue(table, part, key) for part in parts], where)]
    if key == "nothing_seen":
        return [finding_clue(table, "", key)]
    smell = [p for p in proposals(f"{where} {seen}") if not p.is_history]
    if smell:
        notes.understood += [proposal_words(proposal) for proposal in smell]
        return [symptom_clue(table, Symptom(proposal.kind)) for proposal in smell]
    notes.leave(entry, f"“{where}” is no part known here; say what it does")
    return []


NOT_UNDERSTOOD = "not understood, or negated: it counts for nothing until it is said plainly"


def _of_letter(case: CaseBoard, where: str) -> list[str]:
    """Every part that a designator's letters may mean on a board whose own are not known."""
    found = re.match(r"\s*([A-Z]{1,2})\d+\b", where)
    if not found or not case.generic:
        return []
    return [p.ref for p in case.board.components if found[1] in kind_of(p).letters]


def _spread(clues: list[Clue], where: str) -> Clue:
    """One clue of several that may each be meant: their likelihoods averaged."""
    if len(clues) == 1:
        return clues[0]
    log = np.log(np.mean([np.exp(clue.log) for clue in clues], axis=0))
    log[-1] = min(float(log[-1]), float(np.log(np.exp(log[:-1]).mean())))  # outside the model
    seen = clues[0].words.partition(": ")[2]
    words = f"{where}, one of {len(clues)} parts: {seen}"
    return Clue(clues[0].key, clues[0].family, words, clues[0].reason, log)


def _where_and_what(
    entry: object, place_keys: tuple[str, ...], what_keys: tuple[str, ...]
) -> tuple[str, str]:
    if isinstance(entry, Mapping):
        where = next((str(entry[k]) for k in place_keys if entry.get(k)), "")
        given = next((entry[k] for k in what_keys if entry.get(k)), "")
        what = ", ".join(map(str, given)) if isinstance(given, list) else str(given)
        return where, what
    text = str(entry)
    first, _, rest = text.partition(":")
    if rest:
        return first.strip(), rest.strip()
    first, _, rest = text.partition(" ")
    if any(letter.isdecimal() for letter in first) and rest:
        return first, rest
    return text, text


def _action(case: CaseBoard, table: PredictionTable, entry: object, notes: Notes) -> list[Clue]:
    if not isinstance(entry, Mapping):
        symptoms: dict[str, Symptom] = {}
        facts: dict[str, None] = {}
        _fact(str(entry), entry, symptoms, facts, notes)
        return [history_clue(table, fact) for fact in facts]
    did = str(entry.get("did") or entry.get("action") or entry.get("what") or "").lower()
    result = str(
        entry.get("result", entry.get("helped", entry.get("measured", entry.get("outcome", ""))))
    ).lower()
    if "lamp" in did or "limiter" in did or "bulb" in did:
        return _lamp(case, table, entry, result, notes)
    if any(word in did for word in ("outlet", "cord", "reset", "half")):
        return _at_the_wall(table, did, result, entry, notes)
    where = next((str(entry[k]) for k in PART_KEYS if entry.get(k)), "")
    parts = parts_of(case, where)
    if not parts:
        notes.leave(entry, f"“{where}” is no part known here" if where else "it names no part")
        return []
    return _on_part(table, parts[0], did, result, entry, notes)


def _at_the_wall(
    table: PredictionTable, did: str, result: str, entry: Entry, notes: Notes
) -> list[Clue]:
    """Outlet, cord and the half-minute reset: what plainly was dead, helped, or changed nothing."""
    helped = either(result, YES, NO)
    if "reset" in did or "half" in did:
        if helped is not None:
            return [history_clue(table, "reset_helped" if helped else "reset_tried")]
    elif says(result, ("dead",)):
        return [history_clue(table, "outlet_dead")]
    elif helped is False:
        return [history_clue(table, "outlet_tried")]
    notes.leave(entry, NOT_UNDERSTOOD)
    return []


def _on_part(
    table: PredictionTable, part: str, did: str, result: str, entry: Entry, notes: Notes
) -> list[Clue]:
    if any(word in did for word in ("replac", "fitted", "swapp", "changed")):
        helped = either(result, YES, NO)
        if helped is None:
            told = "whether the new part helped is not said" if not result else NOT_UNDERSTOOD
            notes.leave(entry, told)
            return []
        return [replaced_clue(table, part, helped)]
    if any(word in did for word in ("remov", "lift", "desolder", "taken out", "tested out")):
        good = either(result, GOOD, BAD)
        if good is not None:
            return [cleared_clue(table, part, good=good)]
        told = "how the part measured by itself is not said: good or bad"
        notes.leave(entry, f"{told}; {NOT_UNDERSTOOD}" if result else told)
        return []
    if any(word in did for word in ("unplug", "disconnect", "detach")):
        helped = either(result, YES, NO)
        if helped is None:
            told = "whether the rail came back is not said" if not result else NOT_UNDERSTOOD
            notes.leave(entry, told)
            return []
        return [disconnected_clue(table, part, helped)]
    notes.leave(entry, "known actions are replaced, removed, unplugged, lamp, outlet and reset")
    return []


def _lamp(
    case: CaseBoard, table: PredictionTable, entry: Entry, result: str, notes: Notes
) -> list[Clue]:
    text = f"{result} {entry.get('pattern', '')} {entry.get('behaviour', '')}".lower()
    pattern = lamp_pattern(text)
    if pattern not in LAMP_PATTERNS:
        notes.leave(
            entry, "how the lamp behaved is not understood: bright, flash, glow, dark, pulses"
        )
        return []
    state = state_in(f"{shown(entry.get('state') or 'standby')} through lamp", case.board)
    key = state.key if state is not None else ""
    lamps = [k for k in table.lamp_glow if "lamp" in k]
    if key not in lamps:
        if not lamps:
            notes.leave(entry, "this board is fed by an adapter and needs no lamp")
            return []
        key = lamps[0]
    return [lamp_clue(table, key, pattern)]


def _skipped(case: CaseBoard, table: PredictionTable, entry: object, notes: Notes) -> list[str]:
    """Probe ids of a point or a part that can't be reached."""
    text = str(entry.get("point") or entry.get("part") or "") if isinstance(entry, Mapping) else ""
    text = text or str(entry)
    ids = {c.probe.id: c.probe for c in table.candidates}
    if text in ids:
        return [text]
    parts = parts_of(case, text)
    found = [name for name, probe in ids.items() if probe.part in parts and not probe.live]
    if not found:
        notes.leave(entry, "no such point or part to leave out")
    return found
