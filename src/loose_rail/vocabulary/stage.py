"""The stages of a job, in the order in which practitioners work: what each is called and is."""

from __future__ import annotations

from enum import StrEnum


class Stage(StrEnum):
    """A stage by its key in the log."""

    TAKE_IN = "take_in"
    STRIP_DOWN = "strip_down"
    LOOK_OVER = "look_over"
    COLD_CHECKS = "cold_checks"
    LIVE_CHECKS = "live_checks"
    VERDICT = "verdict"
    PARTS = "parts"
    REWORK = "rework"
    POWER_UP = "power_up"
    HAND_BACK = "hand_back"

    @property
    def label(self) -> str:
        """What it is called on the screen."""
        return self.value.replace("_", " ").capitalize()

    @property
    def position(self) -> int:
        """Its place on the track from 0."""
        return list(Stage).index(self)

    @property
    def checks(self) -> bool:
        """Whether the bench stands there: cold and live checks."""
        return self in (Stage.COLD_CHECKS, Stage.LIVE_CHECKS)

    @property
    def probes(self) -> bool:
        """Whether probes are read there."""
        return self.checks or self is Stage.POWER_UP
