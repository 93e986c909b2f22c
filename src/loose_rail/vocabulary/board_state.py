"""The state a board is put into before a reading: a reading means nothing without it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Power(StrEnum):
    """How the board is powered and woken."""

    UNPLUGGED = "unplugged"
    STANDBY = "standby"
    FORCED = "forced"
    ON = "on"


@dataclass(frozen=True, slots=True, order=True)
class BoardState:
    """Mains, wake, main cable and limiter; `lamp_watts` 0 means straight on the mains, `without`
    names a load behind another connector that is unplugged."""

    power: Power
    main_cable: bool = False
    lamp_watts: int = 0
    without: str = ""

    @property
    def key(self) -> str:
        """A short stable key, such as `standby/cable/lamp60`."""
        if self.power is Power.UNPLUGGED:
            return "unplugged"
        cable = "cable" if self.main_cable else "bare"
        limiter = f"lamp{self.lamp_watts}" if self.lamp_watts else "direct"
        load = f"/no-{self.without}" if self.without else ""
        return f"{self.power}/{cable}/{limiter}{load}"

    @property
    def label(self) -> str:
        """The state in a few words, as the ledger shows it."""
        if self.power is Power.UNPLUGGED:
            return "drained"
        parts = ["lamp" if self.lamp_watts else "direct", str(self.power)]
        parts.append("cable on" if self.main_cable else "cable off")
        if self.without:
            parts.append(f"{self.without} unplugged")
        return ", ".join(parts)

    @property
    def plugged(self) -> bool:
        """True where mains is applied."""
        return self.power is not Power.UNPLUGGED


UNPLUGGED = BoardState(Power.UNPLUGGED)


def state_of(key: str) -> BoardState:
    """The state with this key. Raises ValueError where there is none such."""
    if key == "unplugged":
        return UNPLUGGED
    power, cable, limiter, *load = key.split("/")
    watts = int(limiter.removeprefix("lamp")) if limiter.startswith("lamp") else 0
    without = load[0].removeprefix("no-") if load else ""
    return BoardState(Power(power), cable == "cable", watts, without)
