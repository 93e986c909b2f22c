"""Newton's method on the reduced port equations of many problems at once.

x: port voltages `(n_problems, n_junctions + 1)`, the last one between the probes.
F(x) = x + Z·i(x) where i flows from the network into the port's device. Converged problems drop
out; what Newton with halved steps does not settle is ramped up by source stepping. A problem that
still does not settle raises: a wrong number is worse than none.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from loose_rail.circuit import meters
from loose_rail.circuit.assemble import FOLDED_SIEMENS, Assembly
from loose_rail.circuit.junction import JunctionArray
from loose_rail.kernel.errors import CircuitError

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]

CHUNK = 1500
MOST_STEPS = 80
INVISIBLE_VOLTS = 1e-8
CURRENT_TOLERANCE = 1e-9
CURRENT_FLOOR_AMPS = 1e-15
LARGEST_STEP_VOLTS = 1.0
STEP_TOLERANCE_VOLTS = 1e-9
"""A step below a nanovolt is rounding: nets held by gigaohms alone move by that much."""


class SolvedNetwork(Protocol):
    """What the port solver needs of a `ColdSolver`."""

    @property
    def assembly(self) -> Assembly: ...
    @property
    def z(self) -> Floats: ...
    @property
    def scales(self) -> Floats: ...


@dataclass(frozen=True, slots=True)
class MeterPort:
    """A meter as a Norton source: `amps` out, `siemens` across, and a clamp junction."""

    amps: float
    siemens: float
    clamp: JunctionArray | None

    @staticmethod
    def ohms(amps: float) -> MeterPort:
        """A current source that gives way near the clamp voltage."""
        slope = 0.05
        saturation = amps * np.exp(-meters.OHMS_CLAMP_VOLTS / slope)
        clamp = JunctionArray(
            np.array([saturation]),
            np.array([slope]),
            np.array([0.01 / amps]),
            np.array([np.inf]),
        )
        return MeterPort(amps, 0.0, clamp)

    @staticmethod
    def diode() -> MeterPort:
        """Open voltage behind a resistance."""
        siemens = 1.0 / meters.DIODE_SOURCE_OHMS
        return MeterPort(meters.DIODE_SOURCE_VOLTS * siemens, siemens, None)

    def delivered(self, volts: float) -> float:
        """Amps that flow out of the meter at a voltage between its probes."""
        return -float(self.law(np.array([volts]), 1.0)[0][0])

    def law(self, volts: Floats, ramp: float) -> tuple[Floats, Floats]:
        """Current into the meter and slope at `volts` of shape `(n,)`; `ramp` scales the source."""
        current = self.siemens * volts - ramp * self.amps
        slope = np.full_like(volts, self.siemens)
        if self.clamp is not None:
            clamp, clamp_slope = self.clamp.law(volts[:, None])
            current += clamp[:, 0]
            slope += clamp_slope[:, 0]
        return current, slope


@dataclass(slots=True)
class _Problems:
    """A chunk of problems: impedances `(n, p, p)`, junction scales `(n, j)`, the meter."""

    z: Floats
    scales: Floats
    junctions: JunctionArray
    port: MeterPort

    def law(self, x: Floats, rows: Ints, ramp: float) -> tuple[Floats, Floats]:
        current, slope = self.junctions.law(x[:, :-1])
        scales = self.scales[rows]
        current = (current - FOLDED_SIEMENS * x[:, :-1]) * scales
        slope = (slope - FOLDED_SIEMENS) * scales
        meter, meter_slope = self.port.law(x[:, -1], ramp)
        return (
            np.concatenate([current, meter[:, None]], axis=1),
            np.concatenate([slope, meter_slope[:, None]], axis=1),
        )

    def limit(self, here: Floats, step: Floats) -> tuple[Floats, NDArray[np.bool_]]:
        """Shorten steps into a conducting junction to their logarithm, and all others to a volt.

        Without it Newton's method can circle between two junctions for ever (junction limiting,
        as circuit simulators do it). Returns the new point and which problems were limited.
        """
        slope = self.junctions.slope_volts
        knee = slope * np.log(slope / (np.sqrt(2.0) * self.junctions.saturation))
        wanted = here + step
        rise = step[:, :-1]
        steep = (wanted[:, :-1] > knee) & (rise > 2 * slope)
        base = np.maximum(here[:, :-1], knee)
        gain = np.maximum(wanted[:, :-1] - base, 0.0)
        wanted[:, :-1] = np.where(steep, base + slope * np.log1p(gain / slope), wanted[:, :-1])
        far = np.abs(step) > LARGEST_STEP_VOLTS
        clipped = here + np.clip(step, -LARGEST_STEP_VOLTS, LARGEST_STEP_VOLTS)
        wanted = np.where(far & (np.abs(wanted - here) > LARGEST_STEP_VOLTS), clipped, wanted)
        limited = steep.any(axis=1) | far.any(axis=1)
        return wanted, limited

    def residual(self, x: Floats, rows: Ints, ramp: float) -> tuple[Floats, Floats, Floats]:
        current, slope = self.law(x, rows, ramp)
        return x + np.einsum("nij,nj->ni", self.z[rows], current), current, slope


def solve_ports(
    solver: SolvedNetwork, plus: Sequence[int], minus: Sequence[int], port: MeterPort
) -> Floats:
    """Volts between the probes for every variant and pair, `(n_variants, n_pairs)`.

    Raises CircuitError where a problem does not settle.
    """
    n_variants, n_pairs = solver.z.shape[0], len(plus)
    red, black = np.array(plus, dtype=np.intp), np.array(minus, dtype=np.intp)
    reduced = _Reduced.of(solver)
    first_row = np.zeros(n_pairs, dtype=np.intp)
    healthy = _solve_block(solver, reduced, (first_row, red, black), port, None)
    volts = np.empty((n_variants, n_pairs))
    rows_of_chunk = max(1, CHUNK // n_pairs)
    for first in range(0, n_variants, rows_of_chunk):
        rows = np.arange(first, min(first + rows_of_chunk, n_variants))
        variant = np.repeat(rows, n_pairs)
        start = np.tile(healthy, (len(rows), 1))
        cases = (variant, np.tile(red, len(rows)), np.tile(black, len(rows)))
        x = _solve_block(solver, reduced, cases, port, start)
        volts[rows] = x[:, -1].reshape(len(rows), n_pairs)
    return volts


@dataclass(frozen=True, slots=True)
class _Reduced:
    """A solved network seen from its junctions.

    `across` `(n_variants, n_nets, j)` is the voltage of each net per amp through a junction;
    `between` `(n_variants, j, j)` the voltage of each junction for the same.
    """

    z: Floats
    across: Floats
    between: Floats

    @staticmethod
    def of(solver: SolvedNetwork) -> _Reduced:
        first, second = solver.assembly.junction_ends.T
        across = solver.z[:, :, first] - solver.z[:, :, second]
        return _Reduced(solver.z, across, across[:, first, :] - across[:, second, :])

    def ports(self, variant: Ints, red: Ints, black: Ints) -> Floats:
        """Exact impedances seen at the junctions and the probes, `(n, j + 1, j + 1)`."""
        n, j = len(variant), self.between.shape[1]
        ports = np.empty((n, j + 1, j + 1))
        ports[:, :j, :j] = self.between[variant]
        probe = self.across[variant, red] - self.across[variant, black]
        ports[:, :j, j] = ports[:, j, :j] = probe
        z = self.z
        at_red = z[variant, red, red] - z[variant, black, red]
        at_black = z[variant, red, black] - z[variant, black, black]
        ports[:, j, j] = at_red - at_black
        return ports


def _solve_block(
    solver: SolvedNetwork,
    reduced: _Reduced,
    cases: tuple[Ints, Ints, Ints],
    port: MeterPort,
    x: Floats | None,
) -> Floats:
    variant, red, black = cases
    problems = _Problems(
        reduced.ports(variant, red, black),
        solver.scales[variant],
        solver.assembly.junctions,
        port,
    )
    n = len(variant)
    everything = np.arange(n)
    if x is None:
        x = np.zeros((n, problems.z.shape[1]))
        waiting = everything
    else:
        residual, _, _ = problems.residual(x, everything, 1.0)
        waiting = np.flatnonzero(np.abs(residual).max(axis=1) > INVISIBLE_VOLTS)
    left = _newton(problems, x, waiting, 1.0)
    if len(left):
        left = _source_stepping(problems, x, left)
    if len(left):
        raise CircuitError(
            f"{len(left)} of {n} readings do not settle.",
            "Look for a part value that is far out of the ordinary.",
        )
    return x


def _source_stepping(problems: _Problems, x: Floats, rows: Ints) -> Ints:
    """Raise the meter's source from a hundredth to the whole, each solution starting the next."""
    x[rows] = 0.0
    left: Ints = rows
    for ramp in np.geomspace(0.001, 1.0, 20):
        left = _newton(problems, x, rows, float(ramp))
    return left


def _newton(problems: _Problems, x: Floats, rows: Ints, ramp: float) -> Ints:
    """Iterate in place on the rows given; returns the rows that have not settled."""
    eye = np.eye(x.shape[1])
    active = rows
    for _ in range(MOST_STEPS):
        if not len(active):
            break
        here = x[active]
        residual, current, slope = problems.residual(here, active, ramp)
        jacobian = eye + problems.z[active] * slope[:, None, :]
        step: Floats = -np.linalg.solve(jacobian, residual[:, :, None])[:, :, 0].astype(float)
        new, limited = problems.limit(here, step)
        x[active] = new
        step = new - here
        after, _ = problems.law(new, active, ramp)
        error = np.abs(after - (current + slope * step)).max(axis=1)
        scale = np.maximum(np.abs(after).max(axis=1), CURRENT_FLOOR_AMPS)
        close = error <= CURRENT_TOLERANCE * scale + CURRENT_FLOOR_AMPS
        close |= np.abs(step).max(axis=1) <= STEP_TOLERANCE_VOLTS
        settled = close & ~limited
        active = active[~settled]
    return active
