"""The words that job files use for topologies, points, parts and stages (data/words.json)."""

from __future__ import annotations

import re
from functools import cache

import msgspec

from loose_rail.kernel.tables import shipped_table

Meanings = tuple[tuple[str, str], ...]
"""Patterns and what each means, the first that is found counts."""


class CaseWords(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The words of job files: kinds of board (by the example of each), points, parts (roles, `*`
    for any stage), stages, and the levels that a question may ask for."""

    topologies: Meanings
    default_topology: str
    points: Meanings
    parts: Meanings
    stages: Meanings
    levels: dict[str, str]


@cache
def words() -> CaseWords:
    """The whole table."""
    return shipped_table("app.job_file", "words", CaseWords)


def meant(table: Meanings, text: str) -> str:
    """The first entry of a table whose pattern is found in the text, empty where none is."""
    return next(iter(all_meant(table, text)), "")


def all_meant(table: Meanings, text: str) -> list[str]:
    """Every entry of a table whose pattern is found in the text, in the table's order."""
    lowered = text.lower()
    return [meaning for pattern, meaning in table if re.search(pattern, lowered)]


def plain(text: str) -> str:
    """A label without case, spaces and marks: `5V_SB` and `5vsb` are the same."""
    return re.sub(r"[^a-z0-9.+]", "", text.lower())


_VOLTS = re.compile(r"(?<![\w.])[+]?(\d+(?:[.,]\d+)?) ?v(?:olts?|dc|ac)?\b|\b(\d+)v(\d+)\b", re.I)


def volts_in(text: str) -> float | None:
    """The volts that a label names: `12V`, `+24 V`, `3V3`; None where it names none."""
    found = _VOLTS.search(text)
    if found is None:
        return None
    if found[2]:
        return float(f"{found[2]}.{found[3]}")
    return float(found[1].replace(",", "."))
