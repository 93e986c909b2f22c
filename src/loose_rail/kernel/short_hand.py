"""The short hand of notes, spelled out: “w/o the cap”, “.54”, “O/L”, “main pcb”, “3 hrs”."""

from __future__ import annotations

import re

_SPELLED = (
    (r"\bw/o\b", "without"),
    (r"\bw/(?=\s|\w)\s?", "with "),
    (r"(?<![\w.,])([-−+]?)\.(?=\d)", r"\g<1>0."),
    (r"\bO/L\b", "OL"),
    (r"\bs/c\b", "short"),
    (r"\bo/c\b", "open"),
    (r"\bo/p\b", "output"),
    (r"\bi/p\b", "input"),
    (r"\bu/s\b", "useless"),
    (r"\bb/light\b", "backlight"),
    (r"\bsnd\b", "sound"),
    (r"\bst-?by\b", "standby"),
    (r"\bclrd\b", "cleared"),
    (r"\bcust\.(?=\W|$)", "customer"),
    (r"\bunpl(?:\.|\b)", "unplugged"),
    (r"\bdisch(?:\.|\b)", "discharged"),
    (r"\bn\.g\.(?=\W|$)", "no good"),
    (
        r"\bint(?:ermitt?)?\.(?= (?:start|dead|fault|picture|sound|on|off|shut|trip|no)\b)",
        "intermittent",
    ),
    (r"\bb/l\b", "backlight"),
    (r"(?<=\w) & (?=\w)", " and "),
    (r"\b(?:pcb|brd|bd)\b", "board"),
    (r"\bxfmr\b", "transformer"),
    (r"\b(?:xstr|trans\.)(?=\W|$)", "transistor"),
    (r"\ball conn\b\.?", "all connected"),
    (r"\bconn\b", "connector"),
    (r"\b(?:elco|elko)\b", "electrolytic"),
    (r"\bres\b", "resistor"),
    (r"\bhrs\b", "hours"),
    (r"\bmins\b", "minutes"),
    (r"\bsecs\b", "seconds"),
    (r"\bwks\b", "weeks"),
    (r"\bn[ft]f\b", "no fault found"),
    (r"\bpic\b", "picture"),
    (r"\bpwr\b", "power"),
    (r"\bboth dir(?:ections|s)?\b\.?", "both ways"),
    (r"\bapprox\b\.?", "about"),
)
"""What stands for what; a decimal that begins with its point is none of a sentence's end."""
_PATTERNS = tuple((re.compile(one, re.IGNORECASE), plain) for one, plain in _SPELLED)


def spelled_out(text: str) -> str:
    """The same text with its short hand spelled out."""
    for pattern, plain in _PATTERNS:
        text = pattern.sub(plain, text)
    return text


def short_or_long(words: str) -> str:
    """A pattern for words that were spelled out, as they may stand in the text itself."""
    shorts: dict[str, list[str]] = {}
    for short, plain in _SPELLED:
        shorts.setdefault(plain.strip(), []).append(short)
    every = ("|".join([re.escape(word), *shorts.get(word, [])]) for word in words.split())
    return r"(?:\s+|(?<=[/\s]))".join(f"(?:{one})" for one in every)
