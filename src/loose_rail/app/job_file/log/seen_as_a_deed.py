"""What is told as a sight and was done: a supply that runs with its cable off, good lamps held to a
plug."""

from __future__ import annotations

import re

from loose_rail.app.job_file.log.entries import Did, Seen
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.app.job_file.log.unplugging import GOOD_ONE, lamps_substituted, unplug

_RUNS_BARE = re.compile(
    r"^(?!.*\b(?:not|never|no)\b|.*n't\b)"
    r"(?=.*\b(?:runs?|starts?|comes? (?:up|on)|works?|rails? (?:are )?there)\b)"
    r".*(?:\buncabled\b|"
    r"\b(?:with|without|and) (?:the |its |any )?(?:main )?(?:cables?|main board|ribbon)"
    r"(?: is)?(?: off| out| pulled| unplugged| away|\b)|"
    r"\b(?:main )?cable (?:is )?(?:off|out|pulled|unplugged)\b)",
    re.IGNORECASE,
)
_CABLE_ON = re.compile(
    r"\bcables? (?:is |are )?(?:on|in|plugged)\b|"
    r"\bwith (?:the )?(?:main )?cable\b(?! (?:off|out|pulled|unplugged|away))",
    re.IGNORECASE,
)
_BARE_WORDS = re.compile(
    r"\b(?:when |while |with |without |and )?(?:the |its |any )?(?:(?:main )?cables?|main board|"
    r"ribbon)(?: is)?(?: off| out| pulled| unplugged| away)?(?!\w)|\b(?:when |while )?uncabled\b",
    re.IGNORECASE,
)
_LIT = re.compile(
    r"\b(?:stays? dark|remains? dark|dark|not light|nothing|lights?(?: up)?|lit|glows?)\b",
    re.IGNORECASE,
)


def seen_as_a_deed(teller: Teller, entry: Seen) -> bool:
    """A sight that tells what was unplugged or held in place, and what came of it. Whether it was
    such a one."""
    if GOOD_ONE.search(entry.text):
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
