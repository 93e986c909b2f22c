"""The meters' side of an open job: streams, what they hold, tones, speech and the foot switch."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QTimer

from loose_rail.app.outcome import Outcome
from loose_rail.screens.live.stream import MeterStream
from loose_rail.screens.shared.sounds import Sounds

if TYPE_CHECKING:
    from loose_rail.screens.job.view import JobView

LIVE_MILLISECONDS = 80
"""Between two drawings of the live reading: faster than an eye reads a number."""


class LiveControl(QObject):
    """Belongs to one `JobView`; streams run while its presenter's live desk is on."""

    def __init__(self, view: JobView) -> None:
        super().__init__(view)
        self._view = view
        self.presenter = view.presenter
        self.sounds = Sounds()
        self._streams: list[MeterStream] = []
        self._timer = QTimer(self)
        self._timer.setInterval(LIVE_MILLISECONDS)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.show)

    def turn(self) -> None:
        """M: the live meters on or off."""
        if not self.presenter.streams:
            self._view.say("No meter is connected: Ctrl+M finds and connects one.", "problem")
            return
        self._view.tell(self.presenter.live.turn())
        if self.presenter.live.on:
            self._open()
        else:
            self.close()
        self._view.refresh()
        self._view.focus_work()

    def _open(self) -> None:
        for number, make_loop in enumerate(self.presenter.streams):
            stream = MeterStream(make_loop)
            stream.sampled.connect(self._sampled)
            if number == 0:
                stream.troubled.connect(self._meter_troubled)
                stream.named.connect(self.presenter.live.named)
            else:
                stream.ask(*self.presenter.live.watching)
            self._streams.append(stream)

    def close(self) -> None:
        """End the streams."""
        self.sounds.close()
        for stream in self._streams:
            stream.stop()
        self._streams.clear()
        self.show()

    def ask(self) -> None:
        """The first meter follows the card."""
        if not self._streams:
            return
        asked = self.presenter.live.asked()
        if asked is None:
            self._streams[0].rest()
        else:
            self._streams[0].ask(*asked)
        self.show()

    def _sampled(self, key: str, seconds: float, value: float) -> None:
        notice = self.presenter.live.sample(key, seconds, value)
        if notice is not None:
            self._held(notice)
        elif not self._timer.isActive():
            self._timer.start()

    def _held(self, notice: Outcome) -> None:
        """A reading was taken without a hand: said, sounded, and the next card spoken."""
        self._view.tell(notice)
        self.sounds.play("held" if notice.kind == "info" else "wrong")
        card = self._view.card
        if card is not None:
            self.sounds.say(card.spoken())
        self._view.focus_work()

    def _meter_troubled(self, words: str) -> None:
        if words and not self.presenter.live.trouble:
            self.sounds.play("lost")
        self.presenter.live.troubled(words)
        if words:
            self._view.say(words, "problem")
        else:
            self._view.say("The meter answers again.")
        self.show()

    def show(self) -> None:
        """Draw what the meters show."""
        state = self.presenter.live.state()
        self._view.bench.show_live(state)
        card = self._view.card
        if card is not None:
            words = state.trouble or " · ".join(
                filter(None, (state.phase_words, state.character or state.statistics))
            )
            card.show_live(state.reading if state.on else "", words if state.on else "")
        self._view.state_strip.show_watched(state.watched)
        if self._view.pages.currentWidget() is self._view.trace:
            self._view.trace.show_trace()

    def hold(self) -> None:
        """Space while live: the display's reading counts now."""
        self._held(self.presenter.live.hold())

    def foot(self) -> None:
        """The foot switch: confirm, hold, read or go on, whatever is next."""
        if self._view.card is None:
            self._view.go_on()
            return
        notice = self.presenter.foot()
        if notice is None:
            self._view.measure()
            return
        self._view.tell(notice)
        self.sounds.play("held" if notice.kind == "info" else "wrong")
        self._view.focus_work()
