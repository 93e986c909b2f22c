"""The entries of a told job: plain data, numbered from 1, each with its own kind."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from loose_rail.app.job_file.notes import Notes
from loose_rail.kernel.short_hand import spelled_out

DEEDS = (
    *("unplugged", "replaced", "removed", "lifted", "reset", "forced", "loaded", "heated"),
    *("cooled", "injected", "soaked", "limiter", "tapped"),
)
SAME_DEED = {
    **dict.fromkeys(("swapped", "exchanged", "changed", "renewed", "substituted"), "replaced"),
    **dict.fromkeys(("pulled", "desoldered", "took out", "taken out"), "removed"),
    **dict.fromkeys(("disconnected", "detached"), "unplugged"),
    **dict.fromkeys(("warmed", "warmed up"), "heated"),
    **dict.fromkeys(("chilled", "frozen", "sprayed"), "cooled"),
    **dict.fromkeys(("ran", "left running", "soak tested"), "soaked"),
    **dict.fromkeys(("tried", "used"), "replaced"),
    **dict.fromkeys(("knocked", "flexed", "pressed", "bent", "wiggled", "shaken"), "tapped"),
}
"""Other words for a deed."""
SOLDERED = (
    *("resoldered", "reflowed", "soldered", "re-soldered", "touched up"),
    *("cleaned", "reseated", "re-seated", "tightened", "re-crimped"),
)
"""Deeds that leave the part, and mend its joints or contacts."""
FIELDS = {
    "said": ("said",),
    "seen": ("seen", "at"),
    "state": ("state",),
    "read": ("read", "at", "mode", "note"),
    "did": ("did", "what", "result"),
}


@dataclass(frozen=True, slots=True)
class Said:
    """The customer's words."""

    number: int
    text: str


@dataclass(frozen=True, slots=True)
class Seen:
    """What was seen, and where."""

    number: int
    text: str
    at: str


@dataclass(frozen=True, slots=True)
class Brought:
    """The state the board was brought into, in the technician's words."""

    number: int
    text: str


@dataclass(frozen=True, slots=True)
class Read:
    """What the display showed, where, on which setting, and how it behaved."""

    number: int
    text: str
    at: str
    mode: str
    note: str


@dataclass(frozen=True, slots=True)
class Did:
    """What was done to what, and what came of it."""

    number: int
    deed: str
    what: str
    result: str


_SHORT_HAND = (
    (re.compile(r"(?<![\w.])(\d{1,3})[vV](\d{1,2})(?![\w/])"), r"\1.\2 V"),
    (re.compile(r"(?<![\w.])(\d{1,4})[kK](\d{1,2})(?!\w)"), r"\1.\2 k"),
    (re.compile(r"(?<![\w.])(\d{1,4})R(\d{1,2})(?!\w)"), r"\1.\2 ohm"),
    (re.compile(r"(?<![\w.])(\d+(?:\.\d+)?)R(?!\w)"), r"\1 ohm"),
)
"""What a display showed, in the short hand of prints: 3V31, 4k7, 0R22, 0.3R."""


def _display(text: str) -> str:
    for pattern, plain in _SHORT_HAND:
        text = pattern.sub(plain, text)
    return text


Entry = Said | Seen | Brought | Read | Did


def entries_of(given: object, after: int | None, notes: Notes) -> list[Entry]:
    """The first `after` entries of a log (all where it is None); what is no entry is noted."""
    if given is None:
        return []
    if not isinstance(given, Sequence) or isinstance(given, str):
        notes.leave(given, "a log is a list of entries: said, seen, state, read, did")
        return []
    found: list[Entry] = []
    for number, item in enumerate(given[: len(given) if after is None else after], start=1):
        entry = _entry(number, item, notes)
        if entry is not None:
            found.append(entry)
    return found


def _entry(number: int, item: object, notes: Notes) -> Entry | None:
    if not isinstance(item, Mapping):
        notes.leave(item, "an entry says one of said, seen, state, read, did")
        return None
    kind = next((name for name in FIELDS if isinstance(item.get(name), str)), "")
    if not kind or not str(item[kind]).strip():
        notes.leave(item, "an entry says one of said, seen, state, read, did, in words")
        return None
    unknown = [name for name in item if name not in FIELDS[kind]]
    if unknown:
        notes.leave({name: item[name] for name in unknown}, f"{kind} has no such field")
    text = {name: spelled_out(str(item.get(name) or "").strip()) for name in FIELDS[kind]}
    if kind == "said":
        return Said(number, text["said"])
    if kind == "seen":
        return Seen(number, text["seen"], text["at"])
    if kind == "state":
        return Brought(number, text["state"])
    if kind == "read":
        return Read(number, _display(text["read"]), text["at"], text["mode"], text["note"])
    word = text["did"].lower()
    deed = SAME_DEED.get(word, word)
    if word in SOLDERED:
        deed, text["what"] = "replaced", f"solder joint of {text['what']}"
    if deed not in DEEDS:
        notes.leave(item, f"known deeds are {', '.join(DEEDS)}")
        return None
    return Did(number, deed, text["what"], _display(text["result"]))
