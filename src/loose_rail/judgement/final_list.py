"""The last look before a set leaves: points with what is measured at them, from
data/final_list.json with their source; local rules and licensed practice come first."""

from __future__ import annotations

from functools import cache

import msgspec

from loose_rail.kernel.tables import shipped_table


class FinalItem(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A point of the list. One with a `unit` wants a figure between `least` and `most`, in SI
    units (`least_earthed` where a protective conductor was measured); `none` is what it means that
    there is none. One that is `counted` follows from the ladder of the strip down;
    `on_mains` is for sets with the mains inside, `returned` for one that came back. Where there are
    `answers`, one of them is given. A point of
    `safety` is asked of every set that leaves, others of those that are repaired."""

    key: str
    words: str
    safety: bool = False
    counted: bool = False
    on_mains: bool = False
    returned: bool = False
    answers: tuple[str, ...] = ()
    unit: str = ""
    least: float = 0.0
    least_earthed: float = 0.0
    most: float = float("inf")
    none: str = ""
    hint: str = ""
    caution: str = ""


class _Table(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    source: str
    items: tuple[FinalItem, ...]


@cache
def final_items() -> tuple[FinalItem, ...]:
    """Every point in order."""
    return shipped_table("judgement", "final_list", _Table).items
