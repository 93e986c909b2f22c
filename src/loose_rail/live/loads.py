"""The boards behind the supply: what they draw, and the signals that the main board gives.

The main board gives a signal only when its standby voltage has been good for a while and the rails
that the signal needs are there, and only when it has been asked to switch on. Loads are resistive
at these time scales [E].
"""

from __future__ import annotations

from loose_rail.live.maths import Flag, Value, always, least, most, never, nothing, where
from loose_rail.live.plant import LoadParameters, SignalParameters

SIGNAL_VOLTS = 3.3
PULLED_LOW_VOLTS = 0.15
FORCED_SHARE = 0.75
"""A start pin tied to the standby rail through the jumper's resistor [T]."""
NEEDED_SHARE = 0.85
DONE_SECONDS = 0.01
"""A clock that has run past its mark stops here: a state at rest must not change."""


class SignalLine:
    """One signal from the main board on `n` sets: `given` where the supply takes it as given."""

    def __init__(self, parameters: SignalParameters) -> None:
        like = parameters.asks
        self.parameters = parameters
        self.given = never(like)
        self.volts = nothing(like)
        self._good = nothing(like)

    def step(self, dt: float, rail: Value, needed: Flag) -> None:
        """Watch the standby rail's valley and the rails that must be there first."""
        p = self.parameters
        if p.sense == "none":
            self.given = always(self.parameters.asks)
            return
        fine = (rail > p.good_volts) & needed
        self._good = where(fine, least(self._good + dt, p.after_seconds + DONE_SECONDS), 0.0)
        asks = (self._good > p.after_seconds) & (p.asks > 0)
        forced = (p.forced > 0) & (rail > 1.0)
        active = asks | forced
        if p.sense == "low":
            idle = most(rail, 0.0)
            self.volts = where(active, least(PULLED_LOW_VOLTS, idle), idle)
        else:
            high = where(asks, SIGNAL_VOLTS, FORCED_SHARE * rail)
            self.volts = where(active, high, 0.0)
        self.given = active & (p.wire_path > 0)

    @property
    def working(self) -> Flag:
        """Where the main board itself has started up, whatever the wire does."""
        return (self._good > self.parameters.after_seconds) & (self.parameters.asks > 0)


def load_siemens(loads: tuple[LoadParameters, ...], signals: dict[str, SignalLine]) -> Value:
    """Everything that hangs on one rail through the cables."""
    total: Value = 0.0
    for load in loads:
        own = load.idle_siemens
        if load.signal:
            own = where(signals[load.signal].given, load.on_siemens, load.idle_siemens)
        total = total + load.cable * (own + load.drag_siemens)
    return total
