"""What came of a deed, in words: it helped, it did not, or that is not understood.

Three outcomes and never two. A word right before it turns it round (“did not help”, “no better”);
what says both, or neither, is not understood and counts for nothing.
"""

from __future__ import annotations

import re

from loose_rail.kernel.negation import negated

_NO = re.compile(
    "|".join(
        (
            r"no (change|difference|better|effect|help|luck)|chang(es|ed) nothing|in vain",
            r"nothing (changed|happens|new|else)|\bsame\b|unchanged|as before|not cured",
            r"\bstill (dead|ticks|pumps|dark|off|the|there|0|no|at|sags|clicks|black|blinks|not)",
            r"\bstill (shorted|short)|won't (start|come)|never (starts|comes)|\bworse\b",
            r"(did|does|do)(n't| not) (help|work|start|come|change|fix|cure|do)|fails again",
            r"not (fixed|better|cured|any better)|keeps (on )?(ticking|clicking|blinking)",
            r"blew again|goes again|stays (dead|dark|off|black)",
        )
    ),
    re.IGNORECASE,
)
_YES = re.compile(
    "|".join(
        (
            r"cure[ds]|cures it|helped|helps\b|fixe?[ds]\b|works|worked|runs\b|solved|boots",
            r"(?<!re)starts?\b|started|(comes|came) (on|up|back)|\bback\b|recover(s|ed)",
            r"is (fine|well|alright|all right)|goes up|stays\b(?! (dead|dark|off|black))|steady",
            r"lights?\b|good picture|picture is|all (well|works|good|fine)|no fault|normal",
            r"ran (all|for)|at once|rails? (is|are) there|v again|holds\b|\bfine\b",
            r"no more (ticks|clicks|blinks)",
        )
    ),
    re.IGNORECASE,
)
_BUT = re.compile(r"\bbut\b|\bthough\b|\bhowever\b|, (dark|no |then )", re.IGNORECASE)


def outcome(text: str) -> bool | None:
    """True where it plainly helped, False where it plainly did not, None where neither is plain."""
    words = text.strip().lower().replace("’", "'")
    if not words or _BUT.search(words):
        return None
    no = any(not negated(words, m.start()) for m in _NO.finditer(words))
    rest = _NO.sub(" ", words)
    yes = [m for m in _YES.finditer(rest)]
    plain = any(not negated(rest, m.start()) for m in yes)
    turned = any(negated(rest, m.start()) for m in yes)
    if turned and not plain:
        no, plain = True, False
    if no == plain:
        return None
    return plain


_GOOD = re.compile(
    r"\b(good|ok|okay|fine|sound|healthy|pass(es|ed)?|all right|as new|reads right|in order)\b",
    re.I,
)
_BAD = re.compile(
    r"\b(bad|short(ed|s)?|open|leaky|leaks|dried|high esr|fail(s|ed)?|faulty|dead|blown|broken|"
    r"dark|cracked|burnt|weak|worn)\b",
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
