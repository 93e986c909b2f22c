"""What stands in line at the first power: a filament lamp, or a wirewound resistor in the place of
the fuse. How much it lets through into a short, how long it bears that, what it can start.

Sources: R = V_n²/P_n of a hot filament, P = V²/R of a short behind a resistor (Ohm, Joule); 25 J
for each watt of a wirewound resistor before it is overheated [P]; the largest load that starts
behind a lamp (electrical reference section 10).
"""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.judgement.limits import limit
from loose_rail.kernel.errors import BadEntryError
from loose_rail.kernel.quantities import engineering, parse_quantity

EXAMPLES = "60W, 100W 120V, 100R 50W"
LEAST_LAMP_WATTS, MOST_LAMP_WATTS = 15.0, 500.0
LEAST_OHMS, MOST_OHMS = 10.0, 2200.0
"""Below, it limits nothing; above, no board starts [E]."""


@dataclass(frozen=True, slots=True)
class Limiter:
    """`watts` is its rating; `volts` what a lamp is made for, 0 for the mains it stands on; `ohms`
    of a resistor, 0 for a lamp."""

    watts: float
    volts: float = 0.0
    ohms: float = 0.0

    @property
    def is_lamp(self) -> bool:
        """Whether it is a filament lamp, which shows what it does."""
        return not self.ohms

    @property
    def words(self) -> str:
        """How it is called."""
        if self.is_lamp:
            made_for = f" {self.volts:g} V" if self.volts else ""
            return f"{self.watts:g} W{made_for} series lamp"
        return f"{engineering(self.ohms, 'Ω', 2)} {self.watts:g} W resistor"

    @property
    def text(self) -> str:
        """As it is typed and kept."""
        if self.is_lamp:
            return f"{self.watts:g}W" + (f" {self.volts:g}V" if self.volts else "")
        return f"{self.ohms:g}R {self.watts:g}W"

    def hot_ohms(self, mains_volts: float) -> float:
        """At its full brightness, or of the resistor."""
        return self.ohms or (self.volts or mains_volts) ** 2 / self.watts

    def short_watts(self, mains_volts: float) -> float:
        """What it takes with a dead short behind it."""
        return mains_volts**2 / self.hot_ohms(mains_volts)

    def bears_seconds(self, mains_volts: float) -> float | None:
        """How long a resistor bears a dead short behind it; None for a lamp, which bears it."""
        if self.is_lamp:
            return None
        return limit("limiter_joules_per_watt") * self.watts / self.short_watts(mains_volts)

    def most_load_watts(self, mains_volts: float) -> float:
        """The largest load behind a rectifier that still runs: beyond it collapses and pulses."""
        if self.is_lamp:
            return limit("limiter_lamp_load_share") * self.short_watts(mains_volts)
        return limit("limiter_resistor_load_share") * self.short_watts(mains_volts)


def read_limiter(text: str) -> Limiter:
    """Read `60W`, `100W 120V` or `100R 50W`. Raises BadEntryError for anything else."""
    found = {"Ω": 0.0, "W": 0.0, "V": 0.0}
    words = [word.replace("ohms", "R").replace("ohm", "R") for word in text.split()]
    for word in (one for one in words if one.lower() not in ("lamp", "resistor")):
        quantity = parse_quantity(word)
        if quantity is None or quantity.unit not in found or found[quantity.unit]:
            raise _unread(text)
        found[quantity.unit] = quantity.value
    ohms, watts, volts = found["Ω"], found["W"], found["V"]
    if ohms and watts and not volts and LEAST_OHMS <= ohms <= MOST_OHMS:
        return Limiter(watts, ohms=ohms)
    if not ohms and LEAST_LAMP_WATTS <= watts <= MOST_LAMP_WATTS and (not volts or volts >= 100.0):
        return Limiter(watts, volts)
    raise _unread(text)


def _unread(text: str) -> BadEntryError:
    return BadEntryError(
        f"“{text}” is no limiter.",
        f"A lamp from 15 to 500 W, or a resistor from 10 Ω to 2.2 kΩ with its watts: {EXAMPLES}.",
    )
