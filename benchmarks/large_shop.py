"""A shop of 2,000 jobs: the shelf, opening one, finding words; milliseconds, against limits.

The shop is filled with the demo's jobs over and over, each with fifty readings more, by a program
that knows nothing of summaries: the first shelf, which is not timed, makes them. Then the real
window, offscreen, shows the shelf, opens a job, finds a word. Limits: shelf 0.5 s, opening 0.3 s.
Run: .venv/bin/python -m benchmarks.large_shop
"""

from __future__ import annotations

import os
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
JOBS = 2000
READINGS = 50
ROUNDS = 7
SHELF_SECONDS = 0.5
OPEN_SECONDS = 0.3


def fill(path: Path) -> int:
    """Write the shop; returns how many events stand in it."""
    from loose_rail.jobs import events as ev
    from loose_rail.practice.demo import demo_shop
    from loose_rail.storage.store import SqliteStore

    shop = demo_shop().jobs
    store = SqliteStore(path)
    reading = ev.ReadingTaken(
        probe="live.5vs", state="standby/cable/lamp60", form="value", unit="V", low=5.0, high=5.0
    )
    written = 0
    for number in range(1, JOBS + 1):
        job = shop[(number - 1) % len(shop)]
        filled = [*job, *[(job[-1][0], reading)] * READINGS]
        records = [ev.Record(k, at, "bench 1", event) for k, (at, event) in enumerate(filled, 1)]
        store.append(number, records)
        written += len(records)
    store.close()
    return written


def timed(act: Callable[[], object]) -> float:
    """Seconds that something takes, with the events that follow it, drawn."""
    from PyQt6.QtWidgets import QApplication

    start = time.perf_counter()
    act()
    QApplication.processEvents()
    return time.perf_counter() - start


def main() -> int:
    """Print the figures; exit code 1 above a limit."""
    from loose_rail.bootstrap import Workplace, engine_for
    from loose_rail.cli.window import make_application
    from loose_rail.screens.main_window import MainWindow
    from loose_rail.screens.shared.dispatch import Dispatcher
    from loose_rail.shop import Options

    app = make_application()  # held: PyQt destroys one that nobody holds
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "shop.sqlite"
        events = fill(path)
        window = MainWindow(dispatcher := Dispatcher(at_once=False))
        window.show()
        window.set_workplace(place := Workplace(Options(False, path)), engine_for)
        first = timed(lambda: place.store.jobs())
        while dispatcher.busy:
            app.processEvents()

        def show() -> None:
            window.show_shelf()
            window.grab()

        shelf = [timed(show) for _ in range(ROUNDS)]
        opened = []
        for number in range(3, 3 + ROUNDS):
            opened.append(timed(partial(window.open_job, number)))
            while dispatcher.busy:  # the predictions and the day's copy: nobody opens two at once
                app.processEvents()
        found_first = timed(lambda: place.find("ticks"))
        found = timed(lambda: place.find("ticks"))
        window.close()
    app.quit()
    print(f"{JOBS} jobs, {events} events")
    print(
        f"shelf, read and drawn: median {statistics.median(shelf):.3f} s, limit {SHELF_SECONDS} s"
    )
    print(f"a job opened: median {statistics.median(opened):.3f} s, limit {OPEN_SECONDS} s")
    print(
        f"summaries read: {first:.3f} s; words found: first {found_first:.3f} s, then {found:.3f} s"
    )
    too_slow = statistics.median(shelf) > SHELF_SECONDS or statistics.median(opened) > OPEN_SECONDS
    return int(too_slow)


if __name__ == "__main__":
    sys.exit(main())
