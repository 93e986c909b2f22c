"""What stands in line with the board does, as a person sees it: a series lamp, or a resistor."""

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

    def of_limiter(self, lamp: bool) -> str:
        """As it is said of a lamp, or of a resistor in its place."""
        return _LABELS[self] if lamp else _OF_A_RESISTOR[self]

    @property
    def is_dark(self) -> bool:
        """Whether it ends dark: what it does where nothing behind it is shorted."""
        return self in (LampPattern.DARK, LampPattern.FLASH_DARK)

    @property
    def draws(self) -> bool:
        """Whether something behind it draws what it should not: no full mains."""
        return not self.is_dark


def patterns_of(lamp: bool) -> tuple[LampPattern, ...]:
    """What can be told of a lamp, or of a resistor, in the order of the keys."""
    return tuple(LampPattern) if lamp else tuple(_OF_A_RESISTOR)


_LABELS = {
    LampPattern.DARK: "stays dark",
    LampPattern.FLASH_DARK: "flashes, then dark",
    LampPattern.GLOWS: "glows steadily",
    LampPattern.PULSES: "pulses",
    LampPattern.BRIGHT: "full bright",
}
_OF_A_RESISTOR = {
    LampPattern.DARK: "stays cool",
    LampPattern.GLOWS: "warms within seconds",
    LampPattern.BRIGHT: "hot, smells or smokes",
}
