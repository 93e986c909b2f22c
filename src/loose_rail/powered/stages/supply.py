"""A controller's own supply: start resistor, reservoir, auxiliary winding, lock-out.

Hiccup emerges by itself: the start resistor charges the reservoir to the on level, the converter
runs, and where the auxiliary winding does not take over (or a protection holds the drive) the
reservoir falls to the off level and the cycle starts again: f ≈ I_start/(C·(V_on − V_off)).
"""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.powered.maths import Flag, Value, all_false, any_of, clip, logical_not, where, zeros
from loose_rail.powered.plant import SupplyParameters

OFF_AMPS = 20e-6
"""Controller below its on level [E]."""
PROTECTED_AMPS = 1.0e-3
"""Controller held by a protection until it falls to its off level [E]."""
CLAMP_VOLTS = 27.0
"""A controller's own clamp on its supply pin [P]."""


@dataclass(frozen=True, slots=True)
class _Coefficients:
    """What follows from the parameters and the step alone, in siemens."""

    parameters: SupplyParameters
    seconds: float
    start: Value
    aux: Value
    node: Value
    always: Value
    whole: Flag

    @staticmethod
    def of(p: SupplyParameters, seconds: float) -> _Coefficients:
        """Prepare steps of some seconds."""
        start, node = 1.0 / p.start_ohms, p.farads / seconds
        always = node + (start + p.leak_siemens)
        return _Coefficients(
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

    UNWATCHED = ("_slope",)

    def __init__(self, parameters: SupplyParameters) -> None:
        like = parameters.farads
        self.parameters = parameters
        self.volts = zeros(like)
        self.awake = all_false(like)
        self.tripped = all_false(like)
        self._slope = zeros(like)
        self._fixed = _Coefficients.of(parameters, 1.0)

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
            fixed = self._fixed = _Coefficients.of(p, dt)
        run = where(self.tripped, PROTECTED_AMPS, p.run_amps) if self._held else p.run_amps
        drawn = where(self.awake, run, OFF_AMPS)
        mirror = p.aux_ratio * output_volts
        aux = fixed.aux * (switching & (mirror > self.volts))
        target = fixed.start * bulk + aux * mirror - drawn
        volts = (fixed.node * self.volts + target) / (fixed.always + aux + hung_siemens)
        volts = clip(volts, 0.0, CLAMP_VOLTS)
        self._slope = (volts - self.volts) / dt
        self.volts = volts
        wakes = logical_not(self.awake) & (self.volts > p.on_volts) & fixed.whole
        if self._held:
            self.tripped = self.tripped & logical_not(wakes)
        self.awake = (self.awake | wakes) & (self.volts >= p.off_volts)

    def trip(self, trips: Flag) -> None:
        """Hold the drive until the supply has fallen to its off level."""
        if any_of(trips):
            self.tripped = self.tripped | (trips & self.awake)

    def turns_within(self, seconds: float) -> bool:
        """Whether the supply of a single board reaches the level at which it starts or stops."""
        level = self.parameters.off_volts if self.awake else self.parameters.on_volts
        left = level - self.volts
        return bool(left * self._slope > 0.0 and abs(left) <= abs(self._slope) * seconds)

    @property
    def _held(self) -> bool:
        return any_of(self.tripped)

    @property
    def over_voltage(self) -> Flag:
        """Where the controller's own over-voltage sense trips."""
        return self.awake & (self.volts > self.parameters.over_volts)

    @property
    def drives(self) -> Flag:
        """Where the converter is allowed to switch."""
        return self.awake & logical_not(self.tripped)
