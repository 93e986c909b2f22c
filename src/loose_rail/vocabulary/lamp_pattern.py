"""What a series lamp in line with the board does, as a person sees it."""

from __future__ import annotations

from enum import StrEnum


class LampPattern(StrEnum):
    """The patterns in the order of the keys 1 to 5."""

    DARK = "dark"
    FLASH_DARK = "flash_dark"
    GLOWS = "glows"
    PULSES = "pulses"
    BRIGHT = "bright"

    @property
    def label(self) -> str:
        """The pattern as a person would say it."""
        return _LABELS[self]

    @property
    def is_dark(self) -> bool:
        """Whether it ends dark: what it does where nothing behind it is shorted."""
        return self in (LampPattern.DARK, LampPattern.FLASH_DARK)

    @property
    def draws(self) -> bool:
        """Whether something behind it draws what it should not: no full mains."""
        return not self.is_dark


_LABELS = {
    LampPattern.DARK: "stays dark",
    LampPattern.FLASH_DARK: "flashes, then dark",
    LampPattern.GLOWS: "glows steadily",
    LampPattern.PULSES: "pulses",
    LampPattern.BRIGHT: "full bright",
}
