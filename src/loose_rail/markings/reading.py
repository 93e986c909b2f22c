"""One way to read a marking: value, tolerance, ratings, and how it comes out, step by step."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum

from loose_rail.kernel.quantities import nominal


class MarkedKind(StrEnum):
    """What kind of part a marking stands on."""

    RESISTOR = "resistor"
    CAPACITOR = "capacitor"
    INDUCTOR = "inductor"
    FUSE = "fuse"


UNITS = {
    MarkedKind.RESISTOR: "Ω",
    MarkedKind.CAPACITOR: "F",
    MarkedKind.INDUCTOR: "H",
    MarkedKind.FUSE: "A",
}


@dataclass(frozen=True, slots=True)
class Tolerance:
    """From `low` to `high` per cent of the value, or of `farads` where that is not zero."""

    low: float
    high: float
    farads: float = 0.0

    @classmethod
    def even(cls, percent: float) -> Tolerance:
        """The same both ways."""
        return cls(-percent, percent)

    @property
    def words(self) -> str:
        """As it is said."""
        if self.farads:
            return f"±{self.farads * 1e12:g} pF"
        return f"±{self.high:g} %" if self.low == -self.high else f"{self.low:+g}/{self.high:+g} %"

    def percent(self, value: float) -> float | list[float]:
        """One number where it is the same both ways, else the lower and the upper end."""
        if self.farads:
            return round(100.0 * self.farads / value, 2) if value else 0.0
        return self.high if self.low == -self.high else [self.low, self.high]


@dataclass(frozen=True, slots=True)
class MarkReading:
    """A value in SI units (Ω, F, H, A). `rank` orders readings of one marking, the likeliest first;
    `ppm` is the temperature coefficient in 1e-6/K; `breaking` the breaking capacity letter."""

    kind: MarkedKind
    value: float
    steps: tuple[str, ...]
    tolerance: Tolerance | None = None
    volts: float | None = None
    characteristic: str = ""
    breaking: str = ""
    ppm: float | None = None
    note: str = ""
    rank: int = 0

    @property
    def unit(self) -> str:
        """Of the value."""
        return UNITS[self.kind]

    @property
    def words(self) -> str:
        """The reading in one line."""
        shown = "0 Ω, a jumper" if self.value == 0 else nominal(self.value, self.unit)
        parts = [self.kind.value, shown]
        if self.tolerance is not None:
            parts.append(self.tolerance.words)
        if self.volts is not None:
            parts.append(f"{self.volts:g} V")
        if self.characteristic:
            parts.append(CHARACTERISTICS[self.characteristic])
        if self.breaking:
            parts.append(BREAKING[self.breaking])
        return ", ".join(parts)

    def ranked(self, rank: int, note: str = "") -> MarkReading:
        """The same at another place among its rivals, with a note more."""
        return replace(self, rank=rank, note=" ".join(filter(None, (self.note, note))))

    @property
    def same(self) -> tuple[object, ...]:
        """What two readings must share to be one."""
        value = float(f"{self.value:.6g}") if math.isfinite(self.value) else self.value
        return (self.kind, value, self.tolerance, self.volts, self.characteristic, self.breaking)


CHARACTERISTICS = {
    "FF": "very quick acting",
    "F": "quick acting",
    "M": "medium time-lag",
    "T": "time-lag",
    "TT": "long time-lag",
}
"""IEC 60127-1."""
BREAKING = {
    "L": "low breaking capacity (35 A or ten times its current)",
    "E": "enhanced breaking capacity (150 A)",
    "H": "high breaking capacity (1500 A)",
}
"""IEC 60127-2."""
