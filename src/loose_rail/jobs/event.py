"""The base of every event of a job's log."""

from __future__ import annotations

import msgspec


class Event(msgspec.Struct, frozen=True, tag_field="kind", forbid_unknown_fields=True):
    """Base of all events."""
