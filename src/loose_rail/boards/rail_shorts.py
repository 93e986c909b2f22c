"""What broken parts conduct across a rail beside its own capacitors, in siemens.

Input capacitors and chips of the stages that a rail feeds, and switches that have failed short
behind a choke: a shorted LED driver pulls its feed down through the choke, not its output.
"""

from __future__ import annotations

from loose_rail.boards.effective_parts import Health
from loose_rail.boards.profile import Stage
from loose_rail.vocabulary.roles import Job, role

PATH_OHMS = 0.15
"""Choke or primary winding, tracks and switch of a stage fed by a rail [E]."""


def rail_shorts(health: Health, rail: str) -> float:
    """Conductance across a rail (a stage's id, or bulk) of what stands across it or hangs on it."""
    stages = [stage for stage in health.board.stages if stage.source == rail]
    return health.bridged_siemens(role(rail, Job.ACROSS)) + sum(_drawn(health, s) for s in stages)


def _drawn(health: Health, stage: Stage) -> float:
    name = stage.id
    if stage.kind in ("buck", "ldo"):
        return health.bridged_siemens(role(name, Job.CHIP), "short")
    if stage.kind == "led":
        return health.bridged_siemens(role(name, Job.CONTROLLER)) + _led(health, name)
    if stage.kind == "ccfl":
        return _inverter(health, name)
    return 0.0


def _led(health: Health, name: str) -> float:
    """Through the choke: the switch, or the diode and what is shorted behind it."""
    if health.is_open(role(name, Job.COIL)):
        return 0.0
    if health.failed(role(name, Job.SWITCH), "short"):
        peak = health.series_ohms(role(name, Job.PEAK))
        return 1.0 / (PATH_OHMS + peak)
    behind = health.bridged_siemens(role(name, Job.OUTPUT))
    if not behind or health.is_open(role(name, Job.DIODE)):
        return 0.0
    return behind / (1.0 + PATH_OHMS * behind)


def _inverter(health: Health, name: str) -> float:
    """Behind its fuse; an open one lets go of the input capacitor too, counted across the rail."""
    if health.is_open(role(name, Job.FUSE)):
        return -health.bridged_siemens(role(name, Job.INPUT))
    total = health.bridged_siemens(role(name, Job.CONTROLLER))
    if health.failed(role(name, Job.SWITCH), "short") and not health.is_open(
        role(name, Job.TRANSFORMER)
    ):
        total += 1.0 / PATH_OHMS
    return total
