"""Whether words are negated: “not shorted”, “isn't visibly domed”, “never came back”.

A negated word counts for nothing: what its opposite would be is another statement. Only a negation
right before the word counts, with small words between: “no picture but sound” leaves the sound.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

_NEGATION = r"(?:not|no|never|neither|nor|without|hardly|barely|cannot|\w+n['’]?t)"
_SMALL = (
    r"(?:a|an|the|any|at|all|it|its|been|be|being|is|was|were|are|has|have|had|to|yet|really|very|"
    r"too|seen|look|looks|looking|seem|seems|appear|appears|measure|measures|measured|read|reads|"
    r"come|came|get|gets|got|go|goes|feel|feels|visible|obvious|sign|signs|of|\w+ly)"
)
_BEFORE = re.compile(rf"(?<![\w'’]){_NEGATION}(?:[\s-]+{_SMALL}){{0,3}}[\s-]+$", re.IGNORECASE)


def negated(text: str, start: int) -> bool:
    """Whether what begins at `start` is negated by the words right before it."""
    return _BEFORE.search(text[:start]) is not None


def plain_match(pattern: str, text: str) -> re.Match[str] | None:
    """The first place where a pattern is found and not negated, None where there is none."""
    for match in re.finditer(pattern, text):
        if not negated(text, match.start()):
            return match
    return None


def says(text: str, phrases: Iterable[str]) -> bool:
    """Whether one of these phrases stands in the text as whole words, and is not negated."""
    return any(plain_match(rf"(?<!\w){re.escape(one)}(?!\w)", text) for one in phrases)


def mentions(text: str, phrases: Iterable[str]) -> bool:
    """Whether one of these phrases stands in the text as whole words, negated or not."""
    return any(re.search(rf"(?<!\w){re.escape(one)}(?!\w)", text) for one in phrases)


def either(text: str, yes: Iterable[str], no: Iterable[str]) -> bool | None:
    """True or False where the text plainly says one of the two; None where it says neither, both,
    or something negated. Phrases that hold their own negation (“no change”) are looked for first
    and taken out."""
    lowered = " ".join(text.lower().replace("’", "'").split())
    found_no = False
    for phrase in sorted(no, key=len, reverse=True):
        pattern = rf"(?<!\w){re.escape(phrase)}(?!\w)"
        match = plain_match(pattern, lowered)
        if match is not None:
            found_no = True
            lowered = lowered[: match.start()] + "," + lowered[match.end() :]
        elif re.search(pattern, lowered):
            return None
    found_yes = says(lowered, yes)
    if mentions(lowered, yes) and not found_yes:
        return None
    return found_yes if found_yes != found_no else None
