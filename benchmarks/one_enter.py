"""What one Enter, one keystroke and one sample of a meter set going: functions entered, and how
often each piece of the diagnosis is asked for.

Drives the real window offscreen on the demo job under `sys.setprofile`. Aim: the ranking, the
look-ahead and the suspects once per Enter, never per keystroke and never per sample.
Run: .venv/bin/python benchmarks/one_enter.py
"""

from __future__ import annotations

import os
import sys
import tempfile
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from types import FrameType
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
WATCHED = {
    "assess": ("Engine.weigh",),
    "ranking": ("Planner.rank",),
    "look-ahead": ("branches", "look_ahead"),
    "suspects": ("suspects_of",),
    "review": ("JobPresenter.task", "review"),
    "short": ("short_excluded",),
}
"""Pieces of the diagnosis by the names that their functions have or had."""


class Counted:
    """Functions of the application entered while it is installed."""

    def __init__(self) -> None:
        self.calls: Counter[str] = Counter()
        self.files: set[str] = set()

    def __call__(self, frame: FrameType, event: str, _: object) -> None:
        code = frame.f_code
        if event == "call" and "loose_rail" in code.co_filename and "<" not in code.co_name:
            self.calls[f"{code.co_filename}:{code.co_qualname}"] += 1
            self.files.add(code.co_filename)

    def times(self, names: tuple[str, ...]) -> int:
        """How often functions of these names were entered."""
        return sum(n for key, n in self.calls.items() if key.rpartition(":")[2] in names)


def counted(work: Callable[[], object]) -> Counted:
    """What a piece of work enters."""
    found = Counted()
    sys.setprofile(found)
    try:
        work()
    finally:
        sys.setprofile(None)
    return found


def until_a_reading_is_asked(job: Any) -> None:
    """Confirm what the card asks for, and measure the bulk, until it takes a reading."""
    for _ in range(6):
        phase = job.bench.card.phase
        if phase == "reading":
            return
        if phase in ("bulk", "lamp"):
            job.bench.card.entry.setText("1.4" if phase == "bulk" else "2")
            job.command("enter")
        else:
            job.command("confirm")
    raise AssertionError(f"the card still says {job.bench.card.phase}")


def main() -> int:
    """Print a line for each; exit code 1 where an aim is missed."""
    from PyQt6.QtWidgets import QApplication

    from loose_rail.bootstrap import Workplace, engine_for
    from loose_rail.cli.window import make_application
    from loose_rail.screens.main_window import MainWindow
    from loose_rail.screens.shared.dispatch import Dispatcher
    from loose_rail.shop import Options

    app = make_application()
    with tempfile.TemporaryDirectory() as folder:
        window = MainWindow(Dispatcher(at_once=True))
        window.show()
        data = Path(folder) / "shop.sqlite"
        window.set_workplace(Workplace(Options(True, data, "", True)), engine_for)
        window.open_job(1)
        job = window.job
        assert job is not None
        QApplication.processEvents()
        until_a_reading_is_asked(job)

        def enter() -> None:
            job.command("enter")
            app.processEvents()
            window.grab()

        def key() -> None:
            job.bench.card.entry.setText("3.2")
            app.processEvents()
            window.grab()

        keystroke = counted(key)
        pressed = counted(enter)
        assert len(job.presenter.session.state.live_readings) == 1, job.notice.text()
        job.presenter.live.turn()
        job.presenter.live.asked()
        sample = counted(lambda: job.presenter.live.sample("watch", 0.0, 1.4))
        window.close()
    good = True
    for name, found in (("Enter", pressed), ("keystroke", keystroke), ("sample", sample)):
        words = [f"{what} {found.times(names)}" for what, names in WATCHED.items()]
        print(
            f"{name:10s} {len(found.calls):4d} functions in {len(found.files):3d} modules; "
            + ", ".join(words)
        )
        most = 1 if found is pressed else 0
        good &= all(found.times(WATCHED[k]) <= most for k in ("ranking", "look-ahead", "suspects"))
    return 0 if good else 1


if __name__ == "__main__":
    sys.exit(main())
