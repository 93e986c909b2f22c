"""The rules of replacement by kind: data/replacement_rules.json, each row with its reason."""

from __future__ import annotations

from functools import cache

import msgspec

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.judgement.replacement.demand import Place
from loose_rail.kernel.tables import shipped_table

UNIT_OF = {
    **{"farads": "F", "ohms": "Ω", "henries": "H", "volts": "V", "volts_ac": "V", "amps": "A"},
    **{"watts": "W", "body_volts": "V", "ohms_on": "Ω", "gate_charge": "C", "recovery": "s"},
    **{"tolerance": "%", "accuracy": "%", "diameter": "mm", "height": "mm", "pitch": "mm"},
    **{"isolation": "V", "reference": "V", "out_volts": "V", "coil_volts": "V", "ctr_low": "%"},
    **{"ctr_high": "%", "string_volts": "V", "amps_hot": "A", "length": "mm", "celsius": "°C"},
    **{"esr": "Ω", "gain": "", "pins": ""},
}


class Row(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """One attribute: how it is compared, with what, what becomes of one that is not given, and why.

    `compare`: at_least, at_most, at_most_times, at_least_limit, window, window_of_place, same,
    same_as, one_of, class, recovery. `missing`: no, note, or empty where nothing is asked. `good`
    is what harms in no place, whatever stood there.
    """

    attribute: str
    compare: str
    code: str
    reason: str
    of: str = "original"
    low: float = 1.0
    high: float = 1.0
    times: float = 1.0
    limit: float = 0.0
    value: float = 0.0
    wanted: str = ""
    words: tuple[str, ...] = ()
    order: tuple[str, ...] = ()
    missing: str = ""
    mains_only: bool = False
    good: str = ""
    tight: dict[str, float] = {}


class KindRules(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The rows of a kind; `like` names another whose rows stand where it has none of its own;
    `unit` is what a bare number means; `safety` that nobody trades it down."""

    title: str
    unit: str
    safety: bool
    rows: tuple[Row, ...]
    like: str = ""


class _Table(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    source: str
    kinds: dict[str, KindRules]


@cache
def _table() -> _Table:
    return shipped_table("judgement", "replacement_rules", _Table)


def rules_name(place: Place) -> str:
    """Which rules go for a place: a film across the mains is an X capacitor, whatever is fitted."""
    part = place.part
    if is_a(part, Trait.ELECTROLYTIC):
        return "electrolytic"
    if part.kind == "film" and "volts_ac" in place.demands:
        return "x_capacitor"
    return part.kind


def rules_of(name: str) -> KindRules:
    """The rules of a kind, with the rows of the one that it is like. Raises KeyError."""
    own = _table().kinds[name]
    if not own.like:
        return own
    taken = {row.attribute for row in own.rows}
    rest = tuple(row for row in rules_of(own.like).rows if row.attribute not in taken)
    return msgspec.structs.replace(own, rows=(*own.rows, *rest))
