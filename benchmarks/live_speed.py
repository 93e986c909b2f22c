"""Seconds simulated per second of the live model, against real time and one at a time.

Medians of runs that take turns, in the steps that the program itself takes (1 ms, waveform 200 µs;
a batch in 2 ms, as the predictions run). Aims: one board at least 30 times real time in coarse and
3 times in waveform steps, 300 variants together at least twice, a batch at least ten times the
boards a second of one at a time. Each board is run sound and with its first short.
Run: .venv/bin/python benchmarks/live_speed.py
"""

from __future__ import annotations

import statistics
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
ROUNDS = 5


def speed(work: Callable[[], object], seconds: float = SECONDS) -> float:
    """Simulated seconds per second."""
    start = time.perf_counter()
    work()
    return seconds / (time.perf_counter() - start)


def medians(*works: tuple[Callable[[], object], float]) -> list[float]:
    """Of each kind of run, over rounds in which they take turns."""
    rounds = [[speed(work, seconds) for work, seconds in works] for _ in range(ROUNDS)]
    return [statistics.median(column) for column in zip(*rounds, strict=True)]


def main() -> int:
    """Print a line for each board; exit code 1 where a board misses an aim."""
    good = True
    print("board        one sound  one with a short  waveform  300 together  batch over single")
    for board_id in shipped_ids():
        board = shipped_board(board_id)
        state = live_states(board)[-1]
        plant = plant_of(board, (), state)
        faults = [fault for part in board.components for fault in faults_of(part)]
        many = [plant_of(board, [faults[k % len(faults)]], state) for k in range(VARIANTS)]
        batch = stack(many)
        short = plant_of(board, [next(f for f in faults if f.mode == "short")], state)
        sound, shorted, wave, together, coarse = medians(
            (lambda p=plant: run(p, SECONDS), SECONDS),  # type: ignore[misc]
            (lambda p=short: run(p, SECONDS), SECONDS),  # type: ignore[misc]
            (lambda p=plant: waveform_run(p, 0.6), 0.6),  # type: ignore[misc]
            (lambda b=batch: run(b, SECONDS, 0, COARSE_SECONDS), SECONDS),  # type: ignore[misc]
            (lambda p=plant: run(p, SECONDS, 0, COARSE_SECONDS), SECONDS),  # type: ignore[misc]
        )
        over = together * VARIANTS / coarse
        print(
            f"{board_id:12s} {sound:8.1f}x {shorted:14.1f}x {wave:11.1f}x {together:10.2f}x"
            f" {over:12.0f}x"
        )
        good &= min(sound, shorted) >= 30 and wave >= 3 and together >= 2 and over >= 10
    return 0 if good else 1


if __name__ == "__main__":
    sys.exit(main())
