"""Runs a plant in time and records what a meter would show at each live point.

Fixed steps of one millisecond (envelope resolution). The meter averages over METER_SECONDS; the
record starts after SETTLE_SECONDS so that start-up belongs to the trace, not to the reading.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.live.converter import Converter
from loose_rail.live.main_board import MainBoard
from loose_rail.live.mains import HotSide
from loose_rail.live.plant import Plant
from loose_rail.live.supply import ControllerSupply

Floats = NDArray[np.float64]

STEP_SECONDS = 1e-3
METER_SECONDS = 0.25
SETTLE_SECONDS = 2.0
RECORD_SECONDS = 4.0
MAIN_RESTART_SECONDS = 0.8
WAKE_VOLTS = 2.0
MAIN_OFF_VOLTS = 8.5

POINTS = (
    "mains",
    "after_fuse",
    "bridge_ac",
    "bulk",
    "vcc",
    "main_vcc",
    "standby_reservoir",
    "standby_pin",
    "start",
    "main_12",
    "main_24",
)
"""Observable points; the board profile says where each is found."""


@dataclass(frozen=True, slots=True)
class LiveRecord:
    """Meter windows `(n_windows, n)` per point, restart rates `(n,)` in hertz, lamp and fuse.

    `trace_seconds` and `traces` hold finer samples where a trace was asked for. `lamp_glow` is
    the mean brightness over the record; `flash_seconds` how long the lamp glowed from plug-in.
    """

    windows: dict[str, Floats]
    standby_hertz: Floats
    main_hertz: Floats
    fuse_whole: NDArray[np.bool_]
    lamp_glow: Floats
    flash_seconds: Floats
    trace_seconds: Floats
    traces: dict[str, Floats]


class Simulation:
    """One plant being stepped; `run` returns its record."""

    def __init__(self, plant: Plant) -> None:
        self.plant = plant
        self.hot = HotSide(plant)
        self.supply = ControllerSupply(plant)
        self.standby = Converter(plant.standby)
        self.main = Converter(plant.main)
        self.board = MainBoard(plant)
        self.slave = np.zeros(plant.width)
        self.main_wait = np.zeros(plant.width)
        self.main_vcc = np.zeros(plant.width)

    def step(self, dt: float) -> None:
        """Advance everything by `dt` seconds."""
        plant = self.plant
        drawn = self.standby.drawn_watts + self.main.drawn_watts
        self.hot.step(dt, drawn)
        trips = self.standby.step(
            dt, self.supply.drives, self.hot.valley, self.board.standby_siemens
        )
        mirrored = np.where(
            plant.standby.rectifier_path > 0,
            self.standby.volts + plant.standby.diode_volts,
            12.0 * self.supply.drives,
        )
        self.supply.step(dt, self.hot.bulk, mirrored, self.standby.running)
        self.supply.trip(trips | self.supply.over_voltage)
        self.board.step(dt, self.standby.valley_volts)
        self._step_main(dt)

    def _step_main(self, dt: float) -> None:
        plant = self.plant
        asked = (self.board.start_volts > WAKE_VOLTS) & (plant.wake_path > 0)
        fed = asked | (plant.wake_stuck > 0)
        self.main_vcc = np.where(fed, np.maximum(self.supply.volts - 0.3, 0.0), 0.0)
        self.main_wait = np.maximum(self.main_wait - dt, 0.0)
        allowed = (self.main_vcc > MAIN_OFF_VOLTS) & (plant.main_path > 0) & (self.main_wait == 0.0)
        feed = 1.0 / plant.slave_ohms
        behind = plant.slave_siemens + self.board.lamp_siemens
        reflected = plant.slave_ratio**2 * feed * behind / (feed + behind)
        load = self.board.main_siemens + reflected
        trips = self.main.step(dt, allowed, self.hot.valley, load)
        self.main_wait = np.where(trips, MAIN_RESTART_SECONDS, self.main_wait)
        source = plant.slave_ratio * (self.main.volts + plant.main.diode_volts) - 0.7
        path = self.main.running & (source > self.slave)
        feed = np.where(path, feed, 0.0)
        node = plant.slave_farads / dt
        siemens = feed + behind
        self.slave = (node * self.slave + feed * source) / (node + siemens)

    def observe(self) -> dict[str, Floats]:
        """What stands at each point now, in volts (AC points: RMS)."""
        line = self.hot.board_volts
        after = np.where(self.hot.fuse_whole, line, 0.0)
        return {
            "mains": line,
            "after_fuse": after,
            "bridge_ac": np.where(np.isfinite(self.plant.line_ohms), after, 0.0),
            "bulk": self.hot.bulk,
            "vcc": self.supply.volts,
            "main_vcc": self.main_vcc,
            "standby_reservoir": self.standby.volts,
            "standby_pin": self.standby.pin_volts,
            "start": self.board.start_volts,
            "main_12": self.main.pin_volts,
            "main_24": self.slave,
        }


class _Meter:
    """Averages every point over METER_SECONDS, and times the restarts of one converter."""

    def __init__(self, width: int) -> None:
        self.width = width
        self.sums = {name: np.zeros(width) for name in POINTS}
        self.windows: dict[str, list[Floats]] = {name: [] for name in POINTS}
        self.count = 0

    def add(self, seen: dict[str, Floats]) -> None:
        window = round(METER_SECONDS / STEP_SECONDS)
        self.count += 1
        for name, values in seen.items():
            self.sums[name] += values
            if self.count % window == 0:
                self.windows[name].append(self.sums[name] / window)
                self.sums[name] = np.zeros(self.width)


class _Restarts:
    """Rate of a converter's starts: intervals between the first and the last one seen."""

    def __init__(self, converter: Converter) -> None:
        self.converter = converter
        self.last_count = converter.starts.copy()
        self.seen = np.zeros_like(self.last_count)
        self.first = np.zeros_like(self.last_count)
        self.last = np.zeros_like(self.last_count)

    def add(self, seconds: float) -> None:
        new = self.converter.starts > self.last_count
        self.first = np.where(new & (self.seen == 0), seconds, self.first)
        self.last = np.where(new, seconds, self.last)
        self.seen += new
        self.last_count = self.converter.starts.copy()

    @property
    def hertz(self) -> Floats:
        spread = np.maximum(self.last - self.first, STEP_SECONDS)
        return np.asarray(np.where(self.seen >= 3, (self.seen - 1) / spread, 0.0))


class _Lamp:
    """Mean glow over the record and the length of the first flash."""

    def __init__(self, width: int) -> None:
        self.glow = np.zeros(width)
        self.flash = np.zeros(width)
        self.dark = np.zeros(width, dtype=bool)

    def add(self, lit: Floats, recording: bool) -> None:
        glows = lit > 0
        self.dark |= ~glows & (self.flash > 0)
        self.flash += np.where(glows & ~self.dark, STEP_SECONDS, 0.0)
        if recording:
            self.glow += lit


class _Tracer:
    """Fine samples of every point and the lamp."""

    def __init__(self, every: int) -> None:
        self.every = every
        self.times: list[float] = []
        self.samples: dict[str, list[Floats]] = {}

    def add(self, number: int, seen: dict[str, Floats], lit: Floats) -> None:
        if self.every and number % self.every == 0:
            self.times.append((number + 1) * STEP_SECONDS)
            for name, values in {**seen, "lamp_glow": lit}.items():
                self.samples.setdefault(name, []).append(values)


def run(plant: Plant, seconds: float | None = None, trace_every: int = 0) -> LiveRecord:
    """Simulate from plug-in; `trace_every` steps between trace samples, 0 for none."""
    simulation = Simulation(plant)
    total = SETTLE_SECONDS + RECORD_SECONDS if seconds is None else seconds
    n_steps = round(total / STEP_SECONDS)
    settle = round(min(SETTLE_SECONDS, total / 3) / STEP_SECONDS)
    meter, lamp, tracer = _Meter(plant.width), _Lamp(plant.width), _Tracer(trace_every)
    restarts = (_Restarts(simulation.standby), _Restarts(simulation.main))
    for number in range(n_steps):
        simulation.step(STEP_SECONDS)
        seen = simulation.observe()
        lit = simulation.hot.lamp_glow
        recording = number >= settle
        lamp.add(lit, recording)
        tracer.add(number, seen, lit)
        if recording:
            meter.add(seen)
            for watch in restarts:
                watch.add(number * STEP_SECONDS)
    return LiveRecord(
        {name: np.array(values) for name, values in meter.windows.items()},
        restarts[0].hertz,
        restarts[1].hertz,
        simulation.hot.fuse_whole,
        lamp.glow / max(n_steps - settle, 1),
        lamp.flash,
        np.array(tracer.times),
        {name: np.array(values) for name, values in tracer.samples.items()},
    )
