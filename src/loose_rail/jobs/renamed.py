"""A job's entries in the names that its board has now.

A part of an own board is called by its job until its designator is bound; what was written before
that speaks of the same part. Names hold none of the signs that part keys, so that a key is renamed
piece by piece; what people wrote in their own words stays.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from typing import Any

import msgspec

from loose_rail.jobs import events as ev

_SIGNS = re.compile(r"([.,:;@/|+])")
_OWN_WORDS = ("words", "text", "reason", "caption", "complaint", "set_name", "title", "typed")


def renamed_records(records: Iterable[ev.Record], names: Mapping[str, str]) -> list[ev.Record]:
    """The records with every earlier name of a part replaced by its present one."""
    return [_renamed(record, names) for record in records]


def renamed_key(key: str, names: Mapping[str, str]) -> str:
    """A key of parts and signs with every earlier name replaced."""
    return "".join(names.get(piece, piece) for piece in _SIGNS.split(key))


def _renamed(record: ev.Record, names: Mapping[str, str]) -> ev.Record:
    plain = msgspec.to_builtins(record.event)
    changed = {
        key: value if key in _OWN_WORDS else _walk(value, names) for key, value in plain.items()
    }
    if changed == plain:
        return record
    return msgspec.structs.replace(record, event=msgspec.convert(changed, type=ev.AnyEvent))


def _walk(item: Any, names: Mapping[str, str]) -> Any:
    if isinstance(item, str):
        return renamed_key(item, names)
    if isinstance(item, list):
        return [_walk(inner, names) for inner in item]
    if isinstance(item, dict):
        return {key: _walk(value, names) for key, value in item.items()}
    return item
