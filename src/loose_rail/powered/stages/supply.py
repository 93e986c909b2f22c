"""A controller's own supply: start resistor, reservoir, auxiliary winding, lock-out.

Hiccup emerges by itself: the start resistor charges the reservoir to the on level, the converter
runs, and where the auxiliary winding does not take over (or a protection holds the drive) the
reservoir falls to the off level and the cycle starts again: f ≈ I_start/(C·(V_on − V_off)).
"""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.powered.maths import Flag, Value, anywhere, between, never, no, nothing, where
from loose_rail.powered.plant import SupplyParameters

OFF_AMPS = 20e-6
"""Controller below its on level [E]."""
PROTECTED_AMPS = 1.0e-3
"""Controller held by a protection until it falls to its off level [E]."""
CLAMP_VOLTS = 27.0


@dataclass(frozen=True, slots=True)
class _Fixed:
    """What follows from the parameters and the step alone, in siemens."""

    parameters: SupplyParameters
    seconds: float
    start: Value
    aux: Value
    node: Value
    always: Value
    whole: Flag

    @staticmethod
    def of(p: SupplyParameters, seconds: float) -> _Fixed:
        """Prepare steps of some seconds."""
        start, node = 1.0 / p.start_ohms, p.farads / seconds
        always = node + (start + p.leak_siemens)
        return _Fixed(
            parameters=p,
            seconds=seconds,
            start=start,
            aux=1.0 / p.aux_ohms,
            node=node,
            always=always,
            whole=p.controller_path > 0,
        )


class ControllerSupply:
    """VCC of a converter's controller on `n` boards."""

    def __init__(self, parameters: SupplyParameters) -> None:
        like = parameters.farads
        self.parameters = parameters
        self.volts = nothing(like)
        self.awake = never(like)
        self.tripped = never(like)
        self._fixed = _Fixed.of(parameters, 1.0)

    def step(
        self,
        dt: float,
        bulk: Value,
        output_volts: Value,
        switching: Flag,
        hung_siemens: Value = 0.0,
    ) -> None:
        """Advance by `dt`; `output_volts` is what the auxiliary winding mirrors, diode included.
        `hung_siemens` is what other controllers draw beyond their own current."""
        p, fixed = self.parameters, self._fixed
        if fixed.parameters is not p or fixed.seconds != dt:
            fixed = self._fixed = _Fixed.of(p, dt)
        run = where(self.tripped, PROTECTED_AMPS, p.run_amps) if self._held else p.run_amps
        drawn = where(self.awake, run, OFF_AMPS)
        mirror = p.aux_ratio * output_volts
        aux = fixed.aux * (switching & (mirror > self.volts))
        target = fixed.start * bulk + aux * mirror - drawn
        volts = (fixed.node * self.volts + target) / (fixed.always + aux + hung_siemens)
        self.volts = between(volts, 0.0, CLAMP_VOLTS)
        wakes = no(self.awake) & (self.volts > p.on_volts) & fixed.whole
        if self._held:
            self.tripped = self.tripped & no(wakes)
        self.awake = (self.awake | wakes) & (self.volts >= p.off_volts)

    def trip(self, trips: Flag) -> None:
        """Hold the drive until the supply has fallen to its off level."""
        if anywhere(trips):
            self.tripped = self.tripped | (trips & self.awake)

    @property
    def _held(self) -> bool:
        return anywhere(self.tripped)

    @property
    def over_voltage(self) -> Flag:
        """Where the controller's own over-voltage sense trips."""
        return self.awake & (self.volts > self.parameters.over_volts)

    @property
    def drives(self) -> Flag:
        """Where the converter is allowed to switch."""
        return self.awake & no(self.tripped)
