"""A flyback converter as an averaged current source inside an implicit output node.

The delivered current is min(limit, power/(v + Vd)) times a drive u between 0 and 1 from a PI law
on the sensed output. The law is solved together with the output node, so that a nearly dry
capacitor stays stable at one millisecond. Ripple is an algebraic output, k·i·Z with the impedance
of the reservoir at the switching frequency; over-voltage protection sees the peak.
Structure: averaged switch model (textbook); k and the timers are estimates [E].
"""

from __future__ import annotations

from loose_rail.live.maths import (
    Flag,
    Value,
    between,
    finite,
    least,
    most,
    never,
    no,
    nothing,
    where,
)
from loose_rail.live.plant import ConverterParameters

PROPORTIONAL_PER_VOLT = 2.0
INTEGRAL_PER_VOLT_SECOND = 120.0
PEAK_OVER_MEAN = 5.0
"""Peak over mean of a flyback's secondary current: 2 over the duty of the conduction [T]."""
EFFICIENCY = 0.82


class Converter:
    """State of one converter on `n` boards."""

    def __init__(self, parameters: ConverterParameters) -> None:
        like = parameters.limit_amps
        self.parameters = parameters
        self.capacitor = nothing(like)
        self.volts = nothing(like)
        self.amps = nothing(like)
        self.integral = nothing(like)
        self.age = nothing(like)
        self.overload = nothing(like)
        self.running = never(like)
        self.starts = nothing(like)
        self._drive = nothing(like)

    @property
    def feedback_lost(self) -> Flag:
        """Where the choke in front of the sensed output is open."""
        return no(finite(self.parameters.choke_ohms))

    def step(self, dt: float, allowed: Flag, awake: Flag, bulk: Value, load_siemens: Value) -> Flag:
        """Advance by `dt`; returns where a protection trips in this step.

        `allowed` says where the controller switches, `awake` where a two-level output stands at
        its upper level; `load_siemens` hangs on the output pin.
        """
        p = self.parameters
        fresh = allowed & no(self.running)
        self.starts += fresh
        age = least(self.age + dt, self.parameters.soft_start_seconds)
        self.age = where(allowed, where(fresh, 0.0, age), 0.0)
        self.integral = where(fresh, 0.0, self.integral)
        self.overload = where(fresh, 0.0, self.overload)
        self.running = allowed
        ramp = least(self.age / p.soft_start_seconds, 1.0)
        level = where(awake, 1.0, p.standby_share)
        reference = p.set_volts * ramp * level
        headroom = between(
            (bulk - p.least_bulk_volts) / (p.full_bulk_volts - p.least_bulk_volts), 0, 1
        )
        ceiling = least(
            p.limit_amps, EFFICIENCY * p.limit_watts / (most(self.volts, 0.0) + p.diode_volts)
        )
        ceiling = ceiling * headroom * where(self.running, p.rectifier_path, 0.0)
        self._solve_output(dt, ceiling, reference, load_siemens)
        return self._protections(dt, ramp)

    def _solve_output(
        self, dt: float, ceiling: Value, reference: Value, load_siemens: Value
    ) -> None:
        p = self.parameters
        siemens = p.output_siemens + where(self.feedback_lost, 0.0, load_siemens)
        node = dt / p.output_farads + p.output_esr_ohms
        bias = PROPORTIONAL_PER_VOLT * reference + self.integral
        open_loop = 1.0 + node * siemens
        regulated = (self.capacitor + node * ceiling * bias) / (
            open_loop + node * ceiling * PROPORTIONAL_PER_VOLT
        )
        drive = between(bias - PROPORTIONAL_PER_VOLT * regulated, 0.0, 1.0)
        drive = where(self.feedback_lost, least(reference, 1.0), drive)
        self.amps = ceiling * drive
        self.volts = (self.capacitor + node * self.amps) / open_loop
        self.capacitor = self.capacitor + dt / p.output_farads * (self.amps - siemens * self.volts)
        error = reference - self.volts
        free = (drive > 0.0) & (drive < 1.0)
        self.integral += where(free, INTEGRAL_PER_VOLT_SECOND * dt * error, 0.0)
        self.integral = between(self.integral, -0.5, 1.0)
        self._drive = drive

    def _protections(self, dt: float, ramp: Value) -> Flag:
        straining = self.running & (self._drive > 0.98)
        self.overload = where(straining, self.overload + dt, 0.0)
        over = self.running & (self.peak_volts > self.parameters.over_volts)
        blocked = self.running & (self.parameters.rectifier_path == 0.0) & (ramp > 0.5)
        return (self.overload > self.parameters.overload_seconds) | over | blocked

    @property
    def ripple_volts(self) -> Value:
        """Peak to peak ripple at the switching frequency."""
        return PEAK_OVER_MEAN * self.amps * self.parameters.ripple_ohms

    @property
    def peak_volts(self) -> Value:
        """Output with four fifths of the ripple on top: the conduction pulse is short."""
        return self.volts + 0.8 * self.ripple_volts

    @property
    def valley_volts(self) -> Value:
        """What a processor's brown-out detector sees at the pin."""
        return where(self.feedback_lost, 0.0, self.volts - 0.2 * self.ripple_volts)

    @property
    def pin_volts(self) -> Value:
        """Mean voltage at the connector, behind the choke."""
        return where(self.feedback_lost, 0.0, self.volts)

    @property
    def drawn_watts(self) -> Value:
        """Power drawn from the bulk."""
        return self.amps * (self.volts + self.parameters.diode_volts) / EFFICIENCY
