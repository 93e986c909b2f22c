"""Times of the log, which are in UTC, as the clock on the wall shows them here."""

from __future__ import annotations

from datetime import datetime


def clock_words(at: str) -> str:
    """An ISO time as hours and minutes of this place."""
    return datetime.fromisoformat(at).astimezone().strftime("%H:%M")
