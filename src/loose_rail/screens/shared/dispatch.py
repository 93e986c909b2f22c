"""Work off the main thread: frozen values in, frozen values out, answers on the main thread.

An answer that is no longer wanted is dropped by whoever asked; `Task.cancel` asks the work to stop
at its next progress report.
"""

from __future__ import annotations

import sys
import threading
from collections.abc import Callable
from typing import Any, TypeVar

from PyQt6.QtCore import QObject, QThreadPool, QTimer, pyqtSignal

from loose_rail.kernel.errors import LooseRailError

Answer = TypeVar("Answer")

WORKER_SLICE_SECONDS = 0.0005
"""How long a computing worker may keep the interpreter from the window. Python's own 5 ms are taken
at every call of the toolkit: a page beside a forecast took 1 s to draw, with this 0.14 s (measured
with benchmarks/large_shop.py)."""


HEAD_START_MILLISECONDS = 30
"""What the window gets to draw the page that asks before a worker takes the interpreter away."""


class CancelledError(Exception):
    """Raised inside the work when it has been asked to stop."""


class Task(QObject):
    """One piece of work; its signals arrive on the thread that made it."""

    done = pyqtSignal(object)
    failed = pyqtSignal(object)
    progressed = pyqtSignal(float, str)
    ended = pyqtSignal()
    """However it went: done, failed or cancelled."""

    def __init__(self, work: Callable[[Task], Any]) -> None:
        super().__init__()
        self._work = work
        self._stop = threading.Event()

    @property
    def cancelled(self) -> bool:
        """Whether it has been asked to stop."""
        return self._stop.is_set()

    def cancel(self) -> None:
        """Ask it to stop."""
        self._stop.set()

    def progress(self, share: float, words: str) -> None:
        """Report progress from the work; raises CancelledError where it should stop."""
        if self._stop.is_set():
            raise CancelledError
        self.progressed.emit(share, words)

    def execute(self) -> None:
        """Run the work; called on a worker thread."""
        try:
            self._execute()
        finally:
            self.ended.emit()

    def _execute(self) -> None:
        try:
            answer = self._work(self)
        except CancelledError:
            return
        except LooseRailError as error:
            self.failed.emit(error)
            return
        except Exception as error:  # noqa: BLE001 - a bug in the work is shown, not lost
            self.failed.emit(error)
            return
        if not self._stop.is_set():
            self.done.emit(answer)


class Dispatcher(QObject):
    """Runs tasks on a pool, or at once where tests and screenshots want it so."""

    def __init__(self, at_once: bool = False) -> None:
        super().__init__()
        sys.setswitchinterval(WORKER_SLICE_SECONDS)
        self._at_once = at_once
        self._pool = QThreadPool()
        self._pool.setMaxThreadCount(2)
        self._alive: set[Task] = set()

    def run(
        self,
        work: Callable[[Task], Answer],
        done: Callable[[Answer], object],
        failed: Callable[[Exception], object],
        progressed: Callable[[float, str], None] | None = None,
    ) -> Task:
        """Start a task; the callables are called on this thread."""
        task = Task(work)
        self._alive.add(task)
        task.done.connect(done)
        task.failed.connect(failed)
        task.ended.connect(lambda: self._alive.discard(task))
        if progressed is not None:
            task.progressed.connect(progressed)
        if self._at_once:
            task.execute()
        else:
            QTimer.singleShot(HEAD_START_MILLISECONDS, lambda: self._start(task))
        return task

    def _start(self, task: Task) -> None:
        if task in self._alive:
            self._pool.start(task.execute)

    @property
    def busy(self) -> bool:
        """Whether any task is still running."""
        return bool(self._alive)

    def stop(self, milliseconds: int = 5000) -> None:
        """Cancel everything and wait a moment."""
        for task in tuple(self._alive):
            task.cancel()
        self._pool.waitForDone(milliseconds)
        self._alive.clear()
