"""The relay across the inrush limiter: its coil on a rail, its contact in the mains path."""

from __future__ import annotations

from loose_rail.powered.maths import Flag, Value, where, zeros
from loose_rail.powered.plant import RelayParameters

PULL_IN_SHARE, DROP_OUT_SHARE = 0.7, 0.2
"""Of the coil's volts: above the first it closes, below the second it lets go [P]."""


class InrushRelay:
    """Whether `closed`, 0 or 1, and what stands across its coil."""

    def __init__(self, parameters: RelayParameters) -> None:
        self.parameters = parameters
        self.coil_volts = zeros(parameters.volts)
        self.pulled = zeros(parameters.volts)
        self.closed = 1.0 * (parameters.welded > 0)

    def step(self, rail_volts: Value, given: Flag) -> None:
        """What follows from the rail of its coil and the signal of its driver."""
        p = self.parameters
        driven = (given | (p.driver_stuck > 0)) & (p.driver_path > 0)
        self.coil_volts = where(driven, rail_volts, 0.0)
        needed = where(self.pulled > 0, DROP_OUT_SHARE, PULL_IN_SHARE)
        pulls = (self.coil_volts > needed * p.volts) & (p.coil_path > 0)
        self.pulled = where(pulls, 1.0, 0.0)
        meets = (pulls & (p.contact_path > 0)) | (p.welded > 0)
        self.closed = where(meets, 1.0, 0.0)
