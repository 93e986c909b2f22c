"""One application for all window tests, and hands that press real keys."""

from __future__ import annotations

import math
import sys
import tempfile
import time
import unittest
from collections.abc import Callable
from functools import cache
from pathlib import Path
from types import TracebackType

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtWidgets import QApplication, QWidget

from loose_rail.app.session import JobSession
from loose_rail.bootstrap import Workplace, engine_for
from loose_rail.cli.window import make_application
from loose_rail.screens.job.view import JobView
from loose_rail.screens.main_window import MainWindow
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.shop import Options
from tests.fakes.qt_test import QTest

STAGES = (
    "take_in",
    "strip_down",
    "look_over",
    "cold_checks",
    "verdict",
    "parts",
    "rework",
    "power_up",
    "hand_back",
)


RAISED: list[BaseException] = []
"""What was raised into the event loop (a paint, a slot, a timer) since the last window closed."""


def _raised(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
    RAISED.append(error)
    sys.__excepthook__(kind, error, trace)


@cache
def application() -> QApplication:
    """The one application; kept, because PyQt destroys one that nobody holds."""
    sys.excepthook = _raised
    return make_application()


def open_window(data: Path, at_once: bool = True, meter: str = "") -> MainWindow:
    """The demo shop in a window, on a database that stays."""
    application()
    window = MainWindow(Dispatcher(at_once))
    window.show()
    window.set_workplace(Workplace(Options(True, data, meter, True)), engine_for)
    window.activateWindow()
    settle(window.isActiveWindow)
    return window


def demo_job(case: unittest.TestCase, stage: str, at_once: bool = True) -> JobView:
    """The demo job in a window of its own at a stage; closed with the test."""
    folder = tempfile.TemporaryDirectory()
    case.addCleanup(folder.cleanup)
    window = open_window(Path(folder.name) / "shop.sqlite", at_once)
    case.addCleanup(close_window, window)
    window.open_job(1)
    job = window.job
    assert job is not None
    settle(lambda: job.presenter.session.review is not None, 60)
    measured_empty(job)
    job.go(stage)
    job.focus_work()
    return job


def close_window(window: MainWindow) -> None:
    """Close it and let it be deleted, so that the next one can have the keys. Raises AssertionError
    where an error was raised into the event loop meanwhile."""
    window.close()
    window.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    QApplication.processEvents()
    raised, RAISED[:] = tuple(RAISED), ()
    if raised:
        raise AssertionError(f"raised into the event loop: {raised}")


def settle(until: Callable[[], bool] = lambda: True, seconds: float = 20.0) -> None:
    """Let events pass until something holds. Raises AssertionError where it never does."""
    end = time.monotonic() + seconds
    while True:
        QApplication.processEvents()
        if until():
            return
        if time.monotonic() > end:
            raise AssertionError("it never came")
        time.sleep(0.01)


def focus() -> QWidget:
    """The widget that would get the next key."""
    widget = QApplication.focusWidget()
    assert widget is not None
    return widget


def press(key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    """One key at whatever has the focus."""
    QTest.keyClick(focus(), key, modifier)
    QApplication.processEvents()


def write(text: str) -> None:
    """Type a line key by key, each to whatever has the focus by then, and press Enter."""
    for letter in text:
        QTest.keyClick(focus(), letter)
    press(Qt.Key.Key_Return)


PATTERN_KEYS = {"dark": "1", "flash_dark": "2", "glows": "3", "pulses": "4", "bright": "5"}


def measured_empty(job: JobView) -> None:
    """What is asked for again in each sitting: the bulk of a board recorded as unplugged."""
    state = job.presenter.session.state
    if state.state_known and not state.board_state.plugged:
        job.presenter.session.measure_bulk(1.2)


def follow_card(
    job: JobView,
    answer: Callable[[], str],
    steps: int = 60,
    lamp: Callable[[], str] = lambda: "flash_dark",
) -> int:
    """Do what the bench's card says, typing `answer()` at each probe, telling what `lamp()` does,
    until it offers no more.

    Returns the readings taken; raises AssertionError where the card never comes to its end.
    """
    for _ in range(steps):
        phase = job.bench.card.phase
        if phase == "nothing":
            return len(job.presenter.session.state.live_readings)
        if phase in ("state", "acknowledge"):
            press(Qt.Key.Key_B)
            continue
        if phase == "lamp":
            write(PATTERN_KEYS[lamp()])
            continue
        write("1.2" if phase == "bulk" else answer())
        if job.bench.card.entry.text():  # an absurd value is asked about once
            press(Qt.Key.Key_Return)
    raise AssertionError(f"{job.presenter.session.reviewed.task} {job.notice.text()}")


def rework_all(job: JobView) -> None:
    """Measure what is asked, then Enter for every step of every part. Raises AssertionError where
    it has no end."""
    for _ in range(60):
        if job.presenter.stage != "rework":
            return
        rework_one(job)
    raise AssertionError("the rework has no end")


def rework_one(job: JobView) -> None:
    """Measure what is asked, or take the next step."""
    state = job.presenter.session.state
    if not state.state_known or state.board_state.plugged:
        press(Qt.Key.Key_U)
    elif job.presenter.session.to_measure():
        write("0.4")
    else:
        job.go_on()


def prove(job: JobView, lamp: str = "flash_dark") -> None:
    """Type what a sound board reads at every point of the proof. Raises AssertionError where it has
    no end."""
    session = job.presenter.session
    job.focus_work()
    for _ in range(40):
        phase = job.presenter.power_up().card.phase
        if phase == "nothing":
            return
        if phase in ("state", "acknowledge"):
            press(Qt.Key.Key_B)
        elif phase == "lamp":
            write(PATTERN_KEYS[lamp])
        elif phase == "light":
            write("1")
        else:
            write("0.4" if phase == "bulk" else sound_reading(session))
    raise AssertionError("the proof has no end")


def sound_reading(session: JobSession) -> str:
    """What a sound board reads at the point that is asked for, as it is typed."""
    task = session.reviewed.task
    assert task is not None
    table = session.reviewed.table
    low = float(table.low[0, table.index(task.candidate.key)])
    return f"{low:.4g}" if math.isfinite(low) else "OL"
