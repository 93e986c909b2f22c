"""What came of a deed, by its single words: for what no known turn of phrase says.

Each clause speaks for or against by the words in it: what a set does that is well, what it does
that is not, and troubles that are gone, which speak for. The last clause is how it ended.
"""

from __future__ import annotations

import re

from loose_rail.kernel.negation import negated

_HEDGE = re.compile(
    r"\b(a (bit|little)|somewhat|partly|perhaps|maybe|improved|improves|better|less|rarer|seldom|"
    r"could ?n[o']t|not (tried|tested|sure|clear)|not yet|unclear|unsure|if|until|unless|ran out|"
    r"only|"
    r"sometimes|mostly|half|dim|works until|but|though|however)\b|\?",
    re.IGNORECASE,
)
"""Neither one nor the other."""
_TROUBLE = (
    r"(?:(?:tick|click|blink|puls|pump|flicker|hum|hiccup|trip|buzz|whistl|chirp|whin|restart|"
    r"reboot|squeal|crackl|flash|stutter|hick)\w*|noises?|faults?|troubles?|problems?|complaints?|"
    r"errors?|drop-?outs?|failures?|short|sparks?|smoke|smell|symptoms?)"
)
_GONE_BEFORE = re.compile(
    r"(\b(no|not|never|without|nothing of|free of|rid of|gone (is|are|with)|gone|ends?|ended|"
    r"stop(s|ped)?|end of|cured of)( \w+){0,2}|n't( \w+)?) $"
)
_GONE_AFTER = re.compile(
    r"^( \w+){0,3}? (is |are |has |have |was )?"
    r"(gone|away|over|out|stopped|stops|ended|vanish\w*|disappear\w*|ceased|history|no more|"
    r"no longer|any ?more)\b"
)
_KNOCK = re.compile(
    r"\b(tap|knock|wiggl|shak|push|bend|flex|hit|slap|bang|mov)\w*\b.*\b(nothing|no|not|n't|"
    r"any ?more"
    r"|leaves it|cold)\b|\bno\w*\b.*\b(tap|knock|wiggl|shak|flex|slap)\w*",
)
_GOOD = re.compile(
    r"\b(works?|working|worked|runs?|running|ran|plays?|playing|fine|ok|okay|steady|steadily|"
    r"stable|"
    r"bright|quiet|quietly|silent|calm|holds?|held|well|normal|normally|good|cured?|cures|behaves?|"
    r"happy|satisfied|up|starts?|started|(comes|came) (on|up|in|to life)|wakes?|lights?|lit|"
    r"picture|sound|even|clear|"
    r"perfect|perfectly|there|present|right|correct|solid|reliabl\w+|sound|as it should|"
    r"does what it should|days? on|hours? on|on for|first time|each time|every time|at once|"
    r"immediately|alive|back to normal|boots?|clean|no (call|word) since|where it belongs)\b",
)
_BAD = re.compile(
    r"\b(dead|dark|black|off|same(?! (type|value|part|rating|make|kind|size))|unchanged|blows?|"
    r"blew|blown|pops?|popped|bangs?|banged|smokes?|"
    r"fails?|failed|worse|drops?|dropped|dies|died|quits?|gives? up|stops?|hangs?|hung|freezes?|"
    r"refuses?|stuck|sleeps?|out again|loops?|hot|burns?|burnt|shorted|low|"
    r"(stays|remains|sits|stands) (on|in|at) (red|amber|orange|standby|stand-by|the logo|blue)|"
    r"back to (red|standby|sleep)|goes back|comes back (off|down)|gained|came back|comes back|"
    r"returned|returns)\b",
)
_IN_LINE = re.compile(
    r"\b(lamp|bulb)( in (series|line))? ((stays|goes|is|remains|dims|flashes|glows)[^,;.]*|dark|"
    r"bright)"
)
"""The lamp in line is no lamp of the set."""
_NOTHING = re.compile(r"\b(nothing|none|nil)\b(?! (wrong|found|suspicious|bad|left|more to))")
_NOTHING_BAD = re.compile(r"\bnothing (wrong|suspicious|bad|more to)\b")
_STILL = re.compile(rf"\b(still|again|goes on|carries on|as before|remains)\b.*?\b{_TROUBLE}\b")


def by_words(text: str) -> bool | None:
    """True where the words of it speak for a cure, False against one, None where they do neither
    or where both stand side by side."""
    words = " ".join(text.lower().replace("’", "'").split())
    if _HEDGE.search(words):
        return None
    words = _IN_LINE.sub(" ", words)
    clauses = [
        one for one in re.split(r"[,;:.](?!\d)| and (?=\w)|\bthen\b| - ", words) if one.strip()
    ]
    says = [sign for sign in map(_sign, clauses) if sign]
    if not says:
        return None
    if says[-1] < 0:
        return False
    return True if all(sign > 0 for sign in says) else None


def _sign(clause: str) -> int:
    """1 where a clause speaks for a cure, -1 against one, 0 where it says neither."""
    clause = f" {clause.strip()} "
    if _KNOCK.search(clause):
        return 1
    found: list[int] = []
    rest = clause
    for match in re.finditer(rf"\b{_TROUBLE}\b", clause):
        before, after = clause[: match.start()], clause[match.end() :]
        gone = bool(_GONE_BEFORE.search(before)) or bool(_GONE_AFTER.match(after))
        once = re.match(r" (once|briefly|short)", after) is not None
        found += [] if once else [1 if gone else -1]
        rest = rest.replace(match[0], " ")
    if any(sign < 0 for sign in found):
        return -1
    if _NOTHING.search(rest):
        return -1
    if found or _NOTHING_BAD.search(rest):
        return 1
    bad = [-1 if not negated(rest, m.start()) else 1 for m in _BAD.finditer(rest)]
    good = [1 if not negated(rest, m.start()) else -1 for m in _GOOD.finditer(_BAD.sub(" ", rest))]
    if any(sign < 0 for sign in (*bad, *good)):
        return -1
    return 1 if bad or good else 0
