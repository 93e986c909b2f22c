"""Volts between the probes for every variant and pair, from the reduced network.

The healthy board is solved for each pair; where that solution also solves a faulty board, the fault
is invisible to the pair and the healthy value stands. The rest is solved in chunks.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from loose_rail.circuit.assemble import FOLDED_SIEMENS, Assembly
from loose_rail.circuit.meter_port import MeterPort
from loose_rail.circuit.newton import Problems, solve
from loose_rail.circuit.reduction import Reduced
from loose_rail.kernel.errors import CircuitError

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]
Ints = NDArray[np.intp]

CHUNK_NUMBERS = 200_000
"""Impedances gathered at once: what stays in a processor's cache."""
INVISIBLE_VOLTS = 1e-8
INVISIBLE_SHARE = 1e-6
"""A fault that moves the reading by less than a millionth is not seen by the pair."""
ROWS_AT_ONCE = 64
"""Variants solved in one batch: bounds the memory."""


class SolvedNetwork(Protocol):
    """What the port solver needs of a `ColdSolver`."""

    @property
    def assembly(self) -> Assembly: ...
    @property
    def reduced(self) -> Reduced: ...
    @property
    def scales(self) -> Floats: ...


@dataclass(frozen=True, slots=True)
class Pairs:
    """Probe pairs: net numbers `(n_pairs,)`, and `reach` `(n_pairs, n_junctions)`, the largest
    voltage across each junction per amp through the probes on any variant."""

    red: Ints
    black: Ints
    reach: Floats

    @staticmethod
    def of(reduced: Reduced, plus: Sequence[int], minus: Sequence[int]) -> Pairs:
        """The pairs between two lists of nets."""
        red, black = np.array(plus, dtype=np.intp), np.array(minus, dtype=np.intp)
        reach = np.zeros((len(red), reduced.between.shape[1]))
        for across in reduced.across:
            np.maximum(reach, np.abs(across[red] - across[black]), out=reach)
        return Pairs(red, black, reach)

    def some(self, numbers: Ints) -> Pairs:
        """The pairs with these numbers."""
        return Pairs(self.red[numbers], self.black[numbers], self.reach[numbers])


def solve_ports(
    solver: SolvedNetwork,
    pairs: Pairs,
    port: MeterPort,
    wanted: Flags | None = None,
    beyond_volts: float = np.inf,
) -> Floats:
    """Volts between the probes for every variant and pair, `(n_variants, n_pairs)`.

    Where `wanted` is false the healthy value stands, unsolved; values above `beyond_volts` may be
    rough. Raises CircuitError where a problem does not settle.
    """
    reached = _reached(solver.reduced, pairs, port.largest_amps)
    volts = np.empty((len(solver.scales), len(pairs.red)))
    patterns, group_of = np.unique(reached, axis=0, return_inverse=True)
    for number, pattern in enumerate(patterns):
        columns = np.flatnonzero(group_of == number)
        group = _Group(solver, np.flatnonzero(pattern), pairs.some(columns), port)
        volts[:, columns] = group.volts(
            None if wanted is None else wanted[:, columns], beyond_volts
        )
    return volts


class _Group:
    """Pairs that need the same junctions `kept` `(k,)`, on every variant."""

    def __init__(self, solver: SolvedNetwork, kept: Ints, pairs: Pairs, port: MeterPort) -> None:
        self._pairs = pairs
        self._port = port
        self._reduced = solver.reduced.kept(kept)
        self._scales = solver.scales[:, kept]
        self._junctions = solver.assembly.junctions.some(kept)

    def volts(self, wanted: Flags | None, beyond_volts: float) -> Floats:
        """Volts between the probes, `(n_variants, n_pairs)`; the healthy ones where not wanted."""
        n_variants, n_ports = self._scales.shape[0], self._scales.shape[1] + 1
        every = np.arange(len(self._pairs.red))
        healthy = self._solved(np.zeros_like(every), every, np.zeros((len(every), n_ports)))
        volts = np.tile(healthy[:, -1], (n_variants, 1))
        visible = self._visible(healthy)
        if wanted is not None:
            visible &= wanted
        variant, pair = np.nonzero(visible)
        volts[variant, pair] = self._solved(variant, pair, healthy[pair], beyond_volts)[:, -1]
        return volts

    def _solved(self, variant: Ints, pair: Ints, x: Floats, beyond_volts: float = np.inf) -> Floats:
        """Port voltages `(n, k + 1)` of some variants and pairs; `x` is where to start."""
        chunk = max(1, CHUNK_NUMBERS // x.shape[1] ** 2)
        for first in range(0, len(x), chunk):
            part = slice(first, first + chunk)
            rows, own = variant[part], self._pairs.some(pair[part])
            z = self._reduced.ports(rows, own.red, own.black)
            problems = Problems.of(z, self._scales[rows], self._junctions, self._port)
            left = solve(problems, x[part], beyond_volts)
            if len(left):
                raise CircuitError(
                    f"{len(left)} of {len(rows)} readings do not settle.",
                    "Look for a part value that is far out of the ordinary.",
                )
        return x

    def _visible(self, healthy: Floats) -> Flags:
        """Where the healthy solution does not solve the variant, `(n_variants, n_pairs)`.

        The residual of every variant at it, without gathering a matrix for each.
        """
        reduced, scales, red, black = (
            self._reduced,
            self._scales,
            self._pairs.red,
            self._pairs.black,
        )
        volts, probe_volts = healthy[:, :-1], healthy[:, -1]
        current = self._junctions.law(volts)[0] - FOLDED_SIEMENS * volts
        meter, _ = self._port.law(probe_volts, 1.0)
        least = np.maximum(INVISIBLE_VOLTS, INVISIBLE_SHARE * np.abs(probe_volts))
        visible = np.zeros((len(scales), len(red)), dtype=bool)
        for first in range(0, len(scales), ROWS_AT_ONCE):
            rows = np.arange(first, min(first + ROWS_AT_ONCE, len(scales)))[:, None]
            probe = reduced.across[rows, red] - reduced.across[rows, black]
            through = current * scales[rows]
            junctions = volts + through @ reduced.between[rows[:, 0]].transpose(0, 2, 1)
            junctions += probe * meter[:, None]
            own = reduced.own(rows, red, black)
            probes = probe_volts + np.einsum("vpj,vpj->vp", probe, through) + own * meter
            worst = np.maximum(np.abs(junctions).max(axis=2, initial=0.0), np.abs(probes))
            visible[rows[:, 0]] = worst > least
        return visible


def _reached(reduced: Reduced, pairs: Pairs, amps: float) -> Flags:
    """Which junctions each pair needs, `(n_pairs, n_junctions)`.

    A junction is left out where no current of the meter's size, through the probes or any other
    junction that counts, could put more than INVISIBLE_VOLTS across it on any variant.
    """
    least = INVISIBLE_VOLTS / amps
    coupled = (reduced.strongest > least).astype(np.float32)
    wanted = np.asarray(pairs.reach > least)
    for _ in range(len(coupled)):
        wider = wanted | (wanted @ coupled > 0)
        if (wider == wanted).all():
            break
        wanted = wider
    return wanted
