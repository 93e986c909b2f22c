"""One reading from the meter, off the window's thread: asked for, told as it goes, taken or not."""

from __future__ import annotations

from typing import Protocol

from loose_rail.app.metered_entry import MeteredEntry
from loose_rail.app.outcome import Kind, Outcome
from loose_rail.kernel.errors import LooseRailError
from loose_rail.kernel.observation import Observation
from loose_rail.screens.shared.card.view import NextProbeCard
from loose_rail.screens.shared.dispatch import Dispatcher, Task


class MeasuringHost(Protocol):
    """The window of a job, as far as a reading needs it."""

    @property
    def dispatcher(self) -> Dispatcher: ...
    @property
    def card(self) -> NextProbeCard | None: ...
    def tell(self, outcome: Outcome) -> None: ...
    def say(self, text: str, kind: Kind = ...) -> None: ...
    def focus_work(self) -> None: ...


class Measuring:
    """`turn` asks for a reading, or cancels the one that is being taken."""

    def __init__(self, host: MeasuringHost, entry: MeteredEntry) -> None:
        self._host = host
        self._entry = entry
        self.task: Task | None = None

    def turn(self) -> None:
        """Take the reading from the meter; a second call cancels it."""
        if self.task is not None:
            self.cancel()
            self.task = None
            self._host.say("Reading cancelled.")
            return
        request = self._entry.request()
        if isinstance(request, Outcome):
            self._host.tell(request)
            return
        self._show("reading the meter …")
        self.task = self._host.dispatcher.run(
            lambda task: self._entry.measure(request, task),
            lambda answer: self._measured(request.key, answer),
            self._failed,
            lambda share, words: self._show(words),
        )
        if not self._host.dispatcher.busy:
            self.task = None

    def cancel(self) -> None:
        """Let a reading go that is being taken."""
        if self.task is not None:
            self.task.cancel()

    def _show(self, words: str) -> None:
        card = self._host.card
        if card is not None:
            card.show_measuring(words)
        else:
            self._host.say(words)

    def _measured(self, key: str, answer: tuple[Observation, str] | None) -> None:
        self.task = None
        if answer is None:
            return
        seen, name = answer
        card = self._host.card
        if card is not None and not card.entry.text():
            card.show_measuring("")
        self._host.tell(self._entry.meter_reading(key, seen, name))
        self._host.focus_work()

    def _failed(self, error: Exception) -> None:
        self.task = None
        card = self._host.card
        if card is not None:
            card.show_measuring("")
        words = error.one_line() if isinstance(error, LooseRailError) else str(error)
        self._host.say(words, Kind.REFUSED)
