"""The system's clock as the application's port."""

from __future__ import annotations

from datetime import UTC, datetime


class SystemClock:
    """Time from the operating system."""

    def now(self) -> str:
        """Now, as ISO 8601 text in UTC with milliseconds."""
        return datetime.now(UTC).isoformat(timespec="milliseconds")
