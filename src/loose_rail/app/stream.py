"""Reads a meter without end on a thread of its own; a meter that drops out is opened again.

Nothing here blocks whoever asks: `ask` and `stop` only leave a word. Every sample carries the key
of the point it was asked for, so that late ones can be dropped.
"""

from __future__ import annotations

import threading
import time
from collections.abc import Callable

from loose_rail.app.ports import Meter
from loose_rail.kernel.errors import MeterError, MeterTalkError
from loose_rail.vocabulary.meter_mode import MeterMode

AGAIN_SECONDS = 1.0
IDLE_SECONDS = 0.05
LEAST_SECONDS = 0.01
"""Between two samples: a quick meter must not bury the window under them."""
MOST_RUBBISH = 5

OnSample = Callable[[str, float, float], None]
OnWords = Callable[[str], None]


class StreamLoop:
    """`run` belongs on a thread. Callbacks come from that thread.

    `on_sample` gets key, seconds and value; `on_trouble` a sentence, or an empty one when the meter
    answers again; `on_name` the meter's own name.
    """

    def __init__(
        self,
        opener: Callable[[], Meter],
        on_sample: OnSample,
        on_trouble: Callable[[str], None],
        on_name: Callable[[str], None],
        clock: Callable[[], float] = time.monotonic,
        least_seconds: float = LEAST_SECONDS,
    ) -> None:
        self._opener = opener
        self._least_seconds = least_seconds
        self._on_sample, self._on_trouble, self._on_name = on_sample, on_trouble, on_name
        self._clock = clock
        self._wanted: tuple[str, MeterMode] | None = None
        self._stop = threading.Event()
        self._rubbish = 0

    def ask(self, key: str, mode: MeterMode) -> None:
        """From the next sample on, this point in this setting."""
        self._wanted = (key, mode)

    def rest(self) -> None:
        """Read nothing for now."""
        self._wanted = None

    def stop(self) -> None:
        """End soon."""
        self._stop.set()

    def run(self) -> None:
        """Read until told to stop."""
        meter: Meter | None = None
        troubled = False
        try:
            while not self._stop.is_set():
                wanted = self._wanted
                if wanted is None:
                    self._stop.wait(IDLE_SECONDS)
                    continue
                try:
                    if meter is None:
                        meter = self._opener()
                        self._on_name(meter.name)
                    value = meter.read(wanted[1])
                except MeterError as error:
                    if self._stop.is_set():
                        break
                    troubled = True
                    self._on_trouble(error.one_line())
                    meter = self._after(error, meter)
                    continue
                self._rubbish = 0
                if troubled:
                    troubled = False
                    self._on_trouble("")
                self._on_sample(wanted[0], self._clock(), value)
                self._stop.wait(self._least_seconds)
        finally:
            if meter is not None:
                meter.close()

    def _after(self, error: MeterError, meter: Meter | None) -> Meter | None:
        """What rubbish came once is read again; a silent meter is closed and opened again."""
        self._rubbish += 1
        if isinstance(error, MeterTalkError) and self._rubbish < MOST_RUBBISH:
            self._stop.wait(IDLE_SECONDS)
            return meter
        if meter is not None:
            try:
                meter.close()
            except MeterError as closing:
                self._on_trouble(closing.one_line())
        self._stop.wait(AGAIN_SECONDS)
        return None


MakeLoop = Callable[[OnSample, OnWords, OnWords], StreamLoop]
"""Makes the loop of one meter: told what to call for a sample, for trouble, for its name."""
