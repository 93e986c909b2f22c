"""How a reading stands on the screen: as it was judged, or not read, or taken back."""

from __future__ import annotations

from enum import StrEnum


class Mark(StrEnum):
    """The shape and colour that a point, a rail or a line of the ledger is drawn with."""

    AGREES = "agrees"
    DISAGREES = "disagrees"
    DOUBTFUL = "doubtful"
    UNREAD = "unread"
    STRUCK = "struck"
