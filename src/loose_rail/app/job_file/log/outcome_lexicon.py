"""The words of a result with their tags.

What is in no list is unknown, and a clause that rests on unknown words alone says nothing. Whether
the set is well follows from how the tags stand together (outcome_clauses), never from one word.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import cache

from loose_rail.app.job_file.log.outcome_neutral import NEUTRAL
from loose_rail.app.job_file.log.outcome_phrases import PHRASES
from loose_rail.app.job_file.log.outcome_tags import Tag
from loose_rail.app.job_file.log.outcome_words import WORDS

_LONG = r"(second|minute|hour|evening|afternoon|day|night|morning|week|month|year)s?"
_COUNT = (
    r"(an?|one|two|three|four|five|six|seven|eight|nine|ten|twelve|twenty|thirty|forty|half an?|"
    r"a (few|couple of|quarter of an)|several|some|\d+)"
)
_SPAN = rf"{_COUNT} (good |full |whole |solid )?(h|s|min|{_LONG})\b"
_DOUBLED = "bpntgrm"
"""Last letters that a short verb doubles: trip, tripping."""
_GROUP = re.compile(r"(?<!\\)\((?!\?)")


def _verb(stem: str) -> str:
    """A regular verb with its endings: tick, ticks, ticked, ticking; trip, tripping."""
    bare = stem.removesuffix("e")
    again = rf"{stem}{stem[-1]}" if stem[-1] in _DOUBLED else stem
    return rf"({stem}s?|{stem}es|({bare}|{again})(ed|ing))"


def _patterns(table: str) -> Iterator[str]:
    for one in re.split(r"\s+\|\s+", re.sub(r"\\\n\s*", "", table).strip()):
        spelled = _verb(one[:-1]) if one.endswith("~") else one
        for name, meant in (("{span}", _SPAN), ("{count}", _COUNT), ("{long}", _LONG)):
            spelled = spelled.replace(name, meant)
        yield _GROUP.sub("(?:", spelled)


@cache
def _scanner() -> tuple[re.Pattern[str], tuple[Tag, ...]]:
    parts: list[str] = []
    tags: list[Tag] = []
    for tag, table in (*PHRASES, *WORDS, *NEUTRAL):
        for one in _patterns(table):
            parts.append(rf"(?P<t{len(tags)}>(?:{one})(?!\w))")
            tags.append(tag)
    parts.append(r"(?P<rest>[^\W_][\w'./+-]*)")
    return re.compile(rf"(?<!\w)(?:{'|'.join(parts)})"), tuple(tags)


def tagged(clause: str) -> list[tuple[Tag, str]]:
    """The words and turns of phrase of a clause in lower case, in order, with their tags."""
    pattern, tags = _scanner()
    return [
        (
            Tag.UNKNOWN if match.lastgroup == "rest" else tags[int(str(match.lastgroup)[1:])],
            match[0],
        )
        for match in pattern.finditer(clause)
    ]


_JOINS = re.compile(r"\band\b|\bbut\b|, |\buntil\b|\bon the\b")
"""What a turn of phrase has inside where a clause would else end in it: “two clicks and out”."""


@cache
def _joined() -> re.Pattern[str]:
    whole = (table for tag, table in PHRASES if tag is not Tag.THEN)
    found = [one for table in whole for one in _patterns(table) if _JOINS.search(one)]
    return re.compile(rf"(?<!\w)(?:{'|'.join(found)})(?!\w)")


def joined(words: str) -> list[tuple[int, int]]:
    """Where turns of phrase stand that may hold an “and” or a comma, first and last place: no
    clause ends inside one."""
    return [match.span() for match in _joined().finditer(words)]
