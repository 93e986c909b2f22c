"""Building all predictions of every example board: seconds and peak memory, against 4 s.

Two processes share the work: the aim is for two cores that nothing else uses.

Run: .venv/bin/python benchmarks/predictions.py [BOARD ...]
"""

from __future__ import annotations

import resource
import sys
import time

from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.diagnosis.model.predictions import predict

AIM_SECONDS = 4.0


def main() -> int:
    """Print a line for each board; exit code 1 above the aim."""
    names = sys.argv[1:] or list(shipped_ids())
    worst = peak = beside = 0.0
    for name in names:
        board = shipped_board(name)
        marks: list[tuple[float, str]] = []
        start = time.perf_counter()

        def note(_: float, words: str, since: float = start, to: list = marks) -> None:  # type: ignore[type-arg]
            if not to or to[-1][1] != words:
                to.append((time.perf_counter() - since, words))

        table = predict(board, note)
        taken = time.perf_counter() - start
        worst = max(worst, taken)
        peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
        beside = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1024
        rows, columns = table.low.shape
        steps = ", ".join(f"{words} from {at:.1f} s" for at, words in marks)
        print(
            f"{name}: {len(board.components)} parts, {rows} x {columns} in {taken:.1f} s ({steps})"
        )
    print(
        f"worst {worst:.1f} s, aim {AIM_SECONDS:.0f} s; peak {peak:.0f} MB, {beside:.0f} MB beside"
    )
    return 0 if worst <= AIM_SECONDS else 1


if __name__ == "__main__":
    sys.exit(main())
