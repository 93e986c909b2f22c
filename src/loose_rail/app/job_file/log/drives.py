"""Points round a controller that no probe of the model reads: the gate of its switch, and the
supply of a lamp driver, which a composed board has from nobody knows where."""

from __future__ import annotations

import re
from collections.abc import Callable

from loose_rail.app.job_file.log.entries import Read
from loose_rail.app.job_file.log.points import Place
from loose_rail.app.job_file.log.teller import Teller
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.drive_clue import (
    UNDRIVEN_BELOW_VOLTS,
    drive_clue,
    driven_stage,
    fed_clue,
    starved_clue,
)
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.board_state import Power
from loose_rail.vocabulary.keys import stage_of
from loose_rail.vocabulary.roles import Job, role

_GATE = re.compile(r"\b(gate|g)\b(?! (resistor|driver|voltage))|\bgate drive\b", re.IGNORECASE)
_OF_A_CHIP = re.compile(
    r"\b(led|lamp|back ?light|inverter)\b.*\b(chip|ic|controller|driver)\b", re.I
)
_ITS_SUPPLY = re.compile(r"\bvcc\b|\bvdd\b|\bsupply\b|\bvin\b", re.IGNORECASE)
FED_ABOVE_VOLTS = 4.0
"""No lamp driver works below it [P]."""
SAME_RAIL_SHARE = 0.1
"""Volts that are not those of the rail which feeds the stage come from another one."""


def gate_read(teller: Teller, entry: Read, place: Place, seen: Observation) -> bool:
    """A gate under power: driven or not. Whether it was one."""
    state = teller.situation.known
    switches = [ref for ref in place.parts if driven_stage(teller.board, ref)]
    if not _GATE.search(entry.at) or len(switches) != 1 or seen.unit != "V":
        return False
    if state is None or state.power is Power.UNPLUGGED:
        return False
    if teller.board.component(switches[0]).kind == "mosfet_p":
        return False
    driven = seen.form is not Form.VALUE or abs(seen.centre) > UNDRIVEN_BELOW_VOLTS
    words = f"{entry.at}: {seen.text()}, {'driven' if driven else 'not driven'}"
    teller.aside(drive_clue(teller.table, switches[0], driven, words), entry.number)
    teller.understand(words)
    return True


def chip_is_fed(teller: Teller, entry: Read, place: Place, seen: Observation) -> bool:
    """The supply of a lamp driver that is not the rail the model feeds it from: it is fed, so its
    supply pin is no short. Whether it was that."""
    if place.probe is None or teller.board.known_by != "own" or seen.form is not Form.VALUE:
        return False
    if not (_OF_A_CHIP.search(entry.at) and _ITS_SUPPLY.search(entry.at)):
        return False
    rail = teller.board.rail_of(place.probe.rail)
    volts = 0.0 if rail is None else rail.volts
    if not volts or seen.centre < FED_ABOVE_VOLTS:
        return False
    if abs(seen.centre / volts - 1.0) < SAME_RAIL_SHARE:
        return False
    words = f"{entry.at}: {seen.text()}, it is fed"
    chips = _lamp_chips(teller.board)
    meant = [ref for ref in chips if ref in place.parts] or chips
    if len(meant) == 1:
        teller.aside(fed_clue(teller.table, meant[0], words), entry.number)
        teller.understand(words)
    else:
        teller.understand(f"{words}; which of the {len(meant)} is not said: it counts for none")
    return True


_CONTROLLER = re.compile(r"\b(chip|ic|controller|driver|pwm)\b", re.IGNORECASE)
RUNS_ABOVE_VOLTS, STARVED_BELOW_VOLTS = 9.0, 7.0
"""Where a power-factor controller works, and where none does [P]."""


def supply_read(teller: Teller, entry: Read, place: Place, seen: Observation) -> bool:
    """The supply pin of a controller that no probe of the model reads under power, such as that of
    the power-factor stage: it is fed, or it is not. Whether it was that."""
    state = teller.situation.known
    asked = state is not None and state.power in (Power.ON, Power.FORCED)
    pin = _ITS_SUPPLY.search(entry.at) and _CONTROLLER.search(entry.at)
    if place.probe is not None or not asked or not pin or seen.unit != "V":
        return False
    stage = next((one for one in map(driven_by(teller.board), place.parts) if one), "")
    volts = abs(seen.centre)
    unsteady = seen.form is not Form.VALUE or STARVED_BELOW_VOLTS <= volts <= RUNS_ABOVE_VOLTS
    if not stage or unsteady:
        return False
    fed = volts > RUNS_ABOVE_VOLTS
    words = f"{entry.at}: {seen.text()}, {'it is fed' if fed else 'it is not fed'}"
    teller.aside(starved_clue(teller.table, stage, fed, words), entry.number)
    teller.understand(words)
    return True


def driven_by(board: Board) -> Callable[[str], str]:
    """Finds the stage that a controller drives; empty for what drives none."""
    named = f".{Job.CONTROLLER}"
    of = {
        ref: stage_of(job)
        for job, refs in board.roles.items()
        if job.endswith(named)
        for ref in refs
    }
    return lambda part: of.get(part, "")


def _lamp_chips(board: Board) -> list[str]:
    """The controllers of the lamp drivers, each once."""
    stages = [stage.id for stage in board.stages if stage.kind in ("led", "ccfl")]
    every = (ref for one in stages for ref in board.roles.get(role(one, Job.CONTROLLER), []))
    return list(dict.fromkeys(every))
