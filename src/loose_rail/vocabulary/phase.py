"""What the card asks for now, and with it what the entry line takes."""

from __future__ import annotations

from enum import StrEnum


class Phase(StrEnum):
    """The phases of the card."""

    READING = "reading"
    RESERVOIR = "bulk"
    """Volts across a reservoir, before a hand or a dead-board reading goes near it."""
    STATE = "state"
    """The board is brought into a state and that is confirmed."""
    LAMP = "lamp"
    """What the series lamp does."""
    LIGHT = "light"
    """What light and picture of the repaired set do, switched on."""
    ACKNOWLEDGE = "acknowledge"
    """What this kind of set stores, read once a job."""
    NOTHING = "nothing"
    WAITING = "waiting"
    """For the predictions."""
    FAILED = "failed"
    """The predictions could not be worked out."""
