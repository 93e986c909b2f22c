"""A network reduced to its ports: one for each junction and one for the probes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]


@dataclass(frozen=True, slots=True)
class Reduced:
    """A solved network seen from its junctions.

    `across` `(n_variants, n_nets, j)` is the voltage of each net per amp through a junction;
    `between` `(n_variants, j, j)` the voltage of each junction for the same; `strongest` `(j, j)`
    the largest of these on any variant.
    """

    z: Floats
    across: Floats
    between: Floats
    strongest: Floats

    @staticmethod
    def of(z: Floats, ends: NDArray[np.intp]) -> Reduced:
        """Reduce the impedances of all variants `(n_variants, n_nets, n_nets)` to ports."""
        first, second = ends.T
        across = z[:, :, first] - z[:, :, second]
        between = across[:, first, :] - across[:, second, :]
        return Reduced(z, across, between, np.abs(between).max(axis=0))

    def own(self, variant: Ints | int, red: Ints, black: Ints) -> Floats:
        """Impedance between the probes themselves, `(n,)`."""
        z = self.z
        at_red = z[variant, red, red] - z[variant, black, red]
        return np.asarray(at_red - (z[variant, red, black] - z[variant, black, black]))

    def kept(self, junctions: Ints) -> Reduced:
        """The same with only some junctions."""
        return Reduced(
            self.z,
            self.across[:, :, junctions],
            self.between[:, junctions[:, None], junctions],
            self.strongest[junctions[:, None], junctions],
        )

    def ports(self, variant: Ints, red: Ints, black: Ints) -> Floats:
        """Exact impedances seen at the junctions and the probes, `(n, j + 1, j + 1)`."""
        n, j = len(variant), self.between.shape[1]
        ports = np.empty((n, j + 1, j + 1))
        ports[:, :j, :j] = self.between[variant]
        ports[:, :j, j] = ports[:, j, :j] = self.across[variant, red] - self.across[variant, black]
        ports[:, j, j] = self.own(variant, red, black)
        return ports
