"""Waveform resolution: the mains as a sine, the rectifier conducting near its peaks.

The same model as `simulate` in steps of 200 µs; only the hot side differs. The bulk and its ESR are
solved implicitly together with the rectifier's path (backward Euler), so that a lamp, an NTC or a
dried capacitor needs no smaller step. Source: circuit theory (textbook).
"""

from __future__ import annotations

import math

import numpy as np

from loose_rail.powered.maths import Value, logical_not, maximum, minimum, sin, where, zeros
from loose_rail.powered.plant import InputParameters, Plant
from loose_rail.powered.record import LiveRecord, run
from loose_rail.powered.simulate import Simulation
from loose_rail.powered.stages.mains import (
    BRIDGE_DROP_VOLTS,
    BRIDGE_SHORT_DROP_VOLTS,
    BRIDGE_SHORT_OHMS,
    LEAST_BULK_VOLTS,
    AdapterSide,
    HotSide,
)

STEP_SECONDS = 2e-4
"""Hundred steps a mains period at 50 Hz."""
TRACE_EVERY = 2
"""Every how many steps a record keeps one."""
LEAST_ESR_OHMS = 1e-3
"""Keeps the ripple defined for an ideal capacitor."""


class WaveformHotSide(HotSide):
    """`HotSide` in instantaneous values: `bulk` is the voltage at the capacitor's leads."""

    AVERAGED = False

    def __init__(self, plant: InputParameters) -> None:
        super().__init__(plant)
        self.seconds = 0.0
        self.line_volts = zeros(plant.mains_volts)
        self.line_amps = zeros(plant.mains_volts)
        self._charge = zeros(plant.mains_volts)
        self._period = 0
        self._lowest, self._highest = zeros(plant.mains_volts), zeros(plant.mains_volts)

    def step(self, dt: float, load_watts: Value, boost_watts: Value = 0.0) -> None:
        """Advance by `dt` seconds; energy and meaning as in the averaged model."""
        plant = self.plant
        self.seconds += dt
        if self._fixed.parameters is not plant:
            self._prepare()
        in_line, ohms, alive = self.in_line_ohms, self._line_ohms, self._fixed.alive
        wave = self._fixed.peak * sin(2 * math.pi * plant.mains_hertz * self.seconds)
        self.line_volts = wave
        self._warm_up(dt, maximum(load_watts, boost_watts))
        shorts = (plant.bridge_short_share > 0.75) | (
            (plant.bridge_short_share > 0.25) & (wave <= 0)
        )
        both = ((plant.bridge_arms > 0.75) | ((plant.bridge_arms > 0.25) & (wave > 0))) & (
            logical_not(shorts)
        )
        source = abs(wave) - BRIDGE_DROP_VOLTS
        shorted = plant.input_short_siemens
        esr = maximum(plant.bulk_esr_ohms, LEAST_ESR_OHMS)
        drain = (load_watts - alive * boost_watts) / maximum(self.bulk, LEAST_BULK_VOLTS)
        leak = self._fixed.leak
        inner = 1.0 / (esr + dt / plant.bulk_farads)
        idle = (inner * self._charge - drain) / (inner + leak)
        conducts = both & (source > idle) & (alive > 0)
        g = where(conducts, 1.0 / ohms, 0.0)
        self.bulk = maximum((inner * self._charge - drain + g * source) / (inner + leak + g), 0.0)
        self._charge = self._charge + dt / plant.bulk_farads * (self.bulk - self._charge) * inner
        rectified = g * maximum(source - self.bulk, 0.0)
        boost = alive * boost_watts * abs(wave) / maximum(self.board_volts**2, 400.0)
        through = abs(wave) * shorted / (1.0 + shorted * ohms)
        across = maximum(abs(wave) - BRIDGE_SHORT_DROP_VOLTS, 0.0)
        bridge = where(shorts & (alive > 0), across / (ohms + BRIDGE_SHORT_OHMS), 0.0)
        self.line_amps = rectified + boost + through + bridge
        self._fuse(dt, self.line_amps**2)
        faster = self.line_amps**2 - self.line_amps_squared
        self.line_amps_squared = self.line_amps_squared + faster * dt * plant.mains_hertz
        self.in_line_watts = self.line_amps**2 * in_line
        if self._fixed.any_in_line:
            self.board_volts = maximum(plant.mains_volts - self.line_amps * in_line, 0.0)
        if self._fixed.any_lamp:
            self._filament(dt, self.in_line_watts)
        self.mean = self.valley = self.bulk
        self._swing()

    def _swing(self) -> None:
        """Peak to peak of the bulk over the last whole period of the mains."""
        period = int(self.seconds * self.plant.mains_hertz)
        if period != self._period:
            self.ripple_volts = self._highest - self._lowest
            self._period, self._lowest, self._highest = period, self.bulk, self.bulk
        self._lowest = minimum(self._lowest, self.bulk)
        self._highest = maximum(self._highest, self.bulk)


def waveform_simulation(plant: Plant) -> Simulation:
    """A simulation in waveform resolution; step it by STEP_SECONDS."""
    adapter = bool(np.any(plant.input.adapter_volts > 0))
    hot = AdapterSide(plant.input) if adapter else WaveformHotSide(plant.input)
    return Simulation(plant, hot)


def waveform_run(plant: Plant, seconds: float) -> LiveRecord:
    """Run in waveform resolution with a trace of 2,500 samples a second."""
    return run(plant, seconds, TRACE_EVERY, STEP_SECONDS, waveform_simulation(plant))
