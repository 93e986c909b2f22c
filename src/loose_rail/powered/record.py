"""Runs a plant in time and records what a meter would show at each live point.

Fixed steps; one millisecond is the envelope resolution, a tenth of it the waveform resolution (see
`waveform`). The meter averages over METER_SECONDS; the record starts after SETTLE_SECONDS so that
start-up belongs to the trace, not to the reading. Columns at rest are left out of the steps.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from loose_rail.powered.maths import Value, all_false, any_of, logical_not, maximum, where, zeros
from loose_rail.powered.plant import Plant
from loose_rail.powered.settled_columns import Watched, resting, state_of, thinned
from loose_rail.powered.simulate import Simulation
from loose_rail.powered.stages.mains import AdapterSide, HotSide
from loose_rail.powered.strides import Strides
from loose_rail.vocabulary.keys import stage_of

Floats = NDArray[np.float64]
Watch = Callable[[float], None]

STEP_SECONDS = 1e-3
METER_SECONDS = 0.25
WATCH_STEPS = 100
OBSERVE_SECONDS = 5e-3
"""A meter's window of a quarter second is the mean of fifty looks at the board."""
SETTLE_SECONDS = 2.0
RECORD_SECONDS = 4.0
PEAK_LOOK_SECONDS = 0.05
"""How often a point is looked at before the record starts, for the highest it ever stands at."""
LEAST_STARTS, LEAST_TRIES = 3, 2
"""Starts that make a rate: a converter's start-up may stumble once, a driver's retry is a timer."""


class Restarting(Protocol):
    """A stage that counts its starts."""

    @property
    def starts(self) -> Value: ...


@dataclass(frozen=True, slots=True)
class LiveRecord:
    """Meter windows `(n_windows, n)` per point, restart rates `(n,)` per converter, lamp and fuse.

    `peaks` are the highest volts of each point `(n,)` from plug-in on: a rail may come up and sag.
    `late_seconds` `(n,)` is how long after plug-in each point stood there, in the mean: the time
    for which its own height would have to be missing to leave the area that was seen.
    `trace_seconds` and `traces` hold finer samples where a trace was asked for. `lamp_glow` is
    the mean brightness over the record, `flash_seconds` how long the lamp glowed from plug-in;
    `standby` names the first converter.
    """

    windows: dict[str, Floats]
    peaks: dict[str, Floats]
    late_seconds: dict[str, Floats]
    hertz: dict[str, Floats]
    standby: str
    fuse_whole: NDArray[np.bool_]
    lamp_glow: Floats
    flash_seconds: Floats
    trace_seconds: Floats
    traces: dict[str, Floats]

    def restarts(self, observable: str) -> Floats:
        """Restart rate in hertz that moves a point: its own converter's, else the standby's."""
        own = self.hertz.get(stage_of(observable))
        first = self.hertz.get(self.standby, np.zeros(len(self.lamp_glow)))
        return first if own is None else np.asarray(np.where(own > 0, own, first))


class _Restarts:
    """Rate of a converter's starts: intervals between the first and the last one seen."""

    def __init__(self, converter: Restarting, step_seconds: float, least: int) -> None:
        self.converter = converter
        self.least = least
        self.step_seconds = step_seconds
        self.last_count = 1.0 * converter.starts
        self.seen = zeros(self.last_count)
        self.first = zeros(self.last_count)
        self.last = zeros(self.last_count)

    def add(self, seconds: float) -> None:
        new = self.converter.starts > self.last_count
        if not any_of(new):
            return
        self.first = where(new & (self.seen == 0), seconds, self.first)
        self.last = where(new, seconds, self.last)
        self.seen = self.seen + new
        self.last_count = 1.0 * self.converter.starts

    @property
    def hertz(self) -> Value:
        spread = maximum(self.last - self.first, self.step_seconds)
        return where(self.seen >= self.least, (self.seen - 1) / spread, 0.0)


class _Lamp:
    """Mean glow over the record and the length of the first flash."""

    def __init__(self, like: Value) -> None:
        self.glow = zeros(like)
        self.flash = zeros(like)
        self.dark = all_false(like)
        self._glowed = False

    def add(self, lit: Value, recorded: float, seconds: Value) -> None:
        """Count a brightness that lasts `seconds`, of which `recorded` belong to the record."""
        glows = lit > 0
        if not any_of(glows):
            if self._glowed:
                self.dark = self.dark | (self.flash > 0)
                self._glowed = False
            return
        self._glowed = True
        self.dark = self.dark | (logical_not(glows) & (self.flash > 0))
        self.flash = self.flash + (glows & logical_not(self.dark)) * seconds
        self.glow = self.glow + lit * recorded


class _Tracer:
    """Fine samples of every point and of what stands in line."""

    def __init__(self, every: int, step_seconds: float) -> None:
        self.every = every
        self.step_seconds = step_seconds
        self.times: list[float] = []
        self.samples: dict[str, list[Value]] = {}

    def due(self, number: int) -> bool:
        return bool(self.every) and number % self.every == 0

    def add(self, number: int, seen: dict[str, Value], hot: HotSide | AdapterSide) -> None:
        self.times.append((number + 1) * self.step_seconds)
        in_line = {"lamp_glow": hot.lamp_glow, "in_line_watts": hot.in_line_watts}
        for name, values in {**seen, **in_line}.items():
            self.samples.setdefault(name, []).append(values)

    def go_on(self, number: int, n_steps: int, simulation: Simulation) -> None:
        """Sample a board at rest from after step `number` to the end."""
        if self.every:
            seen = simulation.observe()
            for later in range(number + 1, n_steps):
                if self.due(later):
                    self.add(later, seen, simulation.hot)


class _Recorder:
    """Everything that is noted of a run, for all columns, also those that have come to rest."""

    def __init__(self, simulation: Simulation, n_steps: int, settle: int, step: float) -> None:
        width = simulation.plant.width
        self.simulation = simulation
        self.n_steps, self.settle, self.step = n_steps, settle, step
        self.every = max(1, round(OBSERVE_SECONDS / step))
        self.looks = round(METER_SECONDS / (self.every * step))
        self.columns = np.arange(width)
        n_looks = sum(1 for k in range(settle, n_steps) if k % self.every == 0)
        self.windows = {
            name: np.zeros((n_looks // self.looks, width)) for name in simulation.observe()
        }
        self.peaks = {name: np.zeros(width) for name in self.windows}
        self.areas = {name: np.zeros(width) for name in self.windows}
        stages: dict[str, Restarting] = {**simulation.converters, **simulation.leds}
        self.hertz = {name: np.zeros(width) for name in stages}
        self.fuse_whole = np.ones(width, dtype=bool)
        self.glow, self.flash = np.zeros(width), np.zeros(width)
        self.lamp = _Lamp(simulation.plant.input.mains_volts)
        self.restarts = {
            name: _Restarts(stage, step, LEAST_TRIES if name in simulation.leds else LEAST_STARTS)
            for name, stage in stages.items()
        }
        self.sums: dict[str, Value] = {}
        self.count = 0
        self.state: list[Watched] = []
        self.eve: list[Watched] = []

    def lit(self, last: int, stride: int) -> None:
        """Count the lamp's light of the steps up to `last`."""
        glow = self.simulation.hot.lamp_glow
        recorded = min(max(last + 1 - self.settle, 0), stride)
        self.lamp.add(glow, recorded * self.step, stride * self.step)

    def due(self, number: int) -> bool:
        """Whether a step is looked at by the meter."""
        return number >= self.settle and number % self.every == 0

    def closing(self, number: int) -> bool:
        """Whether this step ends a window."""
        return self.due(number) and (self.count + 1) % self.looks == 0

    def look(self, number: int, seen: dict[str, Value]) -> bool:
        """Add one look; at the end of a window note its mean and return True."""
        self.count += 1
        window, rest = divmod(self.count, self.looks)
        for name, values in seen.items():
            total = self.sums[name] + values if name in self.sums else values
            if rest == 0:
                self.windows[name][window - 1, self.columns] = total / self.looks
            else:
                self.sums[name] = total
        if rest == 0:
            self.sums = {}
        for restart in self.restarts.values():
            restart.add(number * self.step)
        return rest == 0

    def rise(self, steps: int) -> None:
        """Note the highest volts before the record starts, and what stands for the next steps."""
        for name, values in self.simulation.observe().items():
            peak = self.peaks[name]
            peak[self.columns] = np.maximum(peak[self.columns], values)
            self.areas[name][self.columns] += np.multiply(values, steps * self.step)

    def remember(self) -> None:
        """Keep the state just before a look, so that what swings once a look is seen to move."""
        self.eve = state_of(self.simulation)

    def thin_out(self, number: int) -> bool:
        """Leave columns at rest behind, between two windows; returns whether any are left."""
        state = state_of(self.simulation)
        rest = resting(self.eve, state)
        if self.state:
            rest &= resting(self.state, state)
        if self.state and rest.any():
            self._finish(rest, number)
            kept = np.flatnonzero(~rest)
            if not len(kept):
                return False
            made: dict[int, object] = {}
            thinned([self.simulation, self.lamp, self.restarts], kept, made)
            self.columns = self.columns[kept]
            state = state_of(self.simulation)
        self.state = state
        return True

    def _finish(self, rest: NDArray[np.bool_], number: int) -> None:
        """Note what columns at rest show to the end of the run, after step `number`."""
        whose = self.columns[rest]
        done = self.count // self.looks
        before = max(self.settle - number, 0) * self.step
        for name, values in self.simulation.observe().items():
            own = np.atleast_1d(values)[rest]
            self.windows[name][done:, whose] = own
            self.areas[name][whose] += own * before
        left = self.n_steps - number - 1
        recorded = min(left, self.n_steps - self.settle)
        glow = np.atleast_1d(self.simulation.hot.lamp_glow)[rest]
        self._close(rest, whose)
        self.glow[whose] += glow * recorded * self.step
        lasting = (glow > 0) & ~np.atleast_1d(self.lamp.dark)[rest]
        self.flash[whose] += np.where(lasting, left * self.step, 0.0)

    def _close(self, of: NDArray[np.bool_] | slice, whose: NDArray[np.intp]) -> None:
        for name, restart in self.restarts.items():
            self.hertz[name][whose] = np.atleast_1d(restart.hertz)[of]
        self.fuse_whole[whose] = np.atleast_1d(self.simulation.hot.fuse_whole)[of]
        self.glow[whose] = np.atleast_1d(self.lamp.glow)[of]
        self.flash[whose] = np.atleast_1d(self.lamp.flash)[of]

    def record(self, tracer: _Tracer, ended: bool) -> LiveRecord:
        """The record of all columns; `ended` where every column came to rest before the end."""
        if not ended:
            self._close(slice(None), self.columns)
        seconds = max(self.n_steps - self.settle, 1) * self.step
        peaks = {
            name: np.maximum(peak, self.windows[name].max(axis=0, initial=0.0))
            for name, peak in self.peaks.items()
        }
        return LiveRecord(
            windows=self.windows,
            peaks=peaks,
            late_seconds={name: self._late(name, peak) for name, peak in peaks.items()},
            hertz=self.hertz,
            standby=next(iter(self.simulation.converters), ""),
            fuse_whole=self.fuse_whole,
            lamp_glow=self.glow / seconds,
            flash_seconds=self.flash,
            trace_seconds=np.array(tracer.times),
            traces={name: _columns(values) for name, values in tracer.samples.items()},
        )

    def _late(self, name: str, peak: Floats) -> Floats:
        """Seconds `(n,)` that are missing to the area below a point's highest."""
        windows = self.windows[name]
        area = self.areas[name] + METER_SECONDS * windows.sum(axis=0)
        whole = self.settle * self.step + METER_SECONDS * len(windows)
        missing = whole - area / np.where(peak > 0.0, peak, 1.0)
        return np.where(peak > 0.0, np.maximum(missing, 0.0), 0.0)


def run(
    plant: Plant,
    seconds: float | None = None,
    trace_every: int = 0,
    step_seconds: float = STEP_SECONDS,
    simulation: Simulation | None = None,
    watch: Watch | None = None,
) -> LiveRecord:
    """Simulate from plug-in; `trace_every` steps between trace samples, 0 for none.

    One column runs on plain floats, several on arrays. `watch` is told the share that is done, now
    and then; it may raise to cancel.
    """
    own = simulation is None
    if simulation is None:
        simulation = Simulation(plant)
    total = SETTLE_SECONDS + RECORD_SECONDS if seconds is None else seconds
    n_steps = round(total / step_seconds)
    settle = round(min(SETTLE_SECONDS, total / 3) / step_seconds)
    recorder = _Recorder(simulation, n_steps, settle, step_seconds)
    tracer = _Tracer(trace_every, step_seconds)
    thins = own and (not trace_every or plant.width == 1)
    every = round(METER_SECONDS / step_seconds)
    rises = max(1, round(PEAK_LOOK_SECONDS / step_seconds))
    strides = Strides(simulation, recorder.every, step_seconds)
    strides_apart = (
        simulation.EVEN
        and simulation.hot.AVERAGED
        and plant.width == 1
        and trace_every % recorder.every == 0
    )
    ended = False
    number = -1
    while number + 1 < n_steps and not ended:
        stride = strides.next(number + 1, n_steps) if strides_apart else 1
        number += stride
        if thins and (number % every == 0 or recorder.closing(number)):
            recorder.remember()
        simulation.step(stride * step_seconds)
        between = 0 < number < settle and number % every == 0
        if watch is not None and number % WATCH_STEPS == 0:
            watch(number / n_steps)
        recorder.lit(number, stride)
        if strides_apart and number % recorder.every == 0:
            strides.look()
        if number < settle and number % rises == 0:
            recorder.rise(rises)
        due = recorder.due(number)
        if due or tracer.due(number):
            seen = simulation.observe()
            if tracer.due(number):
                tracer.add(number, seen, simulation.hot)
            if due:
                between = recorder.look(number, seen)
        if thins and between and not recorder.thin_out(number):
            ended = True
            tracer.go_on(number, n_steps, simulation)
    return recorder.record(tracer, ended)


def _columns(values: list[Value]) -> Floats:
    """Samples `(n_samples, n)`, also where each sample is one float."""
    return np.array(values, dtype=float).reshape(len(values), -1)
