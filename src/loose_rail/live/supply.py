"""A controller's own supply: start resistor, reservoir, auxiliary winding, lock-out.

Hiccup emerges by itself: the start resistor charges the reservoir to the on level, the converter
runs, and where the auxiliary winding does not take over (or a protection holds the drive) the
reservoir falls to the off level and the cycle starts again: f ≈ I_start/(C·(V_on − V_off)).
"""

from __future__ import annotations

from loose_rail.live.maths import Flag, Value, between, never, no, nothing, where
from loose_rail.live.plant import SupplyParameters

OFF_AMPS = 20e-6
"""Controller below its on level [E]."""
PROTECTED_AMPS = 1.0e-3
"""Controller held by a protection until it falls to its off level [E]."""
CLAMP_VOLTS = 27.0


class ControllerSupply:
    """VCC of a converter's controller on `n` boards."""

    def __init__(self, parameters: SupplyParameters) -> None:
        like = parameters.farads
        self.parameters = parameters
        self.volts = nothing(like)
        self.awake = never(like)
        self.tripped = never(like)

    def step(self, dt: float, bulk: Value, output_volts: Value, switching: Flag) -> None:
        """Advance by `dt`; `output_volts` is what the auxiliary winding mirrors, diode included."""
        p = self.parameters
        drawn = where(self.awake, where(self.tripped, PROTECTED_AMPS, p.run_amps), OFF_AMPS)
        start = 1.0 / p.start_ohms
        mirror = p.aux_ratio * output_volts
        fed = switching & (mirror > self.volts)
        aux = where(fed, 1.0 / p.aux_ohms, 0.0)
        siemens = start + aux + p.leak_siemens
        target = start * bulk + aux * mirror - drawn
        node = p.farads / dt
        self.volts = between((node * self.volts + target) / (node + siemens), 0.0, CLAMP_VOLTS)
        wakes = no(self.awake) & (self.volts > p.on_volts) & (p.controller_path > 0)
        sleeps = self.awake & (self.volts < p.off_volts)
        self.tripped &= no(wakes)
        self.awake = (self.awake | wakes) & no(sleeps)

    def trip(self, trips: Flag) -> None:
        """Hold the drive until the supply has fallen to its off level."""
        self.tripped |= trips & self.awake

    @property
    def over_voltage(self) -> Flag:
        """Where the controller's own over-voltage sense trips."""
        return self.awake & (self.volts > self.parameters.over_volts)

    @property
    def drives(self) -> Flag:
        """Where the converter is allowed to switch."""
        return self.awake & no(self.tripped)
