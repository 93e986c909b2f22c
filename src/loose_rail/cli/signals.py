"""Ctrl+C, a log-out and `kill` end the program as closing its window does.

Python runs no handler while Qt waits, so the signal wakes Qt over a socket (signal.set_wakeup_fd).
A second one ends the program at once.
"""

from __future__ import annotations

import signal
import socket
from collections.abc import Callable
from types import FrameType

from PyQt6 import sip
from PyQt6.QtCore import QSocketNotifier

ENDING = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


class Endings:
    """Listens for signals that ask the program to end; keep it while it should."""

    def __init__(self, end: Callable[[], None]) -> None:
        self._end = end
        self.code = 0
        self._reading, self._writing = socket.socketpair()
        self._writing.setblocking(False)
        signal.set_wakeup_fd(self._writing.fileno(), warn_on_full_buffer=False)
        self._before = {one: signal.signal(one, self._noted) for one in ENDING}
        read = QSocketNotifier.Type.Read
        self._notifier = QSocketNotifier(sip.voidptr(self._reading.fileno()), read)
        self._notifier.activated.connect(self._woken)

    def _noted(self, number: int, frame: FrameType | None) -> None:
        """Python's own handler: the next signal of the kind is not caught any more."""
        del frame
        signal.signal(number, signal.SIG_DFL)
        self.code = number

    def _woken(self) -> None:
        self._reading.recv(16)
        if self.code:
            self._end()

    def let_go(self) -> None:
        """Back to how it was."""
        self._notifier.setEnabled(False)
        signal.set_wakeup_fd(-1)
        for number, before in self._before.items():
            signal.signal(number, before)
        self._reading.close()
        self._writing.close()
