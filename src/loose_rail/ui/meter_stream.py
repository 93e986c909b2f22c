"""A meter's stream on a thread of its own, its samples as signals on the main thread."""

from __future__ import annotations

import threading
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

STOP_SECONDS = 0.05
_ENDING: set[QObject] = set()
"""Streams that were told to end and still wait for a silent meter: kept until they have."""


class MeterStream(QObject):
    """Runs a `presenters.job` stream loop; signals arrive queued on the thread that made it."""

    sampled = pyqtSignal(str, float, float)
    troubled = pyqtSignal(str)
    named = pyqtSignal(str)

    def __init__(self, make_loop: Any) -> None:
        super().__init__()
        self._loop = make_loop(self.sampled.emit, self.troubled.emit, self.named.emit)
        self._thread = threading.Thread(target=self._run, daemon=True, name="meter")
        self._thread.start()

    def _run(self) -> None:
        self._loop.run()
        _ENDING.discard(self)

    def ask(self, key: str, mode: Any) -> None:
        """Read this point from the next sample on."""
        self._loop.ask(key, mode)

    def rest(self) -> None:
        """Read nothing for now."""
        self._loop.rest()

    def stop(self) -> None:
        """End the thread soon; the window does not wait for a meter that is silent."""
        self.blockSignals(True)
        _ENDING.add(self)
        self._loop.stop()
        self._thread.join(STOP_SECONDS)
        if not self._thread.is_alive():
            _ENDING.discard(self)
