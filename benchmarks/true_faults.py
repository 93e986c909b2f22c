"""How parts really fail: any degree of it, and how often, in numbers of this benchmark's own.

The predictions know a few degrees of every fault and their own rates. Sets on a bench don't: a
short is whatever failed silicon is left with, a dried capacitor is dried as far as it came. Nothing
here is read from the tables of kinds but which faults there are. Every number is an estimate [E],
written down before the engine was measured with it.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import msgspec
import numpy as np

from loose_rail.boards.component_rules import value_text
from loose_rail.boards.faults import Fault
from loose_rail.boards.kinds.kind import Effect, Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Board, Component
from loose_rail.boards.typical import part_volts
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.quantities import component_value

Generator = np.random.Generator


@dataclass(frozen=True, slots=True)
class Level:
    """How far the sets are from what the engine predicts with.

    `degrees`: faults of any degree, drawn by this file's own rates. `values_log`: how far the board
    lies from its profile (natural logarithm, for capacitors; resistors half of it). `leads`: ohms
    of the meter's leads, from and to.
    """

    name: str
    degrees: bool
    values_log: float = 0.0
    leads: tuple[float, float] = (0.05, 0.05)
    own: bool = False


LEVELS = (
    Level("as predicted", False),
    Level("any severity", True),
    Level("stranger", True, 0.4, (0.05, 0.25)),
    Level("own board", True, 0.5, (0.05, 0.25), own=True),
)

HOW_OFTEN = {
    "electrolytic dried": 24.0,
    "electrolytic short": 2.0,
    "electrolytic leaky": 3.0,
    "mosfet_n short": 10.0,
    "switcher short": 8.0,
    "diode short": 6.0,
    "bridge short": 2.5,
    "controller dead": 5.0,
    "regulator dead": 2.0,
    "resistor open": 4.0,
    "resistor drifted": 2.0,
    "fusible_resistor open": 4.0,
    "surge_suppressor short": 1.5,
    "optocoupler weak": 1.5,
    "load never_asserts": 6.0,
    "load drags": 4.0,
    "load elsewhere": 4.0,
    "led_strip open": 6.0,
    "led_strip string": 2.0,
    "tubes open": 5.0,
    "connector joint": 2.0,
    "connector intermittent": 2.0,
    "transformer turns": 1.5,
    "inductor joint": 1.0,
}
"""Of a hundred-odd sets, how many have this fault somewhere; others half a set each. Parts of one
kind share it evenly."""
OTHERS = 0.5
SHORT_OHMS, GATE_OHMS, INNER_OHMS = (0.02, 8.0), (0.3, 200.0), (2.0, 80.0)
LEAK_OHMS, HIGH_LEAK_OHMS, HIGH_VOLTS = (3.0, 3e3), (3e3, 4e5), 160.0
RESISTIVE_OHMS, DRAG_OHMS, OVERDRAW_OHMS = (0.5, 100.0), (0.2, 5.0), (1.0, 6.0)
DRIFT_TIMES = (1.12, 5.0)
WEAK_SHARE, FILM_SHARE, STRIP_SHARE = (0.02, 0.6), (0.02, 0.7), (0.3, 0.97)
AWAY_SHARE = (0.1, 0.7)
FARADS_LEFT, ESR_TIMES, ESR_LOG = (0.9, 0.05), (3.0, 300.0), 0.4
INNER_KINDS = ("controller", "switcher")
SET_BY_LABEL = ("upper", "lower", "over_upper", "over_lower", "sense", "over_series", "divider")
"""Roles whose values a label or the design fixes."""
SOUND_WITHIN, MOST_TRIES = 0.08, 12


def draw_causes(table: PredictionTable, number: int, rng: Generator) -> list[int]:
    """Rows with one fault, drawn by `HOW_OFTEN`."""
    of_suspect: dict[str, list[int]] = {}
    places: dict[str, set[str]] = {}
    for k, row in enumerate(table.rows):
        if len(row.faults) == 1:
            of_suspect.setdefault(row.suspect, []).append(k)
            places.setdefault(_name(table.board, row.faults[0]), set()).add(row.suspect)
    keys = list(of_suspect)
    names = [_name(table.board, table.rows[of_suspect[key][0]].faults[0]) for key in keys]
    weights = np.array([HOW_OFTEN.get(name, OTHERS) / len(places[name]) for name in names])
    drawn = rng.choice(len(keys), number, p=weights / weights.sum())
    return [int(rng.choice(of_suspect[keys[int(k)]])) for k in drawn]


def _name(board: Board, fault: Fault) -> str:
    return f"{board.component(fault.ref).kind} {fault.mode}"


def of_any_degree(board: Board, fault: Fault, rng: Generator) -> Fault:
    """The fault as a set really has it."""
    part = board.component(fault.ref)
    change = _CHANGES.get(fault.effect)
    return change(part, fault, rng) if change else fault


def _log(rng: Generator, ends: tuple[float, float]) -> float:
    return float(np.exp(rng.uniform(np.log(ends[0]), np.log(ends[1]))))


def _conducts(part: Component, fault: Fault, rng: Generator) -> Fault:
    if fault.mode in ("leaky", "warm"):
        high = part_volts(part) >= HIGH_VOLTS
        ends = HIGH_LEAK_OHMS if high else LEAK_OHMS
    elif fault.mode == "gate":
        ends = GATE_OHMS
    elif part.kind in INNER_KINDS and fault.ohms > SHORT_OHMS[1]:
        ends = INNER_OHMS
    else:
        ends = SHORT_OHMS
    return replace(fault, ohms=_log(rng, ends))


def _scaled(part: Component, fault: Fault, rng: Generator) -> Fault:
    if is_a(part, Trait.ELECTROLYTIC):
        dry = float(rng.random())
        left = FARADS_LEFT[0] + (FARADS_LEFT[1] - FARADS_LEFT[0]) * dry
        esr = ESR_TIMES[0] * (ESR_TIMES[1] / ESR_TIMES[0]) ** dry
        esr *= float(np.exp(ESR_LOG * rng.standard_normal()))
        return replace(fault, value_scale=left, esr_scale=esr)
    if is_a(part, Trait.RESISTOR):
        return replace(fault, value_scale=_log(rng, DRIFT_TIMES))
    ends = STRIP_SHARE if is_a(part, Trait.BACKLIGHT) else FILM_SHARE
    return replace(fault, value_scale=float(rng.uniform(*ends)))


def _weak(part: Component, fault: Fault, rng: Generator) -> Fault:
    if not 0.0 < fault.value_scale < 1.0:
        return fault
    return replace(fault, value_scale=float(rng.uniform(*WEAK_SHARE)))


_CHANGES: dict[Effect, Callable[[Component, Fault, Generator], Fault]] = {
    Effect.BRIDGE: _conducts,
    Effect.SCALE: _scaled,
    Effect.WEAK: _weak,
    Effect.RESISTIVE: lambda part, fault, rng: replace(fault, ohms=_log(rng, RESISTIVE_OHMS)),
    Effect.DRAG: lambda part, fault, rng: replace(fault, ohms=_log(rng, DRAG_OHMS)),
    Effect.OVERDRAW: lambda part, fault, rng: replace(fault, ohms=_log(rng, OVERDRAW_OHMS)),
    Effect.INTERMITTENT: lambda part, fault, rng: replace(
        fault, share=float(rng.uniform(*AWAY_SHARE))
    ),
}


def another_of_its_kind(board: Board, log: float, rng: Generator) -> Board:
    """The board with other values wherever neither a label nor the design fixes them: capacitors
    apart by `log` (standard deviation of the natural logarithm), resistors by half of it."""
    fixed = {
        ref
        for role, refs in board.roles.items()
        if role.rpartition(".")[2] in SET_BY_LABEL
        for ref in refs
    }
    parts = []
    for part in board.components:
        width = log if is_a(part, Trait.CAPACITOR) else 0.5 * log * is_a(part, Trait.RESISTOR)
        if width and part.value and part.ref not in fixed:
            times = float(np.exp(width * np.clip(rng.standard_normal(), -2.0, 2.0)))
            part = msgspec.structs.replace(
                part, value=value_text(component_value(part.value) * times)
            )
        parts.append(part)
    return msgspec.structs.replace(board, components=parts)


def works_as(sound: np.ndarray, wanted: np.ndarray, live: Sequence[int]) -> bool:
    """Whether a board that was drawn works: its rails stand where those of the profile do. One that
    doesn't was never sold."""
    here, there = sound[list(live)], wanted[list(live)]
    return bool(np.all(np.abs(here - there) <= SOUND_WITHIN * np.abs(there) + 0.3))
