"""The first power-up through a lamp, predicted: bulk, standby rail and lamp second by second.

Two runs of the live model side by side: the board with every fault gone, and the board as it was
diagnosed, so that "still wrong" can be told from "repaired" while the plug can still be pulled.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.faults import Fault
from loose_rail.boards.powered_board import plant_of
from loose_rail.boards.profile import Board
from loose_rail.powered.record import run
from loose_rail.vocabulary.board_state import BoardState

Floats = NDArray[np.float64]

FORECAST_SECONDS = 6.0
TRACE_EVERY = 20
READY_SHARE = 0.95
PULL_AFTER_FLASH_SECONDS = 2.0
"""Margin on the longest healthy flash before the plug is pulled [E]."""


@dataclass(frozen=True, slots=True)
class Course:
    """One run: `bulk`, `standby` in volts, `glow` from 0 to 1, each `(n_times,)`."""

    bulk: Floats
    standby: Floats
    glow: Floats


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


def forecast(board: Board, state: BoardState, faults: Sequence[Fault]) -> Forecast:
    """Predict a power-up; `faults` are those that were diagnosed."""
    records = [
        run(plant_of(board, found, state), FORECAST_SECONDS, TRACE_EVERY) for found in ((), faults)
    ]
    record = records[0]
    courses = [
        Course(
            one.traces["bulk"][:, 0],
            one.traces[board.standby_point][:, 0],
            one.traces["lamp_glow"][:, 0],
        )
        for one in records
    ]
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
        pull_seconds=flash + PULL_AFTER_FLASH_SECONDS,
    )
