"""Seconds simulated per second of the live model, against real time and one at a time.

Coarse steps are 1 or 2 ms (a batch runs in 2 ms here), waveform steps 200 µs.
Aims: 300 variants together at least twice real time; one board at least 30 times in coarse and 3
times in waveform steps; a batch at least ten times the boards a second of one at a time.
Run: .venv/bin/python benchmarks/live_speed.py
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable

from loose_rail.boards.faults import faults_of
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.powered_board import plant_of
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.powered.plant import stack
from loose_rail.powered.record import run
from loose_rail.powered.waveform import waveform_run

SECONDS = 3.0
COARSE_SECONDS = 2e-3
VARIANTS = 300


def speed(work: Callable[[], object], seconds: float = SECONDS) -> float:
    """Simulated seconds per second."""
    start = time.perf_counter()
    work()
    return seconds / (time.perf_counter() - start)


def main() -> int:
    """Print a line for each board; exit code 1 where a board misses an aim."""
    good = True
    print("board        one, 1 ms  one, 2 ms  one, waveform  300 together  batch over single")
    for board_id in shipped_ids():
        board = shipped_board(board_id)
        state = live_states(board)[-1]
        plant = plant_of(board, (), state)
        faults = [fault for part in board.components for fault in faults_of(part)]
        many = [plant_of(board, [faults[k % len(faults)]], state) for k in range(VARIANTS)]
        batch = stack(many)
        fine = speed(lambda p=plant: run(p, SECONDS))  # type: ignore[misc]
        coarse = speed(lambda p=plant: run(p, SECONDS, 0, COARSE_SECONDS))  # type: ignore[misc]
        wave = speed(lambda p=plant: waveform_run(p, 0.6), 0.6)  # type: ignore[misc]
        together = speed(lambda b=batch: run(b, SECONDS, 0, COARSE_SECONDS))  # type: ignore[misc]
        over = together * VARIANTS / coarse
        print(
            f"{board_id:12s} {fine:8.1f}x {coarse:9.1f}x {wave:12.1f}x"
            f" {together:12.2f}x {over:12.0f}x"
        )
        good &= coarse >= 30 and wave >= 3 and together >= 2 and over >= 10
    return 0 if good else 1


if __name__ == "__main__":
    sys.exit(main())
