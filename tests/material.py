"""How much of their material the costly tests take.

Under `bin/test` they go through a part of the boards and cases that has every kind of stage; with
LOOSE_RAIL_WHOLE=1 through all of them, which takes half as long again.
"""

from __future__ import annotations

import os

from loose_rail.boards.load import shipped_ids

WHOLE = os.environ.get("LOOSE_RAIL_WHOLE") == "1"
PART = ("PB-1905-2", "PB-2211-1", "PB-3705-6", "PB-4310-2", "PB-6530-2")
"""Tubes, an adapter, strings of LEDs behind a relay, two plain flybacks, and a boost with a half
bridge: tests/boards/test_topologies holds that no kind of stage is missing."""


def some_boards() -> tuple[str, ...]:
    """The boards that a costly test goes through."""
    return tuple(shipped_ids()) if WHOLE else PART


def some(part: int, whole: int) -> int:
    """How many examples a costly test takes."""
    return whole if WHOLE else part
