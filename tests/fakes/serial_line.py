"""A meter at the far end of a serial line: a pseudo-terminal whose lines a function answers."""

from __future__ import annotations

import os
import pty
import threading
import tty
from collections.abc import Callable


class SerialLine:
    """`path` is the device to open; `answer` gets each line as text and returns one or None."""

    def __init__(self, answer: Callable[[str], str | None]) -> None:
        self._near, far = pty.openpty()
        tty.setraw(self._near)
        tty.setraw(far)
        self.path = os.ttyname(far)
        self._answer = answer
        threading.Thread(target=self._serve, daemon=True).start()

    def _serve(self) -> None:
        waiting = b""
        while True:
            try:
                waiting += os.read(self._near, 200)
            except OSError:
                return
            while b"\n" in waiting:
                line, waiting = waiting.split(b"\n", 1)
                answer = self._answer(line.decode())
                if answer is not None:
                    os.write(self._near, answer.encode() + b"\n")
