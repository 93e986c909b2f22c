"""The first power-up through its limiter, predicted: bulk, standby rail, lamp or resistor second
by second.

Two runs of the live model side by side: the board with every fault gone, and the board as it was
diagnosed, so that "still wrong" can be told from "repaired" while the plug can still be pulled.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.faults import Fault
from loose_rail.boards.powered_board import plant_of
from loose_rail.boards.profile import Board
from loose_rail.judgement.limiter import Limiter
from loose_rail.judgement.limits import limit
from loose_rail.powered.plant import Plant
from loose_rail.powered.record import LiveRecord, run
from loose_rail.vocabulary.board_state import BoardState

Floats = NDArray[np.float64]

FORECAST_SECONDS = 6.0
TRACE_EVERY = 20
READY_SHARE = 0.95
PULL_AFTER_FLASH_SECONDS = 2.0
"""Margin on the longest healthy flash before the plug is pulled [E]."""

SPENT_SHARE = 0.5
"""Of what a resistor bears, spent on one push: it may still be warm from the last one [E]."""


@dataclass(frozen=True, slots=True)
class Course:
    """One run: `bulk`, `standby` in volts, `glow` from 0 to 1, `heat` as the share of the joules
    that a resistor in line bears (0 for a lamp), each `(n_times,)`."""

    bulk: Floats
    standby: Floats
    glow: Floats
    heat: Floats


@dataclass(frozen=True, slots=True)
class Forecast:
    """The predicted first power-up in a state.

    `ready_seconds` is when the standby rail stands, `flash_seconds` how long the lamp glows first,
    `pull_seconds` when to pull the plug if it still glows.
    """

    seconds: Floats
    sound: Course
    faulty: Course
    ready_seconds: float
    flash_seconds: float
    bulk_volts: float
    standby_volts: float
    pull_seconds: float


def forecast(
    board: Board, state: BoardState, faults: Sequence[Fault], limiter: Limiter | None = None
) -> Forecast:
    """Predict a power-up; `faults` are those that were diagnosed. Where the state has a lamp, the
    `limiter` stands in its place."""
    limits = limiter if state.lamp_watts else None
    plants = [limited(plant_of(board, found, state), limits) for found in ((), faults)]
    records = [run(plant, FORECAST_SECONDS, TRACE_EVERY) for plant in plants]
    record = records[0]
    courses = [_course(one, board, limits) for one in records]
    sound = courses[0]
    final = float(sound.standby[-1])
    standing = np.flatnonzero(sound.standby >= READY_SHARE * final)
    ready = float(record.trace_seconds[standing[0]]) if len(standing) else FORECAST_SECONDS
    flash = float(record.flash_seconds[0])
    return Forecast(
        seconds=record.trace_seconds,
        sound=sound,
        faulty=courses[1],
        ready_seconds=ready,
        flash_seconds=flash,
        bulk_volts=float(sound.bulk[-1]),
        standby_volts=final,
        pull_seconds=_pull(flash, limits, board.mains.volts),
    )


def limited(plant: Plant, limiter: Limiter | None) -> Plant:
    """The same board behind another limiter."""
    if limiter is None:
        return plant
    line = plant.input
    watts = limiter.watts if limiter.is_lamp else 0.0
    made_for = limiter.volts or float(np.max(line.mains_volts))
    changed = replace(line, lamp_watts=watts, lamp_volts=made_for, resistor_ohms=limiter.ohms)
    return replace(plant, input=changed)


def _course(record: LiveRecord, board: Board, limiter: Limiter | None) -> Course:
    watts = record.traces["in_line_watts"][:, 0]
    spent = np.cumsum(watts * np.gradient(record.trace_seconds))
    bears = 0.0
    if limiter is not None and not limiter.is_lamp:
        bears = limit("limiter_joules_per_watt") * limiter.watts
    return Course(
        bulk=record.traces["bulk"][:, 0],
        standby=record.traces[board.standby_point][:, 0],
        glow=record.traces["lamp_glow"][:, 0],
        heat=spent / bears if bears else np.zeros(len(spent)),
    )


def _pull(flash: float, limiter: Limiter | None, mains_volts: float) -> float:
    """When to pull the plug if it still glows; with a resistor, after the half of what it bears
    into a short."""
    bears = limiter.bears_seconds(mains_volts) if limiter is not None else None
    return flash + PULL_AFTER_FLASH_SECONDS if bears is None else bears * SPENT_SHARE
