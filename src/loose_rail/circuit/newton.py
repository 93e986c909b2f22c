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

CHUNK = 1000
MOST_STEPS = 80
INVISIBLE_VOLTS = 1e-8
INVISIBLE_SHARE = 1e-6
"""A fault that moves the reading by less than a millionth is not seen by the pair."""
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
    def reduced(self) -> Reduced: ...
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
        clamp = JunctionArray.made(
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

    @property
    def largest_amps(self) -> float:
        """The most current that the meter can drive."""
        return self.amps

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
    """A chunk of problems: impedances `(n, p, p)`, junction scales and laws `(n, j)`, the meter."""

    z: Floats
    scales: Floats
    junctions: JunctionArray
    port: MeterPort

    def some(self, rows: Ints) -> _Problems:
        """The problems with these numbers."""
        return _Problems(self.z[rows], self.scales[rows], self.junctions.some(rows), self.port)

    def law(self, x: Floats, ramp: float) -> tuple[Floats, Floats]:
        current, slope = self.junctions.law(x[:, :-1])
        current = (current - FOLDED_SIEMENS * x[:, :-1]) * self.scales
        slope = (slope - FOLDED_SIEMENS) * self.scales
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
        slope, knee = self.junctions.slope_volts, self.junctions.knee
        wanted = here + step
        rise = step[:, :-1]
        steep = (wanted[:, :-1] > knee) & (rise > 2 * slope)
        far = np.abs(step) > LARGEST_STEP_VOLTS
        limited = np.asarray(steep.any(axis=1) | far.any(axis=1))
        if not limited.any():
            return wanted, limited
        base = np.maximum(here[:, :-1], knee)
        gain = np.maximum(wanted[:, :-1] - base, 0.0)
        wanted[:, :-1] = np.where(steep, base + slope * np.log1p(gain / slope), wanted[:, :-1])
        clipped = here + np.clip(step, -LARGEST_STEP_VOLTS, LARGEST_STEP_VOLTS)
        wanted = np.where(far & (np.abs(wanted - here) > LARGEST_STEP_VOLTS), clipped, wanted)
        return wanted, limited


def solve_ports(
    solver: SolvedNetwork,
    plus: Sequence[int],
    minus: Sequence[int],
    port: MeterPort,
    wanted: NDArray[np.bool_] | None = None,
) -> Floats:
    """Volts between the probes for every variant and pair, `(n_variants, n_pairs)`.

    Where `wanted` is false the healthy value stands, unsolved. Raises CircuitError where a problem
    does not settle.
    """
    red, black = np.array(plus, dtype=np.intp), np.array(minus, dtype=np.intp)
    reached = _reached(solver.reduced, red, black, port.largest_amps)
    sizes = reached.sum(axis=1)
    groups = [np.flatnonzero(sizes == size) for size in np.unique(sizes)]
    kept_of = [np.nonzero(reached[pairs])[1].reshape(len(pairs), -1) for pairs in groups]
    healthy = np.zeros((len(red), reached.shape[1] + 1))
    for pairs, kept in zip(groups, kept_of, strict=True):
        cases = (np.zeros(len(pairs), dtype=np.intp), red[pairs], black[pairs])
        found = _solve_block(solver, cases, port, np.zeros((len(pairs), kept.shape[1] + 1)), kept)
        healthy[pairs[:, None], kept] = found[:, :-1]
        healthy[pairs, -1] = found[:, -1]
    volts = np.tile(healthy[:, -1], (len(solver.reduced.z), 1))
    visible = _visible(solver, red, black, port, healthy)
    if wanted is not None:
        visible &= wanted
    for pairs, kept in zip(groups, kept_of, strict=True):
        rows, columns = np.nonzero(visible[:, pairs])
        for first in range(0, len(rows), CHUNK):
            part = slice(first, first + CHUNK)
            variant, pair, own = rows[part], pairs[columns[part]], kept[columns[part]]
            start = np.concatenate([healthy[pair[:, None], own], healthy[pair, -1:]], axis=1)
            cases = (variant, red[pair], black[pair])
            volts[variant, pair] = _solve_block(solver, cases, port, start, own)[:, -1]
    return volts


def _visible(
    solver: SolvedNetwork, red: Ints, black: Ints, port: MeterPort, healthy: Floats
) -> NDArray[np.bool_]:
    """Where the healthy solution does not solve the variant, `(n_variants, n_pairs)`.

    The residual of every variant at the healthy solution, without gathering a matrix for each.
    """
    reduced, scales = solver.reduced, solver.scales
    volts, probe_volts = healthy[:, :-1], healthy[:, -1]
    current, _ = solver.assembly.junctions.law(volts)
    current = current - FOLDED_SIEMENS * volts
    meter, _ = port.law(healthy[:, -1], 1.0)
    visible = np.zeros((len(scales), len(red)), dtype=bool)
    for row, scale in enumerate(scales):
        probe = reduced.across[row, red] - reduced.across[row, black]
        through = current * scale
        junctions = volts + through @ reduced.between[row].T + probe * meter[:, None]
        own = reduced.own(row, red, black)
        probes = healthy[:, -1] + np.einsum("pj,pj->p", probe, through) + own * meter
        worst = np.maximum(np.abs(junctions).max(axis=1, initial=0.0), np.abs(probes))
        visible[row] = worst > np.maximum(INVISIBLE_VOLTS, INVISIBLE_SHARE * np.abs(probe_volts))
    return visible


def _reached(reduced: Reduced, red: Ints, black: Ints, amps: float) -> NDArray[np.bool_]:
    """Which junctions each pair needs, `(n_pairs, n_junctions)`.

    A junction is left out where no current of the meter's size, through the probes or any other
    junction that counts, could put more than INVISIBLE_VOLTS across it on any variant.
    """
    least = INVISIBLE_VOLTS / amps
    reach = np.abs(reduced.across[:, red] - reduced.across[:, black]).max(axis=0)
    coupled = np.abs(reduced.between).max(axis=0) > least
    wanted = np.asarray(reach > least)
    for _ in range(coupled.shape[0]):
        wider = wanted | (wanted @ coupled)
        if (wider == wanted).all():
            break
        wanted = wider
    return wanted


@dataclass(frozen=True, slots=True)
class Reduced:
    """A solved network seen from its junctions.

    `across` `(n_variants, n_nets, j)` is the voltage of each net per amp through a junction;
    `between` `(n_variants, j, j)` the voltage of each junction for the same.
    """

    z: Floats
    across: Floats
    between: Floats

    @staticmethod
    def of(z: Floats, ends: NDArray[np.intp]) -> Reduced:
        """Reduce the impedances of all variants `(n_variants, n_nets, n_nets)` to ports."""
        first, second = ends.T
        across = z[:, :, first] - z[:, :, second]
        return Reduced(z, across, across[:, first, :] - across[:, second, :])

    def own(self, variant: Ints | int, red: Ints, black: Ints) -> Floats:
        """Impedance between the probes themselves, `(n,)`."""
        z = self.z
        at_red = z[variant, red, red] - z[variant, black, red]
        return np.asarray(at_red - (z[variant, red, black] - z[variant, black, black]))

    def ports(self, variant: Ints, red: Ints, black: Ints, kept: Ints) -> Floats:
        """Exact impedances seen at the kept junctions `(n, k)` and the probes,
        `(n, k + 1, k + 1)`."""
        n, j = kept.shape
        ports = np.empty((n, j + 1, j + 1))
        ports[:, :j, :j] = self.between[variant[:, None, None], kept[:, :, None], kept[:, None, :]]
        probe = self.across[variant, red] - self.across[variant, black]
        ports[:, :j, j] = ports[:, j, :j] = np.take_along_axis(probe, kept, axis=1)
        ports[:, j, j] = self.own(variant, red, black)
        return ports


def _solve_block(
    solver: SolvedNetwork,
    cases: tuple[Ints, Ints, Ints],
    port: MeterPort,
    x: Floats,
    kept: Ints,
) -> Floats:
    """Solve problems from a starting point; `kept` `(n, k)` are the junctions that matter."""
    variant, red, black = cases
    problems = _Problems(
        solver.reduced.ports(variant, red, black, kept),
        solver.scales[variant[:, None], kept],
        solver.assembly.junctions.some(kept),
        port,
    )
    n = len(variant)
    left = _newton(problems, x, np.arange(n), 1.0)
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
    here = x[rows]
    active = problems if len(rows) == len(x) else problems.some(rows)
    current, slope = active.law(here, ramp)
    for _ in range(MOST_STEPS):
        residual = here + (active.z @ current[:, :, None])[:, :, 0]
        jacobian = eye + active.z * slope[:, None, :]
        step: Floats = -np.linalg.solve(jacobian, residual[:, :, None])[:, :, 0].astype(float)
        new, limited = active.limit(here, step)
        x[rows] = new
        step = new - here
        after, after_slope = active.law(new, ramp)
        error = np.abs(after - (current + slope * step)).max(axis=1)
        scale = np.maximum(np.abs(after).max(axis=1), CURRENT_FLOOR_AMPS)
        close = error <= CURRENT_TOLERANCE * scale + CURRENT_FLOOR_AMPS
        close |= np.abs(step).max(axis=1) <= STEP_TOLERANCE_VOLTS
        here, current, slope = new, after, after_slope
        settled = close & ~limited
        if settled.any():
            waiting = np.flatnonzero(~settled)
            if not len(waiting):
                return rows[:0]
            rows, active = rows[waiting], active.some(waiting)
            here, current, slope = new[waiting], after[waiting], after_slope[waiting]
    return rows
