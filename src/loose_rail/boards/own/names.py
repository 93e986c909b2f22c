"""What a part is called by the job it does, and every name of a profile replaced by another.

A board of the technician's own has no designators until they are bound: “12 V reservoir”, “standby
switch”. Names hold none of the signs that part keys.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping
from typing import Any

import msgspec

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a, kind_words
from loose_rail.boards.profile import Board, Component

_NOT_IN_NAMES = re.compile(r"[.,:;@/|]")
_DECIMAL = re.compile(r"(\d+)\.(\d+) ?V\b")
_TWICE = re.compile(r"\b(\w[\w ]*?) \1\b", re.IGNORECASE)


def plain_names(board: Board) -> dict[str, str]:
    """What each part is called by the job it does, unique; boards behind connectors keep theirs.

    Where several parts do the same job their section stands before it, then a number behind it.
    """
    duties = {part.ref: part.duty or kind_words(part.kind) for part in board.components}
    pattern = _any_of(duties)
    named = {
        part.ref: _as_name(part, pattern.sub(lambda m: duties[m[0]], duties[part.ref]))
        for part in board.components
        if part.kind != "load"
    }
    titles = {section.id: _small(section.title) for section in board.sections}
    count = Counter(named.values())
    named = {
        ref: _as_name(board.component(ref), f"{titles[board.component(ref).section]} {name}")
        if count[name] > 1
        else name
        for ref, name in named.items()
    }
    count, seen = Counter(named.values()), Counter[str]()
    for ref, name in named.items():
        if count[name] > 1:
            seen[name] += 1
            named[ref] = f"{name} {seen[name]}"
    return named


def _small(title: str) -> str:
    """A title inside a sentence: LED driver stays, Main rail becomes main rail."""
    return title if title[:2].isupper() else title[:1].lower() + title[1:]


def _as_name(part: Component, duty: str) -> str:
    """A duty that can stand as a part's name in keys and on the map."""
    name = _NOT_IN_NAMES.sub(" ", _DECIMAL.sub(r"\1V\2", duty))
    if is_a(part, Trait.CONNECTOR) and name.startswith("to "):
        name = f"plug {name}"
    if name.split()[0] in ("discharges", "bleeds"):
        name = f"{kind_words(part.kind)} that {name}"
    return _TWICE.sub(r"\1", " ".join(name.split()))


def _any_of(refs: Mapping[str, str]) -> re.Pattern[str]:
    longest = sorted(refs, key=len, reverse=True)
    return re.compile(rf"(?<![\w-])(?:{'|'.join(map(re.escape, longest))})(?!\w)")


def renamed(board: Board, names: Mapping[str, str]) -> Board:
    """Every designator in the profile replaced: where it stands alone and inside sentences. A part
    that is not named keeps its own, also where another's stands inside it."""
    names = {part.ref: part.ref for part in board.components} | dict(names)
    pattern = _any_of(names)

    def walk(item: Any) -> Any:
        if isinstance(item, str):
            if item in names:
                return names[item]
            text = pattern.sub(lambda m: names[m[0]], item)
            return _TWICE.sub(r"\1", text) if text != item else item
        if isinstance(item, list):
            return [walk(inner) for inner in item]
        if isinstance(item, dict):
            return {key: value if key in _KEPT else walk(value) for key, value in item.items()}
        return item

    return msgspec.convert(walk(msgspec.to_builtins(board)), type=Board)


def named_by_duty(board: Board, names: Mapping[str, str]) -> Board:
    """The same where the names say the duties: they are not said twice."""
    own = renamed(board, names)
    parts = [
        part if part.kind == "load" else msgspec.structs.replace(part, duty="")
        for part in own.components
    ]
    return msgspec.structs.replace(own, components=parts)


_KEPT = ("pins", "id", "schema", "topology", "kind", "mode", "side", "observable", "name", "net")
"""Fields that hold no designator, or pins and nets, which keep the example's own names inside."""


def at_a_part(board: Board, net: str) -> str:
    """Where a net without a typed pin is touched: at a capacitor on it, or not at all."""
    for part in board.components:
        if is_a(part, Trait.ELECTROLYTIC) and part.pins["plus"] == net:
            return f"{part.ref} +"
    for part in board.components:
        if is_a(part, Trait.ELECTROLYTIC) and part.pins["minus"] == net:
            return f"{part.ref} − (striped side)"
    return ""
