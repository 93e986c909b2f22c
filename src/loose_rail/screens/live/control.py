"""The meters' side of an open job: streams, what they hold, tones, speech and the foot switch."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

from PyQt6.QtCore import QObject, QTimer

from loose_rail.app.live_reading import LiveDesk
from loose_rail.app.outcome import Kind, Outcome
from loose_rail.app.stream import MakeLoop
from loose_rail.screens.live.present import live_state
from loose_rail.screens.live.state import LiveState
from loose_rail.screens.live.stream import MeterStream
from loose_rail.screens.shared.card.view import NextProbeCard
from loose_rail.screens.shared.session_bus import Awake, note
from loose_rail.screens.shared.sounds import Sounds

LIVE_MILLISECONDS = 80
"""Between two drawings of the reading: faster than an eye reads a number."""


class MeteredWindow(Protocol):
    """The window of a job, as its meters see it."""

    @property
    def card(self) -> NextProbeCard | None: ...
    def tell(self, outcome: Outcome) -> None: ...
    def say(self, text: str, kind: Kind = ...) -> None: ...
    def refresh(self) -> None: ...
    def focus_work(self) -> None: ...
    def show_live(self, state: LiveState) -> None: ...


class LiveControl(QObject):
    """Belongs to one window; streams run while continuous reading is on."""

    def __init__(self, view: MeteredWindow, desk: LiveDesk, loops: Sequence[MakeLoop]) -> None:
        super().__init__()
        self._view = view
        self._desk = desk
        self._loops = tuple(loops)
        self.sounds = Sounds()
        self._awake = Awake()
        self._streams: list[MeterStream] = []
        self._timer = QTimer(self)
        self._timer.setInterval(LIVE_MILLISECONDS)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.show)

    def turn(self) -> None:
        """M: continuous reading on or off."""
        if not self._loops:
            self._view.say("No meter is connected: Ctrl+M finds and connects one.", Kind.REFUSED)
            return
        self._view.tell(self._desk.turn())
        if self._desk.on:
            self._open()
        else:
            self.close()
        self._view.refresh()
        self._view.focus_work()

    def _open(self) -> None:
        self._awake.begin("A measurement is running")
        for number, make_loop in enumerate(self._loops):
            stream = MeterStream(make_loop)
            stream.sampled.connect(self._sampled)
            if number == 0:
                stream.troubled.connect(self._meter_troubled)
                stream.named.connect(self._desk.named)
            else:
                stream.ask(*self._desk.watching)
            self._streams.append(stream)

    def close(self) -> None:
        """End the streams. What they still have under way is let go: the views may be gone."""
        self.sounds.close()
        self._awake.end()
        self._timer.stop()
        for stream in self._streams:
            stream.stop()
        self._streams.clear()
        self.show()

    def ask(self) -> None:
        """The first meter follows the card."""
        if not self._streams:
            return
        asked = self._desk.asked()
        if asked is None:
            self._streams[0].rest()
        else:
            self._streams[0].ask(*asked)
        self.show()

    def _sampled(self, key: str, seconds: float, value: float) -> None:
        if not self._streams:
            return
        outcome = self._desk.sample(key, seconds, value)
        if outcome is not None:
            self._held(outcome)
        elif not self._timer.isActive():
            self._timer.start()

    def _held(self, outcome: Outcome) -> None:
        """A reading was taken without a hand: said, sounded, and the next card spoken."""
        self._view.tell(outcome)
        self._sound(outcome)
        note("Reading taken", outcome.text)
        card = self._view.card
        if card is not None:
            self.sounds.say(card.spoken())
        self._view.focus_work()

    def _sound(self, outcome: Outcome) -> None:
        self.sounds.play("held" if outcome.kind is Kind.DONE else "wrong")

    def _meter_troubled(self, words: str) -> None:
        if not self._streams:
            return
        if words and not self._desk.trouble:
            self.sounds.play("lost")
        self._desk.troubled(words)
        if words:
            self._view.say(words, Kind.REFUSED)
        else:
            self._view.say("The meter answers again.")
        self.show()

    def show(self) -> None:
        """Draw what the meters show."""
        state = live_state(self._desk)
        card = self._view.card
        if card is not None:
            words = state.trouble or " · ".join(
                filter(None, (state.phase_words, state.character or state.statistics))
            )
            card.show_live(state.reading if state.on else "", words if state.on else "")
        self._view.show_live(state)

    def hold(self) -> None:
        """Space while it is on: the display's reading counts now."""
        self._held(self._desk.hold())

    def acted(self, outcome: Outcome) -> None:
        """The foot switch did something: said and sounded."""
        self._view.tell(outcome)
        self._sound(outcome)
        self._view.focus_work()
