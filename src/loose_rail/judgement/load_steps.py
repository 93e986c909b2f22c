"""Rails under dummy loads, in steps: which resistor, what the rail has to hold, how much it may
ripple. Pure.

What a set's own load is known to draw is the full step. A rail that holds unloaded shows nothing of
a dried reservoir, a weak drive or a tired rectifier.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from loose_rail.boards.profile import Board, Rail
from loose_rail.judgement.limits import limit
from loose_rail.judgement.workings.outputs import CERAMIC_KELVIN_PER_WATT, INSTALLED_SHARE
from loose_rail.kernel.quantities import engineering
from loose_rail.markings.series import nearest

SHARES = (0.1, 0.5, 1.0)
"""Of the set's own load: light, half, full [P]."""
MOST_VOLTS = 60.0
"""Above it a rail is no place for clips and a hot resistor (IEC 62368-1 ES1)."""
LOOSE = ("cross_regulated", "quasi_regulated", "slave", "unregulated")
"""Kinds of rails that no feedback senses: they give way more."""
TRIANGLE = 2.0 * math.sqrt(3.0)
"""Peak to peak over RMS of a triangle, as a meter shows ripple (textbook)."""
CAR_LAMP_VOLTS, CAR_LAMP_WATTS = 12.0, 21.0


@dataclass(frozen=True, slots=True)
class LoadStep:
    """One load on one rail: amperes and the resistor that draws them, the band in which the rail
    holds, and the ripple that it may have, RMS as a meter shows it."""

    rail: str
    title: str
    volts: float
    share: float
    amps: float
    loose: bool

    @property
    def ohms(self) -> float:
        """Of the load, the nearest value of E12."""
        return nearest(self.volts / self.amps, "E12")

    @property
    def watts(self) -> float:
        """What it turns into heat."""
        return self.volts**2 / self.ohms

    @property
    def rated_watts(self) -> float:
        """What it has to be rated at, at least."""
        return self.watts / INSTALLED_SHARE

    @property
    def band(self) -> tuple[float, float]:
        """Lowest and highest volts under this load."""
        share = limit("loose_rail_share" if self.loose else "sensed_rail_share")
        return self.volts * (1.0 - share), self.volts * (1.0 + share)

    @property
    def most_ripple(self) -> float:
        """AC volts, RMS, that a meter may show."""
        return limit("load_ripple_share") * self.volts / TRIANGLE

    @property
    def resistor_words(self) -> str:
        """The resistor in words."""
        return (
            f"{engineering(self.ohms, 'Ω', 2)}, {self.watts:.2g} W: rated "
            f"{self.rated_watts:.2g} W or more"
        )


@dataclass(frozen=True, slots=True)
class UnderLoad:
    """What was read under one load; `ripple` in AC volts, None where it was not read."""

    rail: str
    amps: float
    volts: float
    ripple: float | None = None


def steps_of(board: Board) -> list[LoadStep]:
    """The steps of every rail that a resistor may load on the bench, in the order of the board."""
    found: list[LoadStep] = []
    for rail in board.rails:
        amps = _full_amps(board, rail)
        if amps <= 0 or rail.volts > MOST_VOLTS:
            continue
        loose = rail.kind in LOOSE
        found += [
            LoadStep(rail.id, rail.title, rail.volts, share, share * amps, loose)
            for share in SHARES
        ]
    return found


def _full_amps(board: Board, rail: Rail) -> float:
    """What the set draws from a rail while it is on; a stage's own load stands in its name."""
    stages = {p.observable.partition(".")[0] for p in board.live_points if p.rail == rail.id}
    return sum(load.on_amps for load in board.loads if load.rail in stages)


def troubles(step: LoadStep, seen: UnderLoad, read: Sequence[UnderLoad]) -> list[str]:
    """What is wrong with a reading under load, a sentence each; `read` are all of its rail."""
    found = []
    low, high = step.band
    if not low <= seen.volts <= high:
        found.append(
            f"{seen.volts:.4g} V under {seen.amps:.2g} A, {low:.4g} to {high:.4g} V is right"
        )
    lightest = min((one for one in read if one.rail == seen.rail), key=lambda one: one.amps)
    regulation = (lightest.volts - seen.volts) / seen.volts if seen.volts > 0 else 1.0
    most = limit("loose_rail_share" if step.loose else "load_regulation_share")
    if seen.amps > lightest.amps and regulation > most:
        found.append(
            f"it gives way by {100 * regulation:.1f} % from {lightest.amps:.2g} to "
            f"{seen.amps:.2g} A, {100 * most:.0f} % is the most"
        )
    if seen.ripple is not None and seen.ripple > step.most_ripple:
        found.append(
            f"ripple of {engineering(seen.ripple, 'V', 2)} AC, "
            f"{engineering(step.most_ripple, 'V', 2)} is the most"
        )
    return found


def covered(board: Board, read: Sequence[UnderLoad]) -> bool:
    """Whether every rail that a resistor may load held its full load."""
    full = [one for one in steps_of(board) if one.share == max(SHARES)]
    held = {
        one.rail
        for one in full
        for seen in read
        if seen.rail == one.rail and seen.amps >= (1.0 - limit("load_step_share")) * one.amps
    }
    return bool(full) and held == {one.rail for one in full}


def car_lamps(step: LoadStep) -> int:
    """How many 12 V, 21 W lamps draw about as much, 0 where none does."""
    if not 0.7 * CAR_LAMP_VOLTS <= step.volts <= 1.2 * CAR_LAMP_VOLTS:
        return 0
    return round(step.amps / (CAR_LAMP_WATTS / CAR_LAMP_VOLTS))


def ceramic_celsius(step: LoadStep, room: float = 25.0) -> float:
    """Surface of a bare 10 W ceramic resistor that takes this step."""
    return room + CERAMIC_KELVIN_PER_WATT * step.watts
