"""Nodal matrices of a network and of many variants of it, in one array.

The variants share the nets and the list of junctions; a junction that a variant takes out gets
the scale 0. Every junction has FOLDED_SIEMENS across it in the linear part (and subtracted from
its law), and every net leaks a little to the reference, as a dirty board does: so no net floats
and the matrix can always be inverted. The reference itself is held firmly (no current flows there,
every reading is a difference), which keeps the impedances small and their differences exact.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.circuit.elements import (
    Capacitor,
    Element,
    Junction,
    Network,
    Resistor,
    Variant,
    Windings,
)
from loose_rail.circuit.junction import JunctionArray
from loose_rail.kernel.errors import CircuitError

Floats = NDArray[np.float64]
Complexes = NDArray[np.complex128]

DIRTY_BOARD_SIEMENS = 1e-10
"""Leakage of every net to the reference: 10 GΩ, a board that has been breathed on [E]."""

REFERENCE_SIEMENS = 1.0
"""Ties the reference net down; any value does, it carries no current."""

FOLDED_SIEMENS = 1e-5
"""Conductance kept across each junction in the linear part; exact, because it is subtracted."""


@dataclass(frozen=True, slots=True)
class Assembly:
    """A network prepared for solving: net index, junction names, their ends and parameters."""

    network: Network
    index: dict[str, int]
    junction_names: tuple[str, ...]
    junction_ends: NDArray[np.intp]
    junctions: JunctionArray

    @property
    def n_nets(self) -> int:
        """Number of nets, the reference included."""
        return len(self.index)

    def net(self, name: str) -> int:
        """Index of a net. Raises CircuitError for a net that is not there."""
        try:
            return self.index[name]
        except KeyError:
            raise CircuitError(f"There is no net “{name}” in this network.") from None


def assemble(network: Network) -> Assembly:
    """Number the nets and gather the junctions."""
    index = {net: number for number, net in enumerate(network.nets)}
    pairs = [(n, e) for n, e in network.elements.items() if isinstance(e, Junction)]
    ends = np.array([[index[e.anode], index[e.cathode]] for _, e in pairs], dtype=np.intp)
    return Assembly(
        network,
        index,
        tuple(name for name, _ in pairs),
        ends.reshape(-1, 2),
        JunctionArray.of([e for _, e in pairs]),
    )


def dc_conductances(assembly: Assembly, variants: Sequence[Variant]) -> tuple[Floats, Floats]:
    """Conductance matrices `(n_variants, n_nets, n_nets)` and junction scales.

    Scales have the shape `(n_variants, n_junctions)`: 1 where the junction stands, 0 where it
    has been taken out or replaced by a resistance.
    """
    size = assembly.n_nets
    healthy = DIRTY_BOARD_SIEMENS * np.eye(size)
    _hold_reference(healthy, assembly)
    for element in assembly.network.elements.values():
        _stamp_dc(healthy, assembly, element, 1.0)
    matrices = np.repeat(healthy[None], len(variants), axis=0)
    scales = np.ones((len(variants), len(assembly.junction_names)))
    for row, variant in enumerate(variants):
        for element, sign in _changes(assembly, variant):
            _stamp_dc(matrices[row], assembly, element, sign)
        for name in variant.replaced:
            if name in assembly.junction_names:
                scales[row, assembly.junction_names.index(name)] = 0.0
    return matrices, scales


def ac_admittances(assembly: Assembly, variants: Sequence[Variant], hertz: float) -> Complexes:
    """Complex admittance matrices `(n_variants, n_nets, n_nets)` at one frequency.

    Junctions stand as their slope at zero volts: the test signal is too small to open them.
    """
    omega = 2 * np.pi * hertz
    size = assembly.n_nets
    healthy: Complexes = np.asarray(DIRTY_BOARD_SIEMENS * np.eye(size), dtype=np.complex128)
    _hold_reference(healthy, assembly)
    for element in assembly.network.elements.values():
        _stamp_ac(healthy, assembly, element, omega, 1.0)
    matrices = np.repeat(healthy[None], len(variants), axis=0)
    for row, variant in enumerate(variants):
        for element, sign in _changes(assembly, variant):
            _stamp_ac(matrices[row], assembly, element, omega, sign)
    return matrices


def _hold_reference(matrix: Floats | Complexes, assembly: Assembly) -> None:
    reference = assembly.net(assembly.network.reference)
    matrix[reference, reference] += REFERENCE_SIEMENS


def _changes(assembly: Assembly, variant: Variant) -> Iterable[tuple[Element, float]]:
    """What a variant takes from the healthy stamps (−1) and what it adds (+1)."""
    for name, new in variant.replaced.items():
        if name not in assembly.network.elements:
            raise CircuitError(f"Variant “{variant.name}” replaces “{name}”, which is not there.")
        yield assembly.network.elements[name], -1.0
        if new is not None:
            if isinstance(new, Junction):
                raise CircuitError("A variant can't put another junction in place; use resistors.")
            yield new, 1.0
    for element in variant.added:
        yield element, 1.0


def _branch(
    matrix: Floats | Complexes, assembly: Assembly, a: str, b: str, y: complex | float
) -> None:
    i, j = assembly.net(a), assembly.net(b)
    matrix[i, i] += y
    matrix[j, j] += y
    matrix[i, j] -= y
    matrix[j, i] -= y


def _stamp_dc(matrix: Floats, assembly: Assembly, element: Element, sign: float) -> None:
    if isinstance(element, Resistor):
        _branch(matrix, assembly, element.a, element.b, sign / element.ohms)
    elif isinstance(element, Capacitor):
        _branch(matrix, assembly, element.a, element.b, sign / element.leak_ohms)
    elif isinstance(element, Junction):
        _branch(matrix, assembly, element.anode, element.cathode, sign * FOLDED_SIEMENS)
    else:
        for (start, finish), ohms in zip(element.terminals, element.ohms, strict=True):
            _branch(matrix, assembly, start, finish, sign / ohms)


def _stamp_ac(
    matrix: Complexes, assembly: Assembly, element: Element, omega: float, sign: float
) -> None:
    if isinstance(element, Resistor):
        _branch(matrix, assembly, element.a, element.b, sign / element.ohms)
    elif isinstance(element, Capacitor):
        impedance = element.esr_ohms + 1.0 / (1j * omega * element.farads)
        admittance = 1.0 / impedance + 1.0 / element.leak_ohms
        _branch(matrix, assembly, element.a, element.b, sign * admittance)
    elif isinstance(element, Junction):
        slope = JunctionArray.of([element]).law(np.zeros(1))[1][0]
        _branch(matrix, assembly, element.anode, element.cathode, sign * slope)
    else:
        _stamp_windings(matrix, assembly, element, omega, sign)


def _stamp_windings(
    matrix: Complexes, assembly: Assembly, windings: Windings, omega: float, sign: float
) -> None:
    """Coupled windings as the inverse of their R + jωM block."""
    henries = np.array(windings.henries)
    mutual = windings.coupling * np.sqrt(np.outer(henries, henries))
    np.fill_diagonal(mutual, henries)
    block = np.linalg.inv(np.diag(windings.ohms).astype(complex) + 1j * omega * mutual)
    ends = [(assembly.net(s), assembly.net(f)) for s, f in windings.terminals]
    for row, (i_start, i_finish) in enumerate(ends):
        for column, (j_start, j_finish) in enumerate(ends):
            y = sign * block[row, column]
            matrix[i_start, j_start] += y
            matrix[i_finish, j_finish] += y
            matrix[i_start, j_finish] -= y
            matrix[i_finish, j_start] -= y
