"""What came of a deed, in words: it helped, it did not, or that is not understood.

Three outcomes and never two. A word right before it turns it round (“did not help”, “no better”);
what says both, or neither, is not understood and counts for nothing.
"""

from __future__ import annotations

import re
from dataclasses import replace

from loose_rail.app.job_file.lamp_in_line import (
    BRIGHT,
    DARK,
    FLASH_DARK,
    GLOWS,
    PULSES,
    lamp_pattern,
)
from loose_rail.app.job_file.log.outcome_clauses import Clause, clause_of
from loose_rail.app.job_file.log.outcome_lexicon import joined
from loose_rail.kernel.negation import negated
from loose_rail.kernel.short_hand import spelled_out

_LINE_LAMP = re.compile(
    r"\b(?P<lamp>(?:series|test|limiter|line|in-?line|safety) (?:lamp|bulb)|"
    r"(?:lamp|bulb) (?:in|on) (?:the )?(?:series|line)|bulb|limiter|lamp(?= dark$)|"
    r"lamp(?= (?:\w+ ){0,2}(?:full|bright)\b)|"
    r"lamp(?= (?:went|goes|is|was|went back) (?:out|dark) (?:again )?after (?:\w+ ){0,3}flash\b)|"
    r"lamp(?= (?:only )?(?:flash|blink|light|glow|dark|stays dark).*\d ?v\b)|"
    r"(?<=behind the )lamp)"
    r"(?:(?:\s*[:=]\s*|\s+|, ?(?=(?:and|then|goes out|stays|is|out|off|dark)\b))"
    r"(?:and|then|is|goes|went|stays|stayed|remains|flash\w*|blinks?|lights?|glows?|dims?|only|up|"
    r"lit|half(?= bright)|burns?|shortly|short(?= then)|like|torch|"
    r"as|ever|once|briefly|at|first|on|inrush|out|off|dark|dim|dimly|bright|full|"
    r"fully|glow|pulses?|pulsing|after|"
    r"the|an?|its|one|short|brief|again|so|completely|for|moment|just|faintly|weakly)\b)*"
)
"""The lamp in line with the mains and what it does, and none of the set."""
_NO_LONGER_BRIGHT = re.compile(
    r"^[^,;]*\b(lamp|bulb|limiter)( (is|does|do|was|stays?|glows?|burns?))* "
    r"(no longer|not|never|no more)( (stay|glow|burn|light|lit|go))* (full|bright)( any ?more)?$"
)
_WITH_AND_WITHOUT = re.compile(
    r"^with (?:the )?(?:[\w-]+ )?(?:lamp|bulb|limiter)(?P<first>.*?)[,;]? ?(?:and |but )?"
    r"without (?:it |the lamp |the bulb )?(?P<rest>.+)$"
)
"""“With the lamp it goes, without it blows”: what it does without is what came of it."""
_TOO = re.compile(r"^(also|too|as well|likewise|the same)$")
_DOT = re.compile(r"\d ?v,? (and )?(the |a )?(red|green|blue|white) (dot|light|lamp|led)")
"""Volts and an indicator that is lit: the standby of a dead set stands."""


def outcome(text: str) -> bool | None:
    """True where it plainly helped, False where it plainly did not, None where neither is plain.

    A lamp in line that goes dark speaks for it where nothing else is said, a bright one against it.
    """
    words = _plain(text)
    if _NO_LONGER_BRIGHT.search(words):
        return True
    if both := _WITH_AND_WITHOUT.search(words):
        return _of(both["first" if _TOO.search(both["rest"].strip(" .,")) else "rest"].strip(" ,"))
    lamps = list(_LINE_LAMP.finditer(words))
    if not lamps:
        return True if _DOT.search(words) and _of(words) is None else _of(words)
    rest = " ".join(_LINE_LAMP.sub(" , ", words).split()).strip(" ,;.")
    said = _of(rest) if re.search(r"\w", rest) else None
    patterns = [found for lamp in lamps if (found := lamp_pattern(lamp[0]))]
    if patterns and patterns[-1] == BRIGHT:
        return None if said else False
    if patterns and patterns[-1] in (GLOWS, PULSES) and said and not re.search(r"\w\w{2}", rest):
        return None  # “glows and stays so”
    went_dark = bool(patterns) and patterns[-1] in (DARK, FLASH_DARK)
    if lamps[0]["lamp"] == "lamp" and "flash" not in words and said is not False:
        return None  # dark: the one in line, or one of the set
    return True if said is None and went_dark and "?" not in rest else said


def _of(words: str) -> bool | None:
    return _of_clauses(_clauses(words))


_SHORT = (
    (re.compile(r", (?=(apart from|except|other than|save for) )"), " "),
    (re.compile(r"\bcan't\b|\bcannot\b"), "can not"),
    (re.compile(r"\bwon't\b"), "will not"),
    (re.compile(r"n't\b"), " not"),
    (re.compile(r"\bn\.? ?o\.? ?k\b"), "nope"),
    (re.compile(r"\bo\.k\b\.?"), "ok"),
    (
        re.compile(
            r"\b(however|no matter how)( (hard|often|long|much|many times))? (i|we|you|they) \w+"
            r"( it)?"
        ),
        "",
    ),
    (re.compile(r"'s\b"), " is"),
    (re.compile(r"'(ve|ll|d|re|m)\b"), ""),
    (re.compile(r"\bboth (\w+) and (\w+)"), r"\1 \2"),
    (re.compile(r"\bneither (\w+) nor (\w+) (?=(do|does|did|will|is|was)\b)"), "not "),
    (
        re.compile(
            r"\b(until|till) (i|we|you|he|she|they) (switch|turn|stopp|took|pull|unplug|collect|"
            r"gave|pack|fetch)\w* it( off)?\b"
        ),
        "",
    ),
)
_SPLIT = re.compile(
    r"(?P<stop>\s*(?:[;:!](?!\d)|[,.](?!\d))\s*|\s+[-–]\s+|\s+and\s+)"
    r"|(?P<but>\b(?:but|though|although|however|yet)\b)"
    r"|(?P<then>\b(?:then|until|till|afterwards|on the (?:second|third|fourth) (?=\w+))\b)"
)


_WATCHED_UNTIL = re.compile(
    r"\b(evening|morning|noon|night|midnight|closing|lunch|tea|dinner|supper|bed ?time|now|today|"
    r"yesterday|tomorrow|\w+day|\d+|end|collected|fetched|picked up|sold|stopped|left|went home)\b"
)
"""“Ran until closing time”: no longer was it watched."""


_WAS = re.compile(
    r"\b(?:(?:now|at|is) )*(?P<now>\d+(?:\.\d+)?)(?P<v> ?v)?,? (?:it )?was "
    r"(?P<was>\d+(?:\.\d+)?)(?P<wasv> ?v\b)?(?! ?(?:m?a|ma|m?v|ohms?)\b)"
)
_OF_A_RAIL = re.compile(r"\b(output|rail|volts?|voltage)\b(?! ripple)")


def _compared(now: re.Match[str]) -> str:
    """Volts beside those before: no other, more, or less, which is not plain."""
    is_now, was = float(now["now"]), float(now["was"])
    if is_now == was:
        return "unchanged"
    volts = now["v"] or now["wasv"] or _OF_A_RAIL.search(now.string[: now.start()])
    return "restored" if is_now > was and volts else "maybe"


_BY_ITS_WATTS = re.compile(
    r"\b(?:on|behind|through|with) (?:an?|the|my) (?:\d+ ?w(?:atts?)? )(?:lamp|bulb)\b:?,?"
    r"(?: it(?= (?:glows|flash|stays|lights|is|goes|burns|dims)))?"
)
"""“On a 60 W lamp: flash, dark”: the one in line, whatever else lights."""


def _plain(text: str) -> str:
    words = " ".join(spelled_out(text).lower().replace("’", "'").split())
    words = _BY_ITS_WATTS.sub("bulb", words)
    words = _WAS.sub(_compared, words)
    for pattern, instead in _SHORT:
        words = pattern.sub(instead, words)
    return words


def _clauses(words: str) -> list[tuple[Clause, bool]]:
    """The clauses of a result in order, each with whether a “but” opens it."""
    found: list[tuple[Clause, bool]] = []
    later = but = until = False
    at = 0
    whole = joined(words)
    stops = (
        match
        for match in _SPLIT.finditer(words)
        if not any(match.start() < end and match.end() > start for start, end in whole)
    )
    for match in (*stops, None):
        piece = words[at : match.start() if match else None].strip()
        if piece:
            told = clause_of(piece, later)
            lost = until and told.sign > 0  # “until it warmed up”: how it ended is not told
            ends = until and told.sign >= 0 and not _WATCHED_UNTIL.search(piece)
            if ends and found and found[-1][0].sign > 0:
                told = replace(told, sign=-1, hedged=False)  # “worked until I closed it”
            found.append((replace(told, sign=0) if lost and told.sign > 0 else told, but))
            later = but = until = False
        if match is not None:
            at = match.end()
            later = later or match["then"] is not None
            until = until or match[0] in ("until", "till")
            but = but or match["but"] is not None
    return found


def _of_clauses(clauses: list[tuple[Clause, bool]]) -> bool | None:
    """How it ended decides; what is hedged, half, or taken back is not plain."""
    if not clauses:
        return None
    told = [one for one, _ in clauses]
    if any(but and not one.sign for one, but in clauses):
        return None
    plain = [one for one in told if one.sign]
    hedged = any(one.hedged for one in told)
    turned = any(but for _, but in clauses) and len({one.sign for one in plain}) > 1
    if not plain or turned:
        return None
    last = told[-1]
    if last.later and last.back and len(told) > 1 and told[-2].rid:
        return False  # “gone for ten minutes, then back”
    if last.later and not last.sign:
        return None  # something came after it that is not understood
    if plain[0].sign > 0 > min(one.sign for one in plain) and plain[-1].sign > 0:
        return None if plain[-1].later else False  # it comes, goes and comes
    if plain[-1].sign < 0:
        return None if (hedged and not plain[-1].later) or _half(plain) else False
    return True if not hedged and all(one.sign > 0 for one in plain) else None


def _half(plain: list[Clause]) -> bool:
    """“12 V good, 24 V missing”: two things by name, one well and one not."""
    return len({one.sign for one in plain if one.of_thing}) > 1 and not any(
        one.later for one in plain
    )


_GOOD = re.compile(
    r"\b(good|ok|okay|fine|sound|healthy|pass(es|ed)?|all right|as new|reads right|in order)\b",
    re.I,
)
_BAD = re.compile(
    r"\b(bad|short(ed|s)?|open|leaky|leaks|dried|high esr|fail(s|ed)?|faulty|dead|blown|broken|"
    r"dark|cracked|burnt|weak|worn)\b|"
    r"\b(?:a|one|just a|nothing but a)(?: piece of)? wire\b|"
    r"\b(all|both) (three |its )?(legs|pins|ends) (together|joined|as one)\b|"
    r"\b(drain|gate|source|collector|base|emitter|anode|cathode) (and|to) \w+ (are|is) "
    r"(one|joined|together)\b",
    re.IGNORECASE,
)


def measured(text: str) -> bool | None:
    """Whether a part measured good (True) or bad (False) by itself; None where it is not plain."""
    words = text.lower().replace("’", "'")
    found: set[bool] = set()
    for pattern, says in ((_GOOD, True), (_BAD, False)):
        for match in pattern.finditer(words):
            found.add(says is not negated(words, match.start()))
    return found.pop() if len(found) == 1 else None
