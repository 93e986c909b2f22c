"""The form for a set that comes in: what was typed."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Form:
    """What was typed. `labels` are printed at the connectors, parted by commas or semicolons."""

    set_name: str
    numbers: str
    topology: str
    labels: str
    wake: str
    complaint: str
    limit: str
