"""The boards behind the supply: what they draw, and the signals that the main board gives.

The main board gives a signal only when its standby voltage has been good for a while and the rails
that the signal needs are there, and only when it has been asked to switch on. Loads are resistive
at these time scales [E].
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from loose_rail.powered.maths import (
    Flag,
    Value,
    all_false,
    all_true,
    any_of,
    clip,
    maximum,
    minimum,
    where,
    zeros,
)
from loose_rail.powered.plant import LoadParameters, SignalParameters

SIGNAL_VOLTS = 3.3
PULLED_LOW_VOLTS = 0.15
FORCED_LEAST_VOLTS = 1.0
NEEDED_SHARE = 0.85
WORKS_AFTER_SECONDS = 0.6
"""How long a rail stands before the board on it is at work and takes its full current [E]."""
DEAD_SHARE = 0.2
"""Of its voltage: below it a board does nothing more [E]."""
DIP_SECONDS = 5e-3
"""A dip of the standby this short, as all loads step up, is bridged by the capacitors of the main
board [E]."""
RECOVERS_SHARE = 0.2
"""They charge slower than they are emptied: dips that come one after the other add up [E]."""
DONE_SECONDS = 0.01
"""A clock that has run past its mark stops here: a state at rest must not change."""


@dataclass(frozen=True, slots=True)
class _Coefficients:
    parameters: SignalParameters
    asks: Flag
    forced: Flag
    wired: Flag
    any_forced: bool

    @staticmethod
    def of(p: SignalParameters) -> _Coefficients:
        forced = p.forced > 0
        return _Coefficients(p, p.asks > 0, forced, p.wire_path > 0, any_of(forced))


class SignalLine:
    """One signal from the main board on `n` sets: `given` where the supply takes it as given."""

    def __init__(self, parameters: SignalParameters) -> None:
        like = parameters.asks
        self.parameters = parameters
        self.given = all_true(like) if parameters.sense == "none" else all_false(like)
        self._good = zeros(like)
        self._low = zeros(like) + DIP_SECONDS
        self._rail = zeros(like)
        self._asks = all_false(like)
        self._active = all_false(like)
        self._fixed = _Coefficients.of(parameters)

    def step(self, dt: float, rail: Value, needed: Flag) -> None:
        """Watch the standby rail's valley and the rails that must be there first."""
        p = self.parameters
        if p.sense == "none":
            return
        if self._fixed.parameters is not p:
            self._fixed = _Coefficients.of(p)
        fixed = self._fixed
        fine = (rail > p.good_volts) & needed
        counted = where(fine, -RECOVERS_SHARE * dt, dt)
        self._low = clip(self._low + counted, 0.0, DIP_SECONDS)
        holds = fine | (self._low < DIP_SECONDS)
        self._good = minimum(self._good + dt, p.after_seconds + DONE_SECONDS) * holds
        self._rail = rail
        self._asks = self._active = (self._good > p.after_seconds) & fixed.asks
        if fixed.any_forced:
            self._active = self._asks | (fixed.forced & (rail > FORCED_LEAST_VOLTS))
        self.given = self._active & fixed.wired

    @property
    def volts(self) -> Value:
        """What stands on the line; 0 where there is none."""
        if self.parameters.sense == "none":
            return zeros(self.parameters.asks)
        forced = self.parameters.forced_share * maximum(self._rail, 0.0)
        if self.parameters.sense == "low":
            idle = maximum(self._rail, 0.0)
            low = where(self._asks, minimum(PULLED_LOW_VOLTS, idle), minimum(forced, idle))
            return where(self._active, low, idle)
        return where(self._active, where(self._asks, SIGNAL_VOLTS, forced), 0.0)


class Overdraw:
    """A board that takes too much once it works: its rail stands for a while, then it starts and
    goes on until the rail or its signal is gone."""

    def __init__(self, parameters: LoadParameters) -> None:
        self.parameters = parameters
        self._stood = zeros(parameters.over_siemens)

    def step(self, dt: float, rail: Value, given: Flag) -> None:
        """Watch the rail, and the signal that sets the board to work."""
        p = self.parameters
        works = self._stood > WORKS_AFTER_SECONDS
        stands = works | (rail > NEEDED_SHARE * p.volts)
        alive = given & (rail > DEAD_SHARE * p.volts) & stands
        self._stood = minimum(self._stood + dt, WORKS_AFTER_SECONDS + DONE_SECONDS) * alive

    @property
    def siemens(self) -> Value:
        """What it takes beside its load."""
        works = self._stood > WORKS_AFTER_SECONDS
        return self.parameters.cable * self.parameters.over_siemens * works


@dataclass(frozen=True, slots=True)
class RailLoads:
    """Everything that hangs on one rail through the cables: siemens while idle, and what each
    signal adds to them."""

    idle: Value
    added: tuple[tuple[str, Value], ...]

    @staticmethod
    def of(loads: Sequence[LoadParameters]) -> RailLoads:
        """Add up the loads of a rail."""
        idle: Value = 0.0
        added: dict[str, Value] = {}
        for load in loads:
            idle = idle + load.cable * (load.idle_siemens + load.drag_siemens)
            if load.signal:
                more = load.cable * (load.on_siemens - load.idle_siemens)
                added[load.signal] = added.get(load.signal, 0.0) + more
        return RailLoads(idle, tuple(added.items()))

    def siemens(self, signals: dict[str, SignalLine]) -> Value:
        """What they draw now."""
        total = self.idle
        for signal, more in self.added:
            total = total + more * signals[signal].given
        return total
