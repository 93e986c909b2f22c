"""What is told as a sight and was done: a supply that runs with its cable off, good lamps held to a
plug; and what is said of a set that says nothing of its fault."""

from __future__ import annotations

import re

from loose_rail.app.job_file.log.entries import Did, Seen
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.app.job_file.log.unplugging import lamps_substituted, unplug
from loose_rail.diagnosis.evidence.customer_words import HARMLESS
from loose_rail.kernel.negation import negated

_RUNS_BARE = re.compile(
    r"^(?!.*\b(?:not|never|no)\b|.*n't\b)(?=.*\b(?:runs?|starts?|comes? "
    r"(?:up|on)|works?|rails? (?:are "
    r")?there)\b).*(?:\buncabled\b|\b(?:with|without|and) (?:the |its |any )?(?:main "
    r")?(?:cables?|main "
    r"board|ribbon)(?: is)?(?: off| out| pulled| unplugged| away|\b)|\b(?:main )?cable "
    r"(?:is )?(?:off|"
    r"out|pulled|unplugged)\b)",
    re.IGNORECASE,
)
_CABLE_ON = re.compile(
    r"\bcables? (?:is |are )?(?:on|in|plugged)\b|\bwith (?:the )?(?:main )?cable\b(?! "
    r"(?:off|out|pulled|unplugged|away))",
    re.IGNORECASE,
)
_BARE_WORDS = re.compile(
    r"\b(?:when |while |with |without |and )?(?:the |its |any )?(?:(?:main )?cables?|main board|"
    r"ribbon)(?: is)?(?: off| out| pulled| unplugged| away)?(?!\w)|\b(?:when |while )?uncabled\b",
    re.IGNORECASE,
)
_GOOD_LAMPS = re.compile(
    r"\b(?:known[- ]good|good|another|spare|test|new|other) (?:\w+ )?(?:tube|lamp|strip|bar|string|"
    r"backlight)s?\b[^,;]*\b(?:held|connected|plugged|hung|put|on|at|near|in)\b",
    re.IGNORECASE,
)
_LIT = re.compile(
    r"\b(?:stays? dark|remains? dark|dark|not light|nothing|lights?(?: up)?|lit|glows?)\b",
    re.IGNORECASE,
)


def seen_as_a_deed(teller: Teller, entry: Seen) -> bool:
    """A sight that tells what was unplugged or held in place, and what came of it. Whether it was
    such a one."""
    if _GOOD_LAMPS.search(entry.text):
        lit = list(_LIT.finditer(entry.text))
        result = entry.text[lit[-1].start() :] if lit else ""
        return bool(result) and lamps_substituted(
            teller, Did(entry.number, "loaded", entry.text[: lit[-1].start()], result)
        )
    if _RUNS_BARE.search(entry.text) and not _CABLE_ON.search(entry.text):
        came = _BARE_WORDS.sub(" ", entry.text).strip(" ,.")
        unplug(teller, Did(entry.number, "unplugged", "main cable", came))
        return True
    return False


_SAYS_NOTHING = (
    (
        re.compile(
            r"\b(?:has|have|with|comes with|had) (?:no|never had an?|got no) "
            r"(?:indicator|(?:standby |"
            r"front |little )?(?:light|lamp|led))s?\b|\bno (?:indicator|standby "
            r"(?:light|lamp|led)) "
            r"(?:on|in|at) (?:this|the|that) (?:set|model|one|tv|monitor)\b",
            re.IGNORECASE,
        ),
        "no indicator on this set: nothing is read from it",
    ),
    (
        re.compile(
            r"\b(?:outlet|(?:wall )?socket|plug point|mains)\b[^.;]{0,24}\b(?:works?|is "
            r"(?:fine|good|ok|"
            r"okay|live|all right|sound)|has (?:mains|power|230 ?v|120 ?v))\b|\b(?:tried|works on) "
            r"another (?:outlet|socket)\b",
            re.IGNORECASE,
        ),
        "the outlet is good: it is in the set",
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
