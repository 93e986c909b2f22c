"""Parts of this board that its model does not have: a choke, a snubber, a clamp.

What is seen, measured or renewed there speaks for the row that is outside the list, under the
part's own name; it is never booked on the nearest part that is listed.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from loose_rail.diagnosis.evidence.soft_evidence import (
    HELPED_BAD,
    HELPED_OTHER,
    MEASURED_RIGHT,
    MEASURED_WRONG,
    Clue,
    by_row,
    findings,
)
from loose_rail.diagnosis.model.table import PredictionTable

FAMILY = "unlisted:"
CURED_BY_IT, NOT_BY_IT = HELPED_BAD, 0.5
"""Chance that a new part of no list cures a set whose cause is on no list, or does not [E]."""
OF_NO_LIST = 0.4
"""Chance that the part which measures bad, or shows damage, is the cause that is on no list [E]."""


def unlisted_measured(table: PredictionTable, name: str, good: bool) -> Clue:
    """A part of no list measured by itself."""
    words = f"{name} measured {'good' if good else 'bad'} by itself"
    reason = "a part that is bad by itself is bad, listed or not"
    if not good and opened_by_another(name):
        words = f"{name} is open: something opened it"
        return by_row(table, FAMILY + name, words, "a fuse is the effect", lambda _: 1.0, 1.0)
    if good:
        return by_row(table, FAMILY + name, words, reason, lambda _: 1.0, outside=0.7)
    clue = by_row(
        table, FAMILY + name, words, reason, lambda _: MEASURED_WRONG, OF_NO_LIST * MEASURED_RIGHT
    )
    return replace(clue, says="bad")


def unlisted_seen(table: PredictionTable, name: str, key: str) -> Clue:
    """What is seen at a part of no list. Raises KeyError for an unknown finding."""
    entry = findings()[key]
    bad = max(entry.bad.values())
    words = f"{name}: {entry.words}"
    reason = "damage tells of the part at which it is seen"
    clue = by_row(table, FAMILY + name, words, reason, lambda _: entry.sound, OF_NO_LIST * bad)
    return replace(clue, says="seen")


ANSWERS_A_TAP, ANSWERS_ELSEWHERE = 0.5, 0.05
"""Chance that a set whose cause is a part of no list answers to a tap on that part, and that one
with another cause does [E]."""


def unlisted_tapped(table: PredictionTable, name: str, result: str) -> Clue:
    """A part of no list was tapped, and what the set did then."""
    words = f"{name} tapped: {result}"
    reason = "what answers to a tap has a bad contact, or a bad joint, there or nearby"
    clue = by_row(
        table, FAMILY + name, words, reason, lambda _: ANSWERS_ELSEWHERE, OF_NO_LIST * ANSWERS_A_TAP
    )
    return replace(clue, says="tapped")


def unlisted_renewed(table: PredictionTable, name: str, helped: bool) -> Clue:
    """A part of no list was renewed, or its joints, and the set is well, or it is not."""
    words = f"{name} renewed: {'cured it' if helped else 'changed nothing'}"
    reason = "what cured it was the cause, listed or not"
    if helped:
        clue = by_row(
            table, FAMILY + name, words, reason, lambda _: HELPED_OTHER, OF_NO_LIST * CURED_BY_IT
        )
        return replace(clue, says="cured")
    return by_row(table, FAMILY + name, words, reason, lambda _: 0.9, NOT_BY_IT)


HOW_IT_SHOWED = {
    "cured": "a new one cured it",
    "bad": "measured bad by itself",
    "tapped": "it answers to a tap",
    "seen": "damage is seen at it",
}


def title_of(name: str, how: str) -> str:
    """The suspect that a part of no list is, in words."""
    return f"{name}: {HOW_IT_SHOWED[how]}"


def opened_by_another(name: str) -> bool:
    """Whether a part of no list is a fuse, or a resistor that is one."""
    return re.search(r"\bfus(e|ible)", name, re.IGNORECASE) is not None


def named_part(clues: Sequence[Clue]) -> tuple[str, str]:
    """The part of no list that the clues speak for most, and how: cured, bad, or seen; empty where
    none does. A fuse that is open was opened by something: any other part speaks louder."""
    order = {"cured": 4, "bad": 3, "tapped": 2, "seen": 1}
    found = [c for c in clues if c.family.startswith(FAMILY) and c.says in order]
    if not found:
        return "", ""
    best = max(found, key=lambda clue: (order[clue.says], not opened_by_another(clue.family)))
    return best.family.removeprefix(FAMILY), best.says
