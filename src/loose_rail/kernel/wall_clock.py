"""Times of the log, which are in UTC, as the clock on the wall shows them here."""

from __future__ import annotations

from datetime import UTC, datetime


def moment(at: str) -> datetime:
    """The moment of an ISO time; one without a zone is in UTC, as the log is."""
    found = datetime.fromisoformat(at)
    return found if found.tzinfo else found.replace(tzinfo=UTC)


def clock_words(at: str) -> str:
    """An ISO time as hours and minutes of this place."""
    return moment(at).astimezone().strftime("%H:%M")
