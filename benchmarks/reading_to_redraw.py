"""From accepting a reading to suspects and next probe redrawn: milliseconds, against a limit.

Drives the real window offscreen on every example board, with the first reading of a job and with
the hundredth: presses Enter on a typed reading, lets every event pass until map and suspects have
been painted, takes the reading back, and again. Limits: a median of 35 ms on the demo's board, of
60 ms on all others. Beside them, what Enter itself takes and what drawing the window anew takes.
Run: .venv/bin/python -m benchmarks.reading_to_redraw [BOARD ...]
"""

from __future__ import annotations

import itertools
import math
import os
import statistics
import sys
import tempfile
import time
from pathlib import Path

from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtWidgets import QApplication, QWidget

from benchmarks.one_enter import until_a_reading_is_asked
from loose_rail.judgement.safety import probe_refusals
from loose_rail.kernel.observation import open_circuit, value
from loose_rail.screens.job.view import JobView
from loose_rail.vocabulary.board_state import UNPLUGGED

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
ROUNDS = 15
BEFORE = (0, 99)
"""Readings that stand there already."""
DEMO_BOARD, DEMO_MILLISECONDS, MOST_MILLISECONDS = "PB-4310-2", 35.0, 60.0


class Painted(QObject):
    """Counts paint events of a widget."""

    def __init__(self, widget: QWidget) -> None:
        super().__init__()
        self.count = 0
        widget.installEventFilter(self)

    def eventFilter(self, _source: QObject | None, event: QEvent | None) -> bool:
        """Another one."""
        self.count += event is not None and event.type() == QEvent.Type.Paint
        return False


def main() -> int:
    """Print medians and worst; exit code 1 above a limit."""
    from loose_rail.cli.window import make_application

    app = make_application()  # held: PyQt destroys one that nobody holds
    from loose_rail.boards.load import shipped_ids

    slow = []
    for board in sys.argv[1:] or shipped_ids():
        limit = DEMO_MILLISECONDS if board == DEMO_BOARD else MOST_MILLISECONDS
        slow += [measured(board, count, limit) > limit for count in BEFORE]
    app.quit()
    return int(any(slow))


def sound_readings(job: JobView, count: int) -> None:
    """So many readings of a sound board, in the order in which they can be taken."""
    session = job.presenter.session
    table = session.reviewed.table
    if count:
        session.confirm_state(UNPLUGGED)
        session.measure_bulk(1.2)
    dead = [
        k
        for k, one in enumerate(table.candidates)
        if not one.probe.live and not probe_refusals(session.board, one.probe, session.facts)
    ]
    for column in itertools.islice(itertools.cycle(dead), count):
        low = float(table.low[0, column])
        unit = table.candidates[column].probe.unit
        seen = value(low, unit) if math.isfinite(low) else open_circuit(unit)
        session.take_reading(table.candidates[column], seen, "typed")


def measured(board: str, count: int, limit: float) -> float:
    """The median for a board with so many readings before, in ms."""
    from loose_rail.bootstrap import Workplace, engine_for
    from loose_rail.jobs import events as ev
    from loose_rail.screens.main_window import MainWindow
    from loose_rail.screens.shared.dispatch import Dispatcher
    from loose_rail.shop import Options

    whole: list[float] = []
    enter: list[float] = []
    with tempfile.TemporaryDirectory() as folder:
        window = MainWindow(Dispatcher(at_once=True))
        window.show()
        place = Workplace(Options(False, Path(folder) / "shop.sqlite"))
        opened = ev.JobOpened("0001", "A made-up set", board, "Dead, no light.", 40.0, "")
        place.store.append(1, [ev.Record(1, "2026-11-02T10:00:00.000+00:00", "bench 1", opened)])
        window.set_workplace(place, engine_for)
        window.open_job(1)
        assert window.job is not None
        job = window.job
        job.go("cold_checks")
        until_a_reading_is_asked(job)
        sound_readings(job, count)
        until_a_reading_is_asked(job)
        assert job.presenter.session.reviewed.task is not None
        unit = job.presenter.session.reviewed.task.candidate.probe.unit
        painted = [Painted(job.bench.rail_map), Painted(job.bench.suspects)]
        for number in range(ROUNDS):
            job.bench.card.entry.setText(f"{5 + number % 2}{unit}")
            QApplication.processEvents()
            before = [one.count for one in painted]
            start = time.perf_counter()
            job.command("enter")
            taken = time.perf_counter()
            QApplication.processEvents()
            whole.append(1000 * (time.perf_counter() - start))
            enter.append(1000 * (taken - start))
            assert len(job.presenter.session.state.live_readings) == count + 1, job.notice.text()
            assert all(one.count > old for one, old in zip(painted, before, strict=True))
            job.command("undo")
            QApplication.processEvents()
        start = time.perf_counter()
        for _ in range(ROUNDS):
            window.update()
            QApplication.processEvents()
        anew = 1000 * (time.perf_counter() - start) / ROUNDS
        window.close()
    median = statistics.median(whole)
    print(
        f"{board}, reading {count + 1} to redraw: median {median:.0f} ms (limit {limit:.0f}), "
        f"worst {max(whole):.0f}; Enter itself {statistics.median(enter):.0f}; the whole window "
        f"drawn anew {anew:.0f}"
    )
    return median


if __name__ == "__main__":
    sys.exit(main())
