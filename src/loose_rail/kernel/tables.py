"""The shipped data tables, each decoded into its own class once and kept.

A table is a JSON file beside the room that reads it; a field that the class does not know, or
lacks, is a fault of the program and stops it at the first use.
"""

from __future__ import annotations

from functools import cache
from importlib import resources
from typing import TypeVar

import msgspec

Table = TypeVar("Table")


def shipped_table(room: str, name: str, as_type: type[Table]) -> Table:
    """The table `data/<name>.json` of a room (`diagnosis`, `boards`). Raises
    msgspec.ValidationError."""
    return msgspec.json.decode(_read(room, name), type=as_type)


@cache
def _read(room: str, name: str) -> bytes:
    return resources.files(f"loose_rail.{room}").joinpath(f"data/{name}.json").read_bytes()
