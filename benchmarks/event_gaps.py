"""How long the window answers nothing at a stretch, for each thing that it opens; milliseconds.

Drives the real window offscreen on the demo's shop: the shelf, a job, every page of it and every
room, each the first time and once more. A gap is what one event takes: the act itself, and every
turn of the event loop after it until all is drawn and nothing works beside it. Aim: 100 ms.
Run: .venv/bin/python -m benchmarks.event_gaps
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from loose_rail.screens.main_window import MainWindow

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
MOST_MILLISECONDS = 100.0
SETTLED_SECONDS = 0.25
ROUNDS = 2


def turn_to(window: MainWindow, stage: str) -> None:
    """A page of the job in front."""
    window.show_job()
    assert window.job is not None
    window.job.go(stage)


def main() -> int:
    """Print the gaps; exit code 1 where one is above the aim."""
    import loose_rail.screens.job.view  # noqa: F401 - as the start does, beside the shelf
    from loose_rail.bootstrap import Workplace, engine_for
    from loose_rail.cli.window import make_application
    from loose_rail.jobs.events import STAGES
    from loose_rail.screens.main_window import MainWindow
    from loose_rail.screens.shared.areas import AREAS
    from loose_rail.screens.shared.dispatch import Dispatcher
    from loose_rail.shop import Options

    app = make_application()  # held: PyQt destroys one that nobody holds
    dispatcher = Dispatcher(at_once=False)

    def gap(act: Callable[[], object]) -> float:
        """The longest of the act and of the turns of the loop after it, in milliseconds."""
        start = time.perf_counter()
        act()
        longest = time.perf_counter() - start
        quiet = time.perf_counter()
        while dispatcher.busy or time.perf_counter() - quiet < SETTLED_SECONDS:
            turn = time.perf_counter()
            app.processEvents()
            took = time.perf_counter() - turn
            longest = max(longest, took)
            if took > 1e-3:
                quiet = time.perf_counter()
        return 1e3 * longest

    too_long = False
    with tempfile.TemporaryDirectory() as folder:
        window = MainWindow(dispatcher)
        window.resize(1280, 800)
        window.show()
        gap(lambda: window.set_workplace(Workplace(Options(True, Path(folder) / "s")), engine_for))
        acts: dict[str, Callable[[], object]] = {"shelf": window.show_shelf}
        for number in (1, 2, 3):
            acts[f"job {number}"] = partial(window.open_job, number)
        acts |= {f"page {one}": partial(turn_to, window, one) for one in STAGES}
        acts |= {f"room {one.name}": partial(window.show_area, one.name) for one in AREAS}
        for round_ in range(ROUNDS):
            for name, act in acts.items():
                found = gap(act)
                print(f"{'first' if round_ == 0 else 'again'} {name:20s} {found:6.0f} ms")
                too_long |= found > MOST_MILLISECONDS
        window.close()
    app.quit()
    return int(too_long)


if __name__ == "__main__":
    sys.exit(main())
