"""A meter's stream on a thread of its own, its samples as signals on the main thread."""

from __future__ import annotations

import threading
import time
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

if TYPE_CHECKING:
    from loose_rail.app.stream import MakeLoop
    from loose_rail.vocabulary.meter_mode import MeterMode

STOP_SECONDS = 0.05
_ENDING: set[MeterStream] = set()
"""Streams that were told to end and still wait for a silent meter: kept until they have."""


def let_streams_end(seconds: float) -> None:
    """The program ends: give streams that were told to stop a moment to let go of their meters."""
    end = time.monotonic() + seconds
    for stream in list(_ENDING):
        stream.worker.join(max(0.0, end - time.monotonic()))


class MeterStream(QObject):
    """Runs a stream loop; signals arrive queued on the thread that made it."""

    sampled = pyqtSignal(str, float, float)
    troubled = pyqtSignal(str)
    named = pyqtSignal(str)

    def __init__(self, make_loop: MakeLoop) -> None:
        super().__init__()
        self._loop = make_loop(self.sampled.emit, self.troubled.emit, self.named.emit)
        self.worker = threading.Thread(target=self._run, daemon=True, name="meter")
        self.worker.start()

    def _run(self) -> None:
        self._loop.run()
        _ENDING.discard(self)

    def ask(self, key: str, mode: MeterMode) -> None:
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
        self.worker.join(STOP_SECONDS)
        if not self.worker.is_alive():
            _ENDING.discard(self)
