"""Parts that a log names on this board and its model does not have."""

from __future__ import annotations

import re

import numpy as np

from loose_rail.app.job_file.log.against_its_print import told_ohms
from loose_rail.app.job_file.log.elsewhere import (
    SHORTED_BELOW_OHMS,
    of_another_board,
    other_part,
)
from loose_rail.app.job_file.log.freed_rail import of_the_rail
from loose_rail.app.job_file.log.human_value import human_value
from loose_rail.app.job_file.log.outcomes import measured
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.diagnosis.evidence.soft_evidence import cleared_clue
from loose_rail.diagnosis.evidence.unlisted_clues import (
    unlisted_measured,
    unlisted_renewed,
    unlisted_seen,
    unlisted_tapped,
)
from loose_rail.kernel.observation import Form

_KIND = re.compile(
    r"\b(chokes?|coils?|inductors?|beads?|ferrites?|snubbers?|resistors?|caps?|capacitors?|cans?|"
    r"electrolytics?|ceramics?|diodes?|rectifiers?|zeners?|clamps?|tvs|suppressors?|transistors?|"
    r"mosfets?|fets?|thermistors?|ntcs?|ptcs?|jumpers?|links?|relays?|transformers?|thyristors?|"
    r"triacs?|trimmers?|pots?|fuses?|varistors?|mov|chips?|ics?|controllers?|optocouplers?|"
    r"couplers?|fusibles?|(?<!mains )(?<!power )(?<!rocker )switch(?:es)?|regulators?|heatsinks?|"
    r"[rcldq]\d{1,4})\b",
    re.IGNORECASE,
)
_BLOCKS = re.compile(
    r"cap|can\b|electrolytic|ceramic|snubber|diode|zener|clamp|tvs|suppressor|transistor|fet|"
    r"varistor|mov\b|switch|thyristor|triac",
    re.IGNORECASE,
)
_CONDUCTS = re.compile(
    r"choke|coil|inductor|bead|ferrite|jumper|link|fuse|fusible|relay coil", re.I
)
HIGH_TIMES = 1.3
"""In place a resistor never reads above what is printed on it, but for the meter and its own
tolerance [P]."""
CONDUCTS_BELOW_OHMS = 10.0
"""What is wound or a wire reads below [P]."""
_JOINT = re.compile(
    r"\b(the )?((solder(ed|ing)?|dry|cracked|cold|bad) )*(joints?|pins?|legs?)( (of|at|on|under))?"
    r"( the)? |^the | (re)?soldered$|^(re)?soldered ",
    re.IGNORECASE,
)
_PRINT = re.compile(r",? ?\b(marked|printed|labelled|rated)\b.*$", re.IGNORECASE)
_CORD = re.compile(r"\b(cord|adapter|brick|remote|outlet|socket strip|aerial)\b", re.IGNORECASE)


def unlisted_part(teller: Teller, words: str) -> str:
    """The name of a part of this board that its model does not have; empty where words mean one
    that it has, another board's, or no part."""
    if teller.referents.points_to_unknown(words):
        words = teller.referents.unknown
    known = [what for ref, what in teller.nowhere.items() if re.search(rf"\b{ref}\b", words)]
    plain = known[0] if known else _PRINT.sub(" ", words)
    name = " ".join(_JOINT.sub(" ", f"{plain} ").split()).strip(" ,.;")
    if not _KIND.search(name) or _CORD.search(name) or of_another_board(words):
        return ""
    if teller.parts(words) or other_part(teller.board, words):
        return ""
    return name


def seen_at_unlisted(teller: Teller, where: str, key: str, number: int) -> bool:
    """A finding at such a part. Whether it was one."""
    name = unlisted_part(teller, where)
    if not name or not key or key == "nothing_seen":
        return False
    clue = unlisted_seen(teller.table, name, key)
    teller.aside(clue, number)
    teller.understand(clue.words)
    return True


def measured_unlisted(teller: Teller, what: str, result: str, number: int) -> bool:
    """How such a part measured by itself. Whether it was one."""
    name = unlisted_part(teller, what)
    if not name:
        return False
    good = _good_by_itself(name, what, result)
    if good is None:
        teller.understand(f"{name}: told, but not good or bad by itself")
        return True
    clue = unlisted_measured(teller.table, name, good)
    teller.aside(clue, number)
    teller.understand(clue.words)
    return True


def measured_elsewhere(teller: Teller, what: str, result: str, number: int) -> bool:
    """How a part of another board measured by itself: bad, that board is. Whether it was one."""
    far = other_part(teller.board, what) if of_another_board(what) else ""
    kind = _KIND.search(_BOARD_NAMES.sub(" ", what))
    if not far or kind is None:
        return False
    good = _good_by_itself(kind[0], what, result)
    if good is False:
        teller.aside(cleared_clue(teller.table, far, good=False), number)
    told = "told, but not good or bad" if good is None else "good" if good else "bad"
    teller.understand(f"{what} is none of this board's: {told} by itself")
    return True


_BOARD_NAMES = re.compile(r"\b(t-?con|\w+[- ]board'?s?)\b", re.IGNORECASE)
_CLOSED = re.compile(r"coil|closed|energi[sz]ed|pulled in|picked up|clicked", re.IGNORECASE)
_CONTACTS_ONLY = re.compile(r"\bcontacts?\b", re.IGNORECASE)
_NOT_CLOSED = re.compile(r"\b(not|without|no|un\w+|at rest|off)\b", re.IGNORECASE)
CONTACTS_BELOW_OHMS = 1.0
"""Closed contacts of a power relay read a few hundredths; from here on they are burnt [P]."""


def read_unlisted(teller: Teller, at: str, text: str, number: int) -> bool:
    """Ohms read at such a part, in place. Whether they tell it good or bad."""
    name = unlisted_part(teller, at)
    return (
        bool(name)
        and _good_by_itself(name, at, text) is False
        and measured_unlisted(teller, at, text, number)
    )


def tapped_unlisted(teller: Teller, words: str, result: str, number: int) -> bool:
    """Such a part was tapped, and the set answered. Whether it was one."""
    name = unlisted_part(teller, words)
    if name:
        clue = unlisted_tapped(teller.table, name, result)
        teller.aside(clue, number)
        teller.understand(clue.words)
    return bool(name)


def _good_by_itself(name: str, what: str, result: str) -> bool | None:
    """Good or bad by its kind: what should block and conducts, what should conduct and is open;
    else by the words, or by what its rail reads without it."""
    said = measured(result)
    value = human_value(re.split(r"[;,]", result)[0], "ohms", result)
    ohms = None if value is None or value.observation.unit != "Ω" else value.observation
    if ohms is not None and re.search(r"\bcontacts?\b", name, re.I):
        told = f"{_CONTACTS_ONLY.sub(' ', what)} {result}"
        closed = bool(_CLOSED.search(told)) and not _NOT_CLOSED.search(told)
        high = ohms.form is Form.OPEN or ohms.high > CONTACTS_BELOW_OHMS
        return False if closed and high else said
    plain_resistor = re.search(r"\bresistors?\b", name, re.I) and "fusible" not in name.lower()
    if ohms is not None and plain_resistor:
        printed = told_ohms(f"{what} {result}")
        high = ohms.form is Form.OPEN or ohms.centre > HIGH_TIMES * (printed or np.inf)
        return False if high and (printed or said is False) else said
    if ohms is not None and _BLOCKS.search(name):
        shorted = ohms.form is Form.SHORT or ohms.centre < SHORTED_BELOW_OHMS
        return False if shorted else said
    if ohms is not None and _CONDUCTS.search(name):
        return ohms.form is not Form.OPEN and ohms.centre < CONDUCTS_BELOW_OHMS
    return of_the_rail(result) if said is None else said


def renewed_unlisted(teller: Teller, what: str, helped: bool | None, number: int) -> bool:
    """What came of renewing such a part. Whether it was one, and it is plain."""
    name = unlisted_part(teller, what)
    if not name or helped is None:
        return False
    clue = unlisted_renewed(teller.table, name, helped)
    teller.aside(clue, number)
    teller.understand(clue.words)
    return True
