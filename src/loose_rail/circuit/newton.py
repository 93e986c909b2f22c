"""Newton's method on the reduced port equations of many problems at once.

x: port voltages `(n_problems, n_junctions + 1)`, the last one between the probes.
F(x) = x + Z·i(x) where i flows from the network into the port's device. Converged problems drop
out; what Newton with shortened steps does not settle is ramped up by source stepping. What does not
settle then is handed back: a wrong number is worse than none.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.circuit.assemble import FOLDED_SIEMENS
from loose_rail.circuit.junction import JunctionArray
from loose_rail.circuit.meter_port import MeterPort

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]
Ints = NDArray[np.intp]

MOST_STEPS = 80
EAGER_STEPS = 25
"""Problems that have not settled by then go on with careful steps."""
CURRENT_TOLERANCE = 1e-9
CURRENT_FLOOR_AMPS = 1e-15
ROUGH_TOLERANCE, ROUGH_SHARE = 1e-2, 1.1
"""Currents within a hundredth tell that a reading is a tenth beyond the range."""
STEP_TOLERANCE_VOLTS = 1e-9
"""A step below a nanovolt is rounding: nets held by gigaohms alone move by that much."""
BOUND_SHARE = 1.01
BOUND_VOLTS = 1e-6
"""Slack of the bounds on a solution, so that one that lies on them is not taken for a cut step."""
CURRENT_BOUND_SHARE = 2.0
LARGEST_STEP_VOLTS = 1.0
LEAST_KNEE_OHMS = 1e-3
DEEPEST_SHARE = 1e-4
"""Most that one step may lower the current of a conducting junction, as a share of it."""
THIN_OUT_SHARE = 0.2
"""Share of rows that must be done before the rest is copied to a smaller system."""


@dataclass(slots=True)
class Problems:
    """A chunk of problems: impedances `(n, p, p)`, junction scales `(n, j)`, laws, the meter.

    A junction starts to matter at its `knee`, where its slope equals the conductance that it sees.
    It never stands above its `ceiling`: in a network of resistances and junctions with one source
    no branch carries more than the source gives, and no two nets stand further apart than the
    probes (no-gain property of passive resistive networks, textbook). Both `(n, j)` in volts.
    """

    z: Floats
    scales: Floats
    junctions: JunctionArray
    port: MeterPort
    knee: Floats
    ceiling: Floats

    @staticmethod
    def of(z: Floats, scales: Floats, junctions: JunctionArray, port: MeterPort) -> Problems:
        """Work out the knees and ceilings; junctions that were taken out have neither."""
        seen = np.maximum(np.diagonal(z, axis1=1, axis2=2)[:, :-1], LEAST_KNEE_OHMS)
        slope = junctions.slope_volts
        knee = slope * np.log(slope / (junctions.saturation * seen))
        ceiling = junctions.volts_at(CURRENT_BOUND_SHARE * port.largest_amps)
        out = scales == 0.0
        knee = np.where(out, np.inf, np.maximum(knee, 0.0))
        return Problems(
            z=z,
            scales=scales,
            junctions=junctions,
            port=port,
            knee=knee,
            ceiling=np.where(out, np.inf, ceiling),
        )

    def some(self, rows: Ints) -> Problems:
        """The problems with these numbers."""
        return Problems(
            z=self.z[rows],
            scales=self.scales[rows],
            junctions=self.junctions,
            port=self.port,
            knee=self.knee[rows],
            ceiling=self.ceiling[rows],
        )

    def law(self, x: Floats, ramp: float) -> tuple[Floats, Floats]:
        """Currents into the devices at the ports, and their slopes, `(n, p)` each."""
        junction, junction_slope = self.junctions.law(x[:, :-1])
        current, slope = np.empty_like(x), np.empty_like(x)
        current[:, :-1] = (junction - FOLDED_SIEMENS * x[:, :-1]) * self.scales
        slope[:, :-1] = (junction_slope - FOLDED_SIEMENS) * self.scales
        current[:, -1], slope[:, -1] = self.port.law(x[:, -1], ramp)
        return current, slope

    def eager(self, here: Floats, step: Floats) -> tuple[Floats, Flags]:
        """The point after a step that is cut where it goes too far, and which problems were cut.

        A step up beyond the knee becomes its logarithm, and one down from there too, so that the
        current and not the voltage is what the linearised network gives. The bounds of any solution
        bound the steps as well.
        """
        slope = self.junctions.slope_volts
        wanted = here + step
        before, rise = here[:, :-1], step[:, :-1]
        new = wanted.copy()
        volts = new[:, :-1]
        up = (volts > self.knee) & (rise > slope)
        down = (before > self.knee) & (rise < -0.5 * slope)
        if up.any():
            base = np.maximum(before, np.where(up, self.knee, 0.0))
            gain = np.maximum(volts - base, 0.0)
            np.copyto(volts, base + slope * np.log1p(gain / slope), where=up)
        if down.any():
            share = np.maximum(1.0 + rise / slope, DEEPEST_SHARE)
            low = np.maximum(before + slope * np.log(share), np.minimum(0.0, volts))
            np.copyto(volts, low, where=down)
        np.minimum(volts, self.ceiling, out=volts)
        bound = BOUND_SHARE * self.port.open_volts + BOUND_VOLTS
        np.clip(new, -bound, bound, out=new)
        cut = np.asarray((up | down).any(axis=1))
        return new, cut | np.asarray((np.abs(new - wanted) > STEP_TOLERANCE_VOLTS).any(axis=1))

    def careful(self, here: Floats, step: Floats) -> tuple[Floats, Flags]:
        """The same with steps that no rounding can hold up: shortened to their logarithm into a
        conducting junction, to a volt elsewhere (junction limiting, as circuit simulators do it).

        Nets that hang on gigaohms alone are known to a few volts only and may lie out of bounds.
        """
        slope = self.junctions.slope_volts
        knee = slope * np.log(slope / (np.sqrt(2.0) * self.junctions.saturation))
        wanted = here + step
        steep = (wanted[:, :-1] > knee) & (step[:, :-1] > 2 * slope)
        far = np.abs(step) > LARGEST_STEP_VOLTS
        new = np.where(far, here + np.clip(step, -LARGEST_STEP_VOLTS, LARGEST_STEP_VOLTS), wanted)
        base = np.maximum(here[:, :-1], knee)
        gain = np.maximum(wanted[:, :-1] - base, 0.0)
        limited = np.where(steep, base + slope * np.log1p(gain / slope), new[:, :-1])
        new[:, :-1] = np.minimum(limited, here[:, :-1] + LARGEST_STEP_VOLTS)
        return new, np.asarray(steep.any(axis=1) | far.any(axis=1))


def solve(problems: Problems, x: Floats, beyond_volts: float = np.inf) -> Ints:
    """Solve in place from a starting point; returns the rows that do not settle.

    Where the probes stand above `beyond_volts`, that they do is all that is asked for: such a
    problem ends with a rough solution.
    """
    left = newton(problems, x, np.arange(len(x)), 1.0, beyond_volts, EAGER_STEPS)
    return source_stepping(problems, x, left) if len(left) else left


def source_stepping(problems: Problems, x: Floats, rows: Ints) -> Ints:
    """Raise the meter's source from a thousandth to the whole, each solution starting the next."""
    x[rows] = 0.0
    left: Ints = rows
    for ramp in np.geomspace(0.001, 1.0, 20):
        left = newton(problems, x, rows, float(ramp))
    return left


def newton(
    problems: Problems,
    x: Floats,
    rows: Ints,
    ramp: float = 1.0,
    beyond_volts: float = np.inf,
    eager_steps: int = 0,
) -> Ints:
    """Iterate in place on the rows given; returns the rows that have not settled."""
    here = x[rows]
    active = problems if len(rows) == len(x) else problems.some(rows)
    current, slope = active.law(here, ramp)
    diagonal = np.arange(x.shape[1])
    for number in range(MOST_STEPS):
        residual = here + (active.z @ current[:, :, None])[:, :, 0]
        jacobian = active.z * slope[:, None, :]
        jacobian[:, diagonal, diagonal] += 1.0
        step: Floats = -np.linalg.solve(jacobian, residual[:, :, None])[:, :, 0].astype(float)
        shorten = active.eager if number < eager_steps else active.careful
        new, limited = shorten(here, step)
        step = new - here
        after, after_slope = active.law(new, ramp)
        error = np.abs(after - (current + slope * step)).max(axis=1)
        scale = np.maximum(np.abs(after).max(axis=1), CURRENT_FLOOR_AMPS)
        close = error <= CURRENT_TOLERANCE * scale + CURRENT_FLOOR_AMPS
        close |= np.abs(step).max(axis=1) <= STEP_TOLERANCE_VOLTS
        close |= (error <= ROUGH_TOLERANCE * scale) & (new[:, -1] > ROUGH_SHARE * beyond_volts)
        settled = close & ~limited
        here, current, slope = new, after, after_slope
        done = np.count_nonzero(settled)
        if done == len(rows):
            x[rows] = new
            return rows[:0]
        if done > THIN_OUT_SHARE * len(rows) or number == MOST_STEPS - 1:
            x[rows] = new
            waiting = np.flatnonzero(~settled)
            rows, active = rows[waiting], active.some(waiting)
            here, current, slope = new[waiting], after[waiting], after_slope[waiting]
    return rows
