"""Reminds of a look at a running soak that is due: once for each, on the desktop and below."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer

from loose_rail.screens.shared.session_bus import note

EVERY_MILLISECONDS = 20_000


class SoakTimer:
    """Asks every so often what is due; `due` says it in words, empty where nothing is."""

    def __init__(
        self, parent: QObject, due: Callable[[], str], tell: Callable[[str], None]
    ) -> None:
        self._due, self._tell = due, tell
        self._told = ""
        self._timer = QTimer(parent)
        self._timer.setInterval(EVERY_MILLISECONDS)
        self._timer.timeout.connect(self.look)
        self._timer.start()

    def look(self) -> None:
        """Tell what is due, once."""
        words = self._due()
        if words and words != self._told:
            note("A look at the soak is due", words)
            self._tell(words)
        self._told = words

    def stop(self) -> None:
        """The job is closed."""
        self._timer.stop()
