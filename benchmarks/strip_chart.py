"""Ten minutes at 1 kHz, scrolled and zoomed, and a ledger of 2,000 readings, against limits.

Each frame is a whole repaint into an image, without a monitor. Limits: 30 frames a second for the
chart, a twentieth of a second for a reading that comes into the long ledger.
Run: .venv/bin/python benchmarks/strip_chart.py
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np

SAMPLES, RATE_HERTZ = 600_000, 1000.0
LEAST_FRAMES_PER_SECOND = 30.0
LEDGER_ROWS = 2000
MOST_LEDGER_SECONDS = 0.05
MOST_JOB_SECONDS = 0.5
FRAMES = 60


def chart_rates() -> dict[str, float]:
    """Frames a second while scrolling at several zooms, and while zooming in and out."""
    from loose_rail.cli.window import make_application
    from loose_rail.screens.shared.strip_chart import StripChart

    app = make_application()
    chart = StripChart()
    chart.resize(790, 490)
    chart.show()
    seconds = np.arange(SAMPLES) / RATE_HERTZ
    rng = np.random.default_rng(1)
    values = 5.0 * (((seconds * 1.1) % 1) < 0.6) + 0.01 * rng.standard_normal(SAMPLES)
    chart.show_trace([("A", "V", seconds, values)])
    chart.show_band((4.75, 5.25))
    found = {}
    for span in (2.0, 60.0, 600.0):
        start = time.perf_counter()
        for frame in range(FRAMES):
            left = (600.0 - span) * frame / FRAMES
            chart.setXRange(left, left + span, padding=0.0)
            app.processEvents()
            chart.grab()
        found[f"scrolling {span:.0f} s"] = FRAMES / (time.perf_counter() - start)
    start = time.perf_counter()
    for frame in range(FRAMES):
        chart.zoom(1.2 if frame < FRAMES // 2 else 1 / 1.2)
        app.processEvents()
        chart.grab()
    found["zooming"] = FRAMES / (time.perf_counter() - start)
    return found


def ledger_seconds() -> float:
    """Seconds until one more reading stands in a ledger that has 2,000."""
    from loose_rail.cli.window import make_application
    from loose_rail.screens.shared.rows import LedgerRow
    from loose_rail.screens.shared.tables import Ledger
    from loose_rail.vocabulary.mark import Mark

    app = make_application()
    ledger = Ledger()
    ledger.resize(790, 220)
    ledger.show()
    rows = tuple(
        LedgerRow(
            number=str(k),
            probe="5 V standby, CN2-2",
            state="drained",
            reading="4.98 V",
            expected="4.74–5.24 V",
            verdict=Mark.AGREES,
            reason="",
            struck=False,
        )
        for k in range(1, LEDGER_ROWS + 2)
    )
    ledger.show_rows(rows[:-1])
    app.processEvents()
    start = time.perf_counter()
    ledger.show_rows(rows)
    app.processEvents()
    ledger.grab()
    return time.perf_counter() - start


def job_seconds() -> float:
    """Seconds from an accepted entry to the whole bench state, in a job of 2,000 readings."""
    from loose_rail.app.clock import SystemClock
    from loose_rail.app.log import JobLog
    from loose_rail.app.session import JobSession
    from loose_rail.boards.load import shipped_board
    from loose_rail.bootstrap import engine_for
    from loose_rail.jobs import events as ev
    from loose_rail.practice.demo import fill_store
    from loose_rail.screens.bench.present import bench_state
    from loose_rail.storage.store import SqliteStore

    board = shipped_board("PB-4310-2")
    engine = engine_for(board)
    table = engine.table
    with tempfile.TemporaryDirectory() as folder:
        store = SqliteStore(Path(folder) / "shop.sqlite")
        fill_store(store)
        count = len(store.load(1))
        sound = [k for k in range(len(table.candidates)) if np.isfinite(table.low[0, k])]
        records = []
        for number in range(LEDGER_ROWS):
            column = sound[number % len(sound)]
            candidate, value = table.candidates[column], float(table.low[0, column])
            unit = candidate.probe.unit
            event = ev.ReadingTaken(
                probe=candidate.probe.id,
                state=candidate.state.key,
                form="value",
                unit=unit,
                low=value,
                high=value,
            )
            at = "2026-11-02T10:00:00.000+00:00"
            records.append(ev.Record(count + number + 1, at, "bench 1", event))
        store.append(1, records)
        session = JobSession(JobLog(store, 1), board, SystemClock())
        session.set_engine(engine)
        bench_state(session, False)
        start = time.perf_counter()
        session.measure_bulk(1.0)
        bench_state(session, False)
        taken = time.perf_counter() - start
        store.close()
    return taken


def main() -> int:
    """Print every figure with its limit; exit code 1 where one is missed."""
    missed = False
    for words, rate in chart_rates().items():
        missed |= rate < LEAST_FRAMES_PER_SECOND
        print(f"{words:18s} {rate:6.0f} frames/s (limit {LEAST_FRAMES_PER_SECOND:.0f})")
    taken = ledger_seconds()
    missed |= taken > MOST_LEDGER_SECONDS
    print(f"ledger of {LEDGER_ROWS}    {1000 * taken:6.1f} ms a reading (limit 50)")
    taken = job_seconds()
    missed |= taken > MOST_JOB_SECONDS
    print(f"job of {LEDGER_ROWS}       {1000 * taken:6.1f} ms an entry (limit 500)")
    return int(missed)


if __name__ == "__main__":
    sys.exit(main())
