"""A course of volts from the order of what is told: “8 V, 0 V, 8 V”, “tries to 8 V, gives up”,
“2 V at once, 5 V after 30 s”.

The words are taken apart into levels, in their order, and signs of what they do: again and again,
one after another, giving up, coming slowly. It is asked last: a phrase that is known as a whole is
read by itself.
"""

from __future__ import annotations

import re
from collections.abc import Sequence

from loose_rail.kernel.observation import Form, Observation, ticking

_DURATION = re.compile(
    r"\b(?:(?:in|within|after|over|for|every|about|some|once|under) )*"
    r"(?:\d+(?:[.,]\d+)?|an?|one|two|three|four|five|ten|half an?|a few|some) ?"
    r"(?:ms|s|secs?|seconds?|mins?|minutes?|h|hours?|moments?|instants?|times)\b",
    re.IGNORECASE,
)
_OTHER_NUMBER = re.compile(
    r"\bpins? \d+\b|\b[a-z]{1,3}\d+(?:-\d+)?\b|\d+(?:[.,]\d+)? ?(?:ohms?|Ω|k\b|%|a\b|amps?|w\b|"
    r"watts?|"
    r"°|hz|degrees|mv (?:of )?(?:ripple|ac))|\bripple\b[^,;]*",
    re.IGNORECASE,
)
_LEVEL = re.compile(r"(?P<number>\d+(?:[.,]\d+)?) ?(?P<milli>m)?(?:v(?:dc)?|volts?)?\b", re.I)
_NOTHING = re.compile(
    r"^(?:(?:and|then|but|it|is|goes|falls|drops|back|down|to|after that|afterwards) )*"
    r"(?:nothing|zero|gone|off|dead|away|nil|out)(?: again| after(?:wards)?| at all| then)?$",
    re.IGNORECASE,
)
_CLAUSE = re.compile(r"\s*[,;:/]\s*|\s+(?:then|and then|and|but)\s+|\s+(?=until\b)|\s*\.{2,}\s*")
_AGAIN = re.compile(
    r"\bagain\b|\bover and over\b|\bevery\b|\beach\b|\brepeat\w*|\bcycl\w+|\bstarts over\b|"
    r"\bresets?\b|"
    r"\bcomes and goes\b|\bpuls\w+|\btick\w*|\bhiccup\w*|\bpump\w*|\bjump\w*|\bbounc\w+|"
    r"\b(?:once|twice|times) an? second\b|\bon and off\b|\bup and down\b|\bback and forth\b|"
    r"\bkeeps (?:trying|going|coming|jumping)\b|\bflick\w*",
    re.IGNORECASE,
)
_IN_ORDER = re.compile(
    r"\bthen\b|\bafter\b|\bafterwards\b|\blater\b|\buntil\b|\bat (?:first|once|switch)|\bbefore\b|"
    r"\bduring\b|\bwhen\b|\bwhile\b|\bas soon as\b|\bonce\b|\binitially\b|\bfinally\b|\bnow\b|"
    r"\bin the (?:first )?(?:moment|instant|second)|\bat the (?:first )?(?:moment|instant)|"
    r"\bends? (?:at|on|up)\b",
    re.IGNORECASE,
)
_TRIES = re.compile(
    r"\b(?:tries|climbs|rises|gets|comes|goes|reaches|builds|makes it|shoots|kicks|runs|creeps)\b",
    re.IGNORECASE,
)
_GIVES_UP = re.compile(
    r"\b(?:gives up|lets go|quits|stops|is lost|vanishes|disappears|dies|collapses|shuts down|"
    r"cuts out|breaks off|falls back|snaps back|goes away|and is gone)\b",
    re.IGNORECASE,
)
_COMES_SLOWLY = re.compile(
    r"\b(?:rises|climbs|builds up|creeps|comes up|comes|grows|up) (?:only )?(?:very )?"
    r"(?:slowly|gradually)\b|"
    r"\b(?:slowly|gradually) (?:rises|climbs|builds up|creeps|comes|up)\b|"
    r"\bonly (?:reaches|comes|gets|arrives|there)[^,;]*(?P<after>\bafter\b)|"
    r"\btakes (?:its time|long|ages|a while)\b",
    re.IGNORECASE,
)
_AS_IT_SHOULD = re.compile(
    r",? ?\b(?:when|where|while|though|although) (?:it|there) should[^,;]*|\bhalf an? (?:volt|v)\b",
    re.IGNORECASE,
)
"""What was wanted is no level."""
_ENDS_FIRST = re.compile(
    r"\b(?:after|later)\b[^,;]*[,;][^,;]*\b(?:at the start|at first|before|at switch[- ]on|cold)$",
    re.IGNORECASE,
)
"""“11.9 after an hour, 12.1 at the start”: told from its end."""
_ELSE_MOVES = re.compile(
    r"\b(?:dark|lit|with|without|unplugged|standby|load(?:ed)?|pin)\b", re.IGNORECASE
)
"""Levels that are told for two ways in which the set stands are no course of one."""


def course_told(text: str, note: str) -> Observation | None:
    """A course in the order of its levels; None where the words tell none."""
    text = _AS_IT_SHOULD.sub(" ", text)
    levels = _levels(text)
    whole = f"{text} {note}"
    if not levels:
        return None
    again = _AGAIN.search(whole) is not None
    low, high = min(levels), max(levels)
    if low == high:
        return _of_one(levels, text, again)
    if levels[0] == levels[-1] == 0.0 and len(levels) == 3 and not again:
        return Observation(Form.FALLING, 0.0, high, "V")
    if _ENDS_FIRST.search(text):
        levels = levels[::-1]
    back = any(a == c != b for a, b, c in zip(levels, levels[1:], levels[2:], strict=False))
    if again or back:
        return ticking(low, high, "V", None)
    if not _IN_ORDER.search(text) or _ELSE_MOVES.search(text):
        return None
    form = Form.FALLING if levels[-1] < levels[0] else Form.RISING
    return Observation(form, low, high, "V")


def _of_one(levels: Sequence[float], text: str, again: bool) -> Observation | None:
    """What a single level does: it is tried for again and again, given up, or comes slowly."""
    level = levels[0]
    if level < 1.0:
        return None
    times = len(_TRIES.findall(text))
    tried = times > 0
    if (again and (tried or len(levels) > 1)) or (times > 1 and _GIVES_UP.search(text)):
        return ticking(0.0, level, "V", None)
    if tried and _GIVES_UP.search(text):
        return Observation(Form.FALLING, 0.0, level, "V")
    if _COMES_SLOWLY.search(text):
        return Observation(Form.RISING, 0.0, level, "V")
    return None


def _levels(text: str) -> list[float]:
    """The volts in the words, in their order; what is plainly nothing is zero."""
    plain = _OTHER_NUMBER.sub(" ", _DURATION.sub(" ", text))
    found = []
    for clause in (one.strip(" .()!") for one in _CLAUSE.split(plain)):
        if _NOTHING.match(clause):
            found.append(0.0)
        for level in _LEVEL.finditer(clause):
            scale = 1e-3 if level["milli"] else 1.0
            found.append(scale * float(level["number"].replace(",", ".")))
    return found
