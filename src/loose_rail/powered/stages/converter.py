"""A flyback converter as an averaged current source inside an implicit output node.

The delivered current is min(limit, power/(v + Vd)) times a drive u between 0 and 1 from a PI law
on the sensed output. The law is solved together with the output node, so that a nearly dry
capacitor stays stable at one millisecond. Ripple is an algebraic output: the peak of the secondary
current times the impedance of the reservoir at the switching frequency; over-voltage protection
sees the peak. Structure: averaged switch model (textbook); the timers are estimates [E].
"""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.powered.maths import (
    Flag,
    Value,
    all_false,
    any_of,
    clip,
    finite,
    logical_not,
    maximum,
    minimum,
    sqrt,
    where,
    zeros,
)
from loose_rail.powered.plant import ConverterParameters

PROPORTIONAL_PER_VOLT = 2.0
INTEGRAL_PER_VOLT_SECOND = 120.0
PEAK_OVER_MEAN = 4.0
"""Peak over mean of a flyback's secondary current at full load: 2 over the duty of the conduction.
Below it the peak falls with the root of the load only, as energy goes with its square [T]."""
LEAST_PULSE_SHARE = 0.2
"""Of the full peak: a converter that has less to give leaves pulses out [P]. Root law and this
share: 6.3 and 4.0 A of peak at 0.5 and 0.12 A of a 5 A standby, 6.0 and 3.7 in ngspice."""
SINE_PEAK_OVER_MEAN = 1.57
"""Of a full-wave rectified sine, π/2: the resonant converter's (textbook)."""
LEAST_LIMIT_AMPS = 1e-3
"""Keeps the share of the load defined where nothing is driven."""
PEAK_SHARE, VALLEY_SHARE = 0.55, 0.2
"""Of the ripple, what the auxiliary winding's rectifier catches above the mean, and what lies below
it: the conduction pulse is short [E]."""
EFFICIENCY = 0.82
"""Of a small converter at half load [P]."""


@dataclass(frozen=True, slots=True)
class _Coefficients:
    """What follows from the parameters and the step alone, worked out once.

    `charge` is volts per amp that the step adds to the reservoir, `node` the same with its ESR;
    `lost` marks where the choke in front of the sensed output is open.
    """

    parameters: ConverterParameters
    seconds: float
    soft_share: Value
    low_volts: Value
    full_amp_volts: Value
    per_bulk_volt: Value
    charge: Value
    node: Value
    pulse_volts: Value
    sine_ohms: Value
    least_limit: Value
    pulsed: Flag
    lost: Flag
    blocked: Flag
    two_level: bool
    any_lost: bool
    any_blocked: bool

    @staticmethod
    def of(p: ConverterParameters, seconds: float) -> _Coefficients:
        """Prepare steps of some seconds."""
        lost, blocked = logical_not(finite(p.choke_ohms)), p.rectifier_path == 0.0
        charge = seconds / p.output_farads
        return _Coefficients(
            parameters=p,
            seconds=seconds,
            soft_share=seconds / p.soft_start_seconds,
            low_volts=p.set_volts * p.standby_share,
            full_amp_volts=EFFICIENCY * p.limit_watts,
            per_bulk_volt=1.0 / (p.full_bulk_volts - p.least_bulk_volts),
            charge=charge,
            node=charge + p.output_esr_ohms,
            pulse_volts=PEAK_OVER_MEAN * p.ripple_ohms * p.limit_amps,
            sine_ohms=SINE_PEAK_OVER_MEAN * p.ripple_ohms,
            least_limit=maximum(p.limit_amps, LEAST_LIMIT_AMPS),
            pulsed=p.pulsed > 0,
            lost=lost,
            blocked=blocked,
            two_level=any_of(p.standby_share != 1.0),
            any_lost=any_of(lost),
            any_blocked=any_of(blocked),
        )


class Converter:
    """State of one converter on `n` boards. `ramp` is the soft start, from 0 to 1, `ripple_volts`
    what swings at the switching frequency, peak to peak."""

    UNWATCHED = ("ripple_volts",)

    def __init__(self, parameters: ConverterParameters) -> None:
        like = parameters.limit_amps
        self.parameters = parameters
        self.capacitor = zeros(like)
        self.volts = zeros(like)
        self.amps = zeros(like)
        self.integral = zeros(like)
        self.ramp = zeros(like)
        self.overload = zeros(like)
        self.running = all_false(like)
        self.starts = zeros(like)
        self.ripple_volts = zeros(like)
        self._drive = zeros(like)
        self._fixed = _Coefficients.of(parameters, 1.0)

    def step(self, dt: float, allowed: Flag, awake: Flag, bulk: Value, load_siemens: Value) -> Flag:
        """Advance by `dt`; returns where a protection trips in this step.

        `allowed` says where the controller switches, `awake` where a two-level output stands at
        its upper level; `load_siemens` hangs on the output pin.
        """
        p, fixed = self.parameters, self._fixed
        if fixed.parameters is not p or fixed.seconds != dt:
            fixed = self._fixed = _Coefficients.of(p, dt)
        fresh = allowed & logical_not(self.running)
        self.running = allowed
        self.ramp = minimum(self.ramp + fixed.soft_share, 1.0) * allowed
        if any_of(fresh):
            self.starts = self.starts + fresh
            self.ramp = where(fresh, 0.0, self.ramp)
            self.integral = where(fresh, 0.0, self.integral)
            self.overload = where(fresh, 0.0, self.overload)
        level = where(awake, p.set_volts, fixed.low_volts) if fixed.two_level else p.set_volts
        headroom = clip((bulk - p.least_bulk_volts) * fixed.per_bulk_volt, 0.0, 1.0)
        ceiling = minimum(p.limit_amps, fixed.full_amp_volts / (self.volts + p.diode_volts))
        ceiling = ceiling * headroom * (p.rectifier_path * allowed)
        self._solve_output(fixed, ceiling, level * self.ramp, load_siemens)
        self.ripple_volts = self._ripple(fixed)
        return self._protections(fixed)

    def _solve_output(
        self, fixed: _Coefficients, ceiling: Value, reference: Value, load_siemens: Value
    ) -> None:
        siemens = self.parameters.output_siemens
        if fixed.any_lost:
            siemens = siemens + where(fixed.lost, 0.0, load_siemens)
        else:
            siemens = siemens + load_siemens
        bias = PROPORTIONAL_PER_VOLT * reference + self.integral
        open_loop = 1.0 + fixed.node * siemens
        push = fixed.node * ceiling
        regulated = (self.capacitor + push * bias) / (open_loop + PROPORTIONAL_PER_VOLT * push)
        drive = clip(bias - PROPORTIONAL_PER_VOLT * regulated, 0.0, 1.0)
        if fixed.any_lost:
            drive = where(fixed.lost, minimum(reference, 1.0), drive)
        self.amps = ceiling * drive
        self.volts = (self.capacitor + fixed.node * self.amps) / open_loop
        self.capacitor = self.capacitor + fixed.charge * (self.amps - siemens * self.volts)
        free = (drive > 0.0) & (drive < 1.0)
        gained = INTEGRAL_PER_VOLT_SECOND * fixed.seconds * (reference - self.volts)
        self.integral = clip(self.integral + gained * free, -0.5, 1.0)
        self._drive = drive

    def _protections(self, fixed: _Coefficients) -> Flag:
        straining = self.running & (self._drive > 0.98)
        self.overload = (self.overload + fixed.seconds) * straining
        trips = self.running & (self.peak_volts > self.parameters.over_volts)
        if fixed.any_blocked:
            trips = trips | (self.running & fixed.blocked & (self.ramp > 0.5))
        return trips | (self.overload > self.parameters.overload_seconds)

    def _ripple(self, fixed: _Coefficients) -> Value:
        share = self.amps / fixed.least_limit
        pulse = maximum(sqrt(share), LEAST_PULSE_SHARE) * (share > 0)
        return where(fixed.pulsed, fixed.pulse_volts * pulse, fixed.sine_ohms * self.amps)

    @property
    def peak_volts(self) -> Value:
        """Output as an over-voltage sense sees it, with its share of the ripple on top."""
        return self.volts + PEAK_SHARE * self.ripple_volts

    @property
    def valley_volts(self) -> Value:
        """What a processor's brown-out detector sees at the pin."""
        return self._at_pin(self.volts - VALLEY_SHARE * self.ripple_volts)

    @property
    def pin_volts(self) -> Value:
        """Mean voltage at the connector, behind the choke."""
        return self._at_pin(self.volts)

    @property
    def pin_ripple_volts(self) -> Value:
        """What of the ripple is left behind the choke, peak to peak."""
        return self.ripple_volts * self.parameters.pin_ripple_share

    def mirrored_volts(self, unloaded_volts: Value) -> Value:
        """What an auxiliary winding mirrors: output and diode; `unloaded_volts` where the rectifier
        is open."""
        mirrored = self.volts + self.parameters.diode_volts
        if self._fixed.any_blocked:
            return where(self._fixed.blocked, unloaded_volts, mirrored)
        return mirrored

    def _at_pin(self, volts: Value) -> Value:
        return where(self._fixed.lost, 0.0, volts) if self._fixed.any_lost else volts

    @property
    def shoots(self) -> bool:
        """Whether one switch of its half bridge is shorted in any column."""
        return any_of(self.parameters.shoot_siemens > 0)

    def shot_watts(self, bulk: Value) -> Value:
        """What goes straight through a half bridge with one shorted switch while it is driven."""
        return self.parameters.shoot_siemens * self.running * bulk * bulk

    @property
    def drawn_watts(self) -> Value:
        """Power drawn from the bulk."""
        return self.amps * (self.volts + self.parameters.diode_volts) / EFFICIENCY
