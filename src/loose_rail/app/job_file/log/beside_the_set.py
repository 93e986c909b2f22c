"""What is seen beside a set and is none of it: its remote, the outlet, its cord, a setting in its
menu; and what is said that is no sign."""

from __future__ import annotations

import re
from dataclasses import dataclass

from loose_rail.app.job_file.log.entries import Seen
from loose_rail.app.job_file.log.outlet_words import OUTLET
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.diagnosis.evidence.customer_words import HARMLESS
from loose_rail.diagnosis.evidence.deed_clues import elsewhere_found_clue
from loose_rail.jobs import events as ev
from loose_rail.kernel.negation import negated


@dataclass(frozen=True, slots=True)
class _Thing:
    """A thing beside the set: how a place names it and what else that may be, how it is seen to be
    at fault, and what is said of it."""

    at: re.Pattern[str]
    unless: re.Pattern[str]
    harmed: re.Pattern[str]
    said: str


_THINGS = (
    _Thing(
        re.compile(r"\b(remote( control)?|handset)\b", re.IGNORECASE),
        re.compile(r"receiver|sensor|board", re.IGNORECASE),
        re.compile(
            r"\b(leak\w*|corroded|empty|flat|dead|weak|green|run down|exhausted|broken|stuck)\b",
            re.IGNORECASE,
        ),
        "the remote, not the set",
    ),
    _Thing(
        re.compile(OUTLET.pattern + r"|^(?:the |its )?(?:wall|mains)$", re.IGNORECASE),
        re.compile(r"\bled\b|board", re.IGNORECASE),
        re.compile(
            r"\b(burnt|burned|black\w*|melted|loose|scorched|brown|charred|broken|corroded|"
            r"arc\w*)\b",
            re.IGNORECASE,
        ),
        "before the set, not in it",
    ),
    _Thing(
        re.compile(r"\b(grilles?|fans?|vents?|ventilation|air slots?|air holes?)\b", re.IGNORECASE),
        re.compile(r"connector|plug|rail|volt", re.IGNORECASE),
        re.compile(
            r"\b(dust\w*|fluff|felt|fur|lint|blocked|clogged|choked|dirt\w*|covered|stuffed|"
            r"full)\b",
            re.IGNORECASE,
        ),
        "the air of the set, no part of its boards",
    ),
)


def seen_before_the_set(teller: Teller, entry: Seen) -> bool:
    """What is seen at the remote or at the customer's outlet says nothing of the set; spent or
    burnt, it may be the cause. Whether it was one of them."""
    for thing in _THINGS:
        if not thing.at.search(entry.at) or thing.unless.search(entry.at):
            continue
        if thing.harmed.search(entry.text):
            words = f"{entry.at}: {entry.text}"
            teller.aside(elsewhere_found_clue(teller.table, words), entry.number)
        teller.understand(f"“{entry.text}” at {entry.at} → {thing.said}")
        return True
    return False


_SETTING = re.compile(
    r"\b(sleep|off|switch-?off|wake|auto(matic)?[- ]?(off|stand-?by|power)?) ?timer\b|"
    r"\bauto(matic)?[- ]?(off|stand-?by|shut-?down|switch-?off)\b|\benergy[- ]sav\w+|"
    r"\beco[- ]mode|\b(hotel|demo|shop) mode|\b(child|key|panel) lock\b",
    re.IGNORECASE,
)
_NOT_SET = re.compile(
    r"\b(off|not|no|none|disabled|cleared|inactive)\b(?![- ]timer)", re.IGNORECASE
)


def setting_seen(teller: Teller, entry: Seen) -> bool:
    """A setting in the menu that switches a sound set off, or keeps it from its keys. Whether it
    was one."""
    if _SETTING.search(entry.text) is None:
        return False
    if not _NOT_SET.search(_SETTING.sub(" ", entry.text)):
        teller.aside(elsewhere_found_clue(teller.table, entry.text), entry.number)
    teller.understand(f"“{entry.text}” → a setting of the set, no fault")
    return True


_CORD = re.compile(r"\b(mains |power )?(cord|lead|flex)\b|\bwall plug\b", re.IGNORECASE)
_BROKEN = re.compile(
    r"\bno continuity|\bbroken|\bbroke\b|\bkink|\bcut\b|\bopen\b|\bchewed|\bmelt|\bburnt|\bsevered",
    re.IGNORECASE,
)


def cord_seen(teller: Teller, entry: Seen) -> bool:
    """A mains cord that is seen, or beeps, broken. Whether it was one."""
    named = _CORD.search(entry.at) and not re.search(r"\bled\b", entry.at, re.IGNORECASE)
    if not named or teller.board.adapter_fed or not _BROKEN.search(entry.text):
        return False
    teller.record(ev.HistoryNoted("cord_dead", entry.text))
    teller.understand(f"“{entry.text}” at {entry.at} → the cord brings nothing")
    return True


_SAYS_NOTHING = (
    (
        re.compile(
            r"\b(?:has|have|comes with|had) (?:no|got no) "
            r"(?:indicator|(?:standby|front) (?:light|lamp|led))s?\b(?! (?:any|now|today|since))|"
            r"\bno (?:indicator|standby (?:light|lamp|led)) "
            r"(?:on|in|at) (?:this|the|that) (?:set|model|one|tv|monitor)\b",
            re.IGNORECASE,
        ),
        "no indicator on this set: nothing is read from it",
    ),
    (
        re.compile(
            r"\b(?:outlet|wall socket|socket in the wall|plug point)s? (?:itself )?(?:works?|is "
            r"(?:fine|good|ok|okay|live|all right|sound)|has (?:mains|power|230 ?v|120 ?v))\b|"
            r"\b(?:tried|works on) another (?:outlet|wall socket)\b",
            re.IGNORECASE,
        ),
        "the outlet is good",
    ),
    (re.compile(HARMLESS.pattern, re.IGNORECASE), "a sound set does that too: no sign"),
)
_DENIED = re.compile(r"\b(?:not|never|no longer|hardly)\b|n't\b", re.IGNORECASE)


def says_nothing(teller: Teller, text: str) -> bool:
    """What is said and clears the way without being a sign: it is understood, and counts for
    nothing. Whether it was such a thing."""
    told = [
        (found[0], words)
        for pattern, words in _SAYS_NOTHING
        if (found := pattern.search(text))
        and not _DENIED.search(found[0])
        and not negated(text.lower(), found.start())
    ]
    for phrase, words in told:
        teller.understand(f"“{phrase}” → {words}")
    return bool(told)
