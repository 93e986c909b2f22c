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
LARGEST_STEP_VOLTS = 0.5


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
    healthy = _solve_block(solver, np.zeros(n_pairs, dtype=np.intp), red, black, port, None)
    volts = np.empty((n_variants, n_pairs))
    rows_of_chunk = max(1, CHUNK // n_pairs)
    for first in range(0, n_variants, rows_of_chunk):
        rows = np.arange(first, min(first + rows_of_chunk, n_variants))
        variant = np.repeat(rows, n_pairs)
        start = np.tile(healthy, (len(rows), 1))
        x = _solve_block(
            solver, variant, np.tile(red, len(rows)), np.tile(black, len(rows)), port, start
        )
        volts[rows] = x[:, -1].reshape(len(rows), n_pairs)
    return volts


def _port_impedances(solver: SolvedNetwork, variant: Ints, red: Ints, black: Ints) -> Floats:
    """Exact impedances seen at the junctions and the probes, `(n, j + 1, j + 1)`."""
    ends = solver.assembly.junction_ends
    n, j = len(variant), len(ends)
    first = np.concatenate([np.tile(ends[:, 0], (n, 1)), red[:, None]], axis=1)
    second = np.concatenate([np.tile(ends[:, 1], (n, 1)), black[:, None]], axis=1)
    z, v = solver.z, variant[:, None, None]
    top = z[v, first[:, :, None], first[:, None, :]] - z[v, first[:, :, None], second[:, None, :]]
    low = z[v, second[:, :, None], first[:, None, :]] - z[v, second[:, :, None], second[:, None, :]]
    assert top.shape == (n, j + 1, j + 1)
    return np.asarray(top - low)


def _solve_block(
    solver: SolvedNetwork, variant: Ints, red: Ints, black: Ints, port: MeterPort, x: Floats | None
) -> Floats:
    problems = _Problems(
        _port_impedances(solver, variant, red, black),
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
    for ramp in np.concatenate([np.geomspace(0.001, 1.0, 20)]):
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
        step = -np.linalg.solve(jacobian, residual[:, :, None])[:, :, 0]
        limit = np.maximum(1.0, np.abs(step).max(axis=1, keepdims=True) / LARGEST_STEP_VOLTS)
        step = step / limit
        new = here + step
        x[active] = new
        after, _ = problems.law(new, active, ramp)
        error = np.abs(after - (current + slope * step)).max(axis=1)
        scale = np.maximum(np.abs(after).max(axis=1), CURRENT_FLOOR_AMPS)
        settled = (error <= CURRENT_TOLERANCE * scale + CURRENT_FLOOR_AMPS) & (limit[:, 0] <= 1.0)
        active = active[~settled]
    return active
