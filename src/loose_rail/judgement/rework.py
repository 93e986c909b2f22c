"""Rework by how a part is mounted: its steps in order, temperatures, cautions, ways to unsolder.

All of it is in data/rework.json with its reason, for a shop to judge.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib import resources

import msgspec

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Component
from loose_rail.judgement.limits import limit


class Mounting(StrEnum):
    """How a part sits on the board."""

    LEADED = "leaded"
    SMD = "smd"
    HEAT_SINK = "heat_sink"
    LARGE_PAD = "large_pad"
    HEAVY = "heavy"
    CONNECTOR = "connector"
    STRIP = "strip"
    BOARD = "board"


class Action(StrEnum):
    """What is done with a part."""

    REPLACE = "replace"
    REFLOW = "reflow"
    TIGHTEN = "tighten"


OPEN, MARK, REMOVE = "open", "mark", "remove"
"""The first step, before which nothing is touched, the one that asks for a photograph, and the one
that asks for a method."""
OF_KIND = {
    "mosfet_n": Mounting.HEAT_SINK,
    "igbt": Mounting.HEAT_SINK,
    "bridge": Mounting.HEAT_SINK,
    "mosfet_dual": Mounting.LARGE_PAD,
    "mosfet_p": Mounting.SMD,
    "switcher": Mounting.LARGE_PAD,
    "ceramic": Mounting.SMD,
    "shunt_reference": Mounting.SMD,
    "npn": Mounting.SMD,
    "pnp": Mounting.SMD,
    "resistor": Mounting.SMD,
    "controller": Mounting.SMD,
    "regulator": Mounting.LARGE_PAD,
    "tvs": Mounting.LARGE_PAD,
    "transformer": Mounting.HEAVY,
    "common_mode_choke": Mounting.HEAVY,
    "inductor": Mounting.HEAVY,
    "relay": Mounting.HEAVY,
}
"""Where a profile does not say; what is seen counts: on the page another one can be turned to [E].
"""


@dataclass(frozen=True, slots=True)
class ReworkStep:
    """A step by its key in the log."""

    key: str
    text: str
    caution: str = ""


class _Mount(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    words: str
    iron_celsius: float
    methods: list[str]
    reason: str
    source: str


class Method(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A way to get a part off: what it is called, and how it is done."""

    words: str
    step: str


class _Action(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    words: str
    title: str
    done: str
    on: list[Mounting]
    modes: list[str]
    reason: str


class _Step(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    key: str
    on: list[Mounting]
    text: str
    caution: str = ""
    plain: str = ""
    actions: list[Action] = msgspec.field(default_factory=lambda: [Action.REPLACE])


class _Table(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    mountings: dict[Mounting, _Mount]
    methods: dict[str, Method]
    actions: dict[Action, _Action]
    steps: list[_Step]


@cache
def _table() -> _Table:
    data = resources.files("loose_rail.judgement").joinpath("data/rework.json").read_bytes()
    return msgspec.json.decode(data, type=_Table)


def mounting_of(part: Component) -> Mounting:
    """How a part is mounted, as far as its kind tells; `mounting` of its parameters comes first."""
    if part.params.get("mounting"):
        return Mounting(part.params["mounting"])
    if is_a(part, Trait.BOARD):
        return Mounting.BOARD
    if is_a(part, Trait.BACKLIGHT):
        return Mounting.STRIP
    if is_a(part, Trait.CONNECTOR):
        return Mounting.CONNECTOR
    return OF_KIND.get(part.kind, Mounting.LEADED)


def mounting_words(mounting: Mounting) -> str:
    """What it is called, with the iron's temperature and why."""
    row = _table().mountings[mounting]
    return f"{row.words}: {row.reason}"


def methods_for(mounting: Mounting) -> dict[str, Method]:
    """Ways to get it off, the usual one first."""
    table = _table()
    return {name: table.methods[name] for name in table.mountings[mounting].methods}


def actions_for(mounting: Mounting) -> tuple[Action, ...]:
    """What can be done with a part that is mounted so."""
    return tuple(action for action, row in _table().actions.items() if mounting in row.on)


def usual_action(mounting: Mounting, mode: str) -> Action:
    """What is done about a fault of this mode, where nobody says otherwise."""
    rows = _table().actions
    return next((a for a in actions_for(mounting) if mode in rows[a].modes), Action.REPLACE)


def action_words(action: Action) -> tuple[str, str, str]:
    """What an action is called, as a title, and what is said once it is done."""
    row = _table().actions[action]
    return row.words, row.title, row.done


def action_reason(action: Action) -> str:
    """Why it is done."""
    return _table().actions[action].reason


def steps_for(mounting: Mounting, action: Action = Action.REPLACE) -> tuple[ReworkStep, ...]:
    """The steps in order."""
    celsius = _table().mountings[mounting].iron_celsius
    volts = f"{limit('drained_volts'):.0f} V"
    found = []
    for step in _table().steps:
        if mounting in step.on and action in step.actions:
            text = step.text if celsius or not step.plain else step.plain
            text = text.replace("{drained}", volts).replace("{iron}", f"about {celsius:.0f} °C")
            found.append(ReworkStep(step.key, text, step.caution))
    return tuple(found)
