"""Whether words are negated: “not shorted”, “isn't visibly domed”, “never came back”.

A negated word counts for nothing: what its opposite would be is another statement. Only a negation
right before the word counts, with small words between: “no picture but sound” leaves the sound.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

_NEGATION = (
    r"(?:not|no|never|nothing|none|neither|nor|without|hardly|barely|cannot|\w+n['’]t|"
    r"(?:do|does|did|is|are|was|were|has|have|had|wo|would|could|should|ca|must|need|ai)nt)"
)
"""“Paint”, “current” and “front” end like a short “not” and are none."""
_SMALL = (
    r"(?:a|an|the|any|at|all|it|its|been|be|being|is|was|were|are|has|have|had|to|yet|really|very|"
    r"too|even|seen|look|looks|looking|seem|seems|appear|appears|measure|measures|measured|read|reads|"
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


def either(text: str, yes: Iterable[str], no: Iterable[str]) -> bool | None:
    """True or False where the text plainly says one of the two; None where it says neither, both,
    or something negated.

    Long phrases are looked for first and taken out, so that “not fixed”, which holds its own
    negation, is never read as “fixed”, and “never comes back” never as “back”.
    """
    left = " ".join(text.lower().replace("’", "'").split())
    meaning = {**dict.fromkeys(no, False), **dict.fromkeys(yes, True)}
    found: set[bool] = set()
    for phrase in sorted(meaning, key=len, reverse=True):
        pattern = re.compile(rf"(?<!\w){re.escape(phrase)}(?!\w)")
        while match := pattern.search(left):
            if negated(left, match.start()):
                return None
            found.add(meaning[phrase])
            left = f"{left[: match.start()]},{left[match.end() :]}"
    return found.pop() if len(found) == 1 else None
