"""A voltage that is too high for the parts on it: stop, unplug, and which divider to read.

The bulk of a board above 410 V, or any point above 95 % of the rating of a capacitor on it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board, Stage
from loose_rail.boards.typical import part_volts
from loose_rail.judgement.limits import limit
from loose_rail.judgement.load_steps import LOOSE
from loose_rail.kernel.observation import Observation
from loose_rail.kernel.quantities import engineering
from loose_rail.vocabulary.board_state import UNPLUGGED
from loose_rail.vocabulary.keys import stage_of
from loose_rail.vocabulary.meter_mode import MeterMode
from loose_rail.vocabulary.roles import Job, role

SENSES = {
    "boost": (Job.UPPER, Job.LOWER),
    "led": (Job.SENSE, Job.STRIP, Job.CONNECTOR),
    "buck": (Job.UPPER, Job.LOWER, Job.CHIP),
}
FEEDBACK = (Job.UPPER, Job.LOWER, Job.REFERENCE, Job.COUPLER, Job.LED)
"""Roles that tell a stage its own output voltage."""


@dataclass(frozen=True, slots=True)
class OverVoltage:
    """A reading that stops the plan: its number, what stood where, and the parts to read first."""

    reading: int
    parts: tuple[str, ...]
    sentence: str
    instead: str


def over_voltage(
    board: Board, probe: Probe, seen: Observation, number: int = 0
) -> OverVoltage | None:
    """Whether a reading on a powered board is above what its parts stand; None where it is not."""
    volts = max((abs(v) for v in (seen.low, seen.high) if math.isfinite(v)), default=0.0)
    most, why = most_volts(board, probe)
    if volts <= most:
        return None
    parts = sense_parts(board, probe)
    named = ", ".join(f"{ref} ({board.component(ref).duty})" for ref in parts)
    where = "the bulk" if probe.observable == "bulk" else probe.title
    sentence = f"{engineering(volts, 'V')} on {where}: above {engineering(most, 'V')}, {why}."
    if parts:
        instead = f"Unplug now. Read {named} before any power."
    else:
        instead = "Unplug now. The mains itself is too high, or its selector is set wrongly."
    return OverVoltage(number, parts, sentence, instead)


def too_high_for_loads(board: Board, probe: Probe, seen: Observation) -> str:
    """Why no other board may hang on a rail that was read so; empty where it may."""
    rail = board.rail_of(probe.rail)
    if rail is None or not rail.volts or probe.mode is not MeterMode.DC_VOLTS or not probe.live:
        return ""
    fed = {load.rail for load in board.loads}
    if stage_of(probe.observable) not in fed:
        return ""
    share = limit("high_loose_rail_share" if rail.kind in LOOSE else "high_rail_share")
    volts = max((abs(v) for v in (seen.low, seen.high) if math.isfinite(v)), default=0.0)
    if volts <= (1.0 + share) * rail.volts:
        return ""
    return f"{engineering(volts, 'V')} stood on {rail.title}: too much for the boards behind it."


def most_volts(board: Board, probe: Probe) -> tuple[float, str]:
    """The highest volts allowed at a point, and why; infinite where nothing there has a rating, and
    for a reading that is no DC volts."""
    if not probe.live or probe.mode is not MeterMode.DC_VOLTS:
        return math.inf, ""
    share = limit("over_rating_share")
    found = [(math.inf, "")]
    for part in board.components:
        if is_a(part, Trait.ELECTROLYTIC) and part.pins.get("plus") == probe.plus:
            rated = part_volts(part)
            known = "is rated" if board.is_read(part.ref) else "needs at least"
            why = f"{share * 100:.0f} % of the {rated:g} V that {part.ref} {known}"
            found.append((share * rated, why))
    if probe.observable == "bulk" and not board.adapter_fed:
        found.append((limit("over_bulk_volts"), "the most that a bulk is regulated to"))
    return min(found)


def sense_parts(board: Board, probe: Probe) -> tuple[str, ...]:
    """The parts that set the voltage of a point: the divider or sense of the stage behind it."""
    name = stage_of(probe.observable)
    stage = _boost(board) if name == "bulk" else board.stage(name)
    seen: set[str] = set()
    while stage is not None and stage.id not in seen:
        seen.add(stage.id)
        jobs = SENSES.get(stage.kind, FEEDBACK)
        refs = [ref for job in jobs for ref in board.roles.get(role(stage.id, job), [])]
        if refs:
            return tuple(dict.fromkeys(refs))
        stage = board.stage(stage.source)
    return ()


def _boost(board: Board) -> Stage | None:
    return next((stage for stage in board.stages if stage.kind == "boost"), None)


def divider_probes(board: Board, found: OverVoltage, probes: tuple[Probe, ...]) -> list[Probe]:
    """What clears an over-voltage: each named part read with the board dead, by itself where a leg
    can be lifted. In place a drifted divider hides behind what lies beside it."""
    wanted: list[Probe] = []
    for ref in found.parts:
        own = [p for p in probes if p.part == ref and not p.live]
        wanted += [p for p in own if p.lifted][:1] or own[:1]
    return wanted


def key_of(probe: Probe) -> str:
    """Key of the candidate that reads a dead probe."""
    return f"{probe.id}@{UNPLUGGED.key}"
