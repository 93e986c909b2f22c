"""The words that job files use for topologies, points, parts and stages (data/words.json)."""

from __future__ import annotations

import re
from functools import cache
from importlib import resources
from typing import Any

import msgspec


@cache
def words() -> dict[str, Any]:
    """The whole table."""
    data = resources.files("loose_rail.app.job_file").joinpath("data/words.json").read_bytes()
    decoded: dict[str, Any] = msgspec.json.decode(data)
    return decoded


def meant(table: str, text: str) -> str:
    """The first entry of a table whose pattern is found in the text, empty where none is."""
    lowered = text.lower()
    for pattern, meaning in words()[table]:
        if re.search(pattern, lowered):
            return str(meaning)
    return ""


def all_meant(table: str, text: str) -> list[str]:
    """Every entry of a table whose pattern is found in the text, in the table's order."""
    lowered = text.lower()
    return [str(meaning) for pattern, meaning in words()[table] if re.search(pattern, lowered)]


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
