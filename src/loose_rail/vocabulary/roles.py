"""Roles: which part of a board does which job. The one declared table that validation, the live
model and the documents read.

A role is a job of the whole board (`bulk`, `input.fuse`), of one stage (`standby.switch`), of a
signal's path (`wake.coupler`, `wake:panel.coupler`) or of a load (`MB.connector`).
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from difflib import get_close_matches
from enum import StrEnum


class BoardRole(StrEnum):
    """Jobs that a board has once."""

    BULK = "bulk"
    BULK_ACROSS = "bulk.across"
    BRIDGE = "bridge"
    BRIDGE_ACROSS = "bridge.across"
    BLEEDER = "bleeder"
    CORD = "input.cord"
    """Before the inlet: cord and outlet."""
    INPUT_PATH = "input.path"
    """In series from the inlet to the bridge."""
    INPUT_FUSE = "input.fuse"
    INPUT_ACROSS = "input.across"
    """Behind the fuse, from line to neutral."""
    CONNECTOR = "output.connector"
    """To the board that gives the signals."""
    MAIN_LOAD = "load.main"
    """The board that gives the signals."""


class Job(StrEnum):
    """Jobs of a part within its stage."""

    ACROSS = "across"
    """Input capacitors of what the rail feeds."""
    AUX = "aux"
    BALLAST = "ballast"
    BLEEDER = "bleeder"
    """What loads an output that no loop senses, and drains it."""
    BYPASS = "bypass"
    CHIP = "chip"
    CHOKE = "choke"
    CLAMP = "clamp"
    COIL = "coil"
    CONNECTOR = "connector"
    CONTROLLER = "controller"
    COUPLER = "coupler"
    CURRENT = "current"
    DIODE = "diode"
    DRIVE = "drive"
    DRIVER = "driver"
    FEED = "feed"
    FREEWHEEL = "freewheel"
    FUSE = "fuse"
    INPUT = "input"
    LED = "led"
    LOWER = "lower"
    OUTPUT = "output"
    OVER_LOWER = "over_lower"
    """Of the divider of an over-voltage sense."""
    OVER_UPPER = "over_upper"
    PASS = "pass"
    PATH = "path"
    PEAK = "peak"
    POST = "post"
    PULL = "pull"
    RECTIFIER = "rectifier"
    REFERENCE = "reference"
    RESERVOIR = "reservoir"
    SENSE = "sense"
    SNUBBER = "snubber"
    START = "start"
    STRIP = "strip"
    SWITCH = "switch"
    TRANSFORMER = "transformer"
    TUBES = "tubes"
    UPPER = "upper"
    VCC = "vcc"


@dataclass(frozen=True, slots=True)
class StageJobs:
    """The jobs of a kind of stage: those without which it can't be modelled, and further ones."""

    needed: frozenset[Job]
    further: frozenset[Job] = frozenset()

    @property
    def every(self) -> frozenset[Job]:
        """All of them; any stage may have input capacitors of what it feeds."""
        return self.needed | self.further | {Job.ACROSS}


_CONVERTER = frozenset({Job.CONTROLLER, Job.SWITCH, Job.TRANSFORMER, Job.RECTIFIER, Job.RESERVOIR})
_LOOP = frozenset({Job.LED, Job.COUPLER, Job.REFERENCE, Job.UPPER, Job.LOWER})
_AROUND = frozenset(
    {Job.START, Job.VCC, Job.AUX, Job.DRIVE, Job.SENSE, Job.CLAMP, Job.SNUBBER, Job.CHOKE, Job.POST}
)
_REGULATOR = frozenset({Job.CHOKE, Job.FREEWHEEL, Job.UPPER, Job.LOWER, Job.OUTPUT})
STAGE_JOBS: Mapping[str, StageJobs] = {
    "mains": StageJobs(frozenset()),
    "adapter": StageJobs(frozenset()),
    "flyback": StageJobs(_CONVERTER, _AROUND | _LOOP | {Job.COIL}),
    "resonant": StageJobs(_CONVERTER, _AROUND | _LOOP | {Job.COIL}),
    "boost": StageJobs(
        frozenset({Job.SWITCH, Job.CONTROLLER, Job.DIODE, Job.COIL, Job.UPPER, Job.LOWER}),
        frozenset({Job.VCC, Job.FEED, Job.BYPASS, Job.SENSE, Job.DRIVE}),
    ),
    "winding": StageJobs(frozenset({Job.RECTIFIER, Job.RESERVOIR}), frozenset({Job.BLEEDER})),
    "buck": StageJobs(frozenset({Job.CHIP, Job.OUTPUT}), _REGULATOR),
    "ldo": StageJobs(frozenset({Job.CHIP, Job.OUTPUT}), _REGULATOR),
    "switch": StageJobs(frozenset({Job.PASS}), frozenset({Job.DRIVER, Job.PULL, Job.OUTPUT})),
    "status": StageJobs(frozenset({Job.PULL, Job.SWITCH})),
    "relay": StageJobs(
        frozenset({Job.COIL, Job.DRIVER}), frozenset({Job.DRIVE, Job.PULL, Job.FREEWHEEL})
    ),
    "led": StageJobs(
        frozenset({Job.COIL, Job.SWITCH, Job.DIODE, Job.OUTPUT, Job.CONTROLLER, Job.STRIP}),
        frozenset({Job.DRIVE, Job.PEAK, Job.SENSE, Job.CONNECTOR, Job.OVER_UPPER, Job.OVER_LOWER}),
    ),
    "ccfl": StageJobs(
        frozenset({Job.SWITCH, Job.TRANSFORMER, Job.CONTROLLER, Job.TUBES}),
        frozenset({Job.FUSE, Job.BALLAST, Job.CURRENT, Job.INPUT}),
    ),
}
"""Which jobs a stage of each kind has."""
NEEDED = (BoardRole.BULK, BoardRole.CONNECTOR, BoardRole.MAIN_LOAD)
NEEDED_ON_MAINS = (*NEEDED, BoardRole.BRIDGE, BoardRole.INPUT_FUSE)
SIGNAL_JOBS = frozenset({Job.PATH, Job.COUPLER, Job.SWITCH})
"""What leads a signal from the connector to a controller."""
MAIN_SIGNAL = "start"


def role(stage: str, job: Job) -> str:
    """The role of a job in a stage."""
    return f"{stage}.{job}"


def signal_role(signal: str, job: Job) -> str:
    """The role of a job in a signal's path."""
    head = "wake" if signal == MAIN_SIGNAL else f"wake:{signal}"
    return f"{head}.{job}"


def load_connector(load: str) -> str:
    """The role of the connector of a load of its own."""
    return f"{load}.{Job.CONNECTOR}"


def known_roles(
    stages: Mapping[str, str], signals: Collection[str], loads: Collection[str]
) -> frozenset[str]:
    """Every role that a board may have: `stages` are kinds by id, then signals and loads by id."""
    found: set[str] = {str(one) for one in BoardRole}
    for stage, kind in stages.items():
        jobs = STAGE_JOBS[kind].every if kind in STAGE_JOBS else frozenset(Job)
        found |= {role(stage, job) for job in jobs}
    for signal in (MAIN_SIGNAL, *signals):
        found |= {signal_role(signal, job) for job in SIGNAL_JOBS}
    return frozenset(found | {load_connector(load) for load in loads})


def needed_roles(stages: Mapping[str, str]) -> tuple[str, ...]:
    """The roles without which a board with these kinds of stages, by id, can't be modelled."""
    on_mains = "mains" in stages.values()
    found = [str(one) for one in (NEEDED_ON_MAINS if on_mains else NEEDED)]
    for stage, kind in stages.items():
        if kind in STAGE_JOBS:
            found += sorted(role(stage, job) for job in STAGE_JOBS[kind].needed)
    return tuple(found)


def near_miss(name: str, known: Collection[str]) -> str:
    """The known name that was probably meant, empty where none is near."""
    return next(iter(get_close_matches(name, sorted(known), 1, 0.7)), "")
