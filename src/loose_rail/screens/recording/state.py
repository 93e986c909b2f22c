"""The recording: what the page draws."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

Channels = tuple[tuple[str, str, Any, Any], ...]
"""Name, unit, seconds and values of each."""


@dataclass(frozen=True, slots=True)
class TraceState:
    """What the page draws; `channels` are name, unit, seconds and values, `below` those that need a
    scale of their own."""

    channels: Channels
    below: Channels
    markers: tuple[tuple[float, str], ...]
    band: tuple[float, float] | None
    facts: tuple[str, ...]
