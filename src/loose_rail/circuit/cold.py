"""Cold meter readings of every fault variant and every probe pair, in one batch.

The network is reduced to its ports: one per junction and one for the probes. With x the port
voltages and Z the port impedances (exact, from one inverse per variant), the solution is
F(x) = x + Z·i(x) = 0, found by Newton's method on all problems at once. Problems start from the
healthy board's solution of the same pair; where that already solves the faulty board, the fault
is invisible to the pair. Settled DC values: capacitors are open but for their leakage.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from loose_rail.circuit import meters
from loose_rail.circuit.assemble import (
    Assembly,
    ac_admittances,
    assemble,
    dc_conductances,
)
from loose_rail.circuit.elements import Network, Variant
from loose_rail.circuit.meter_port import MeterPort
from loose_rail.circuit.port_solver import Pairs, solve_ports
from loose_rail.circuit.reduction import Reduced
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]
Pair = tuple[str, str]

CLIMB_HERTZ = 0.01
START_HERTZ = 2.0
LARGEST_OHMS = meters.OHMS_RANGES[-1].full_scale_ohms
ROWS_AT_ONCE = 32
"""Variants inverted together: what stays in a processor's cache."""
NAN_IS_OVERLOAD = np.inf
"""Readings above the range are +inf: the meter shows OL."""


@dataclass(frozen=True, slots=True)
class ColdSolver:
    """A network with its variants, inverted once and asked many times.

    `reduced` holds the impedances of every variant; `scales` `(n_variants, n_junctions)`.
    """

    assembly: Assembly
    variants: tuple[Variant, ...]
    reduced: Reduced
    scales: Floats

    @staticmethod
    def of(network: Network, variants: Sequence[Variant]) -> ColdSolver:
        """Assemble and invert. The first variant must be the healthy board."""
        assembly = assemble(network)
        matrices, scales = dc_conductances(assembly, variants)
        twice = 2 * np.eye(assembly.n_nets)
        inverse = np.empty_like(matrices)
        for first in range(0, len(matrices), ROWS_AT_ONCE):
            part = slice(first, first + ROWS_AT_ONCE)
            rough = np.linalg.inv(matrices[part])
            inverse[part] = rough @ (twice - matrices[part] @ rough)
        reduced = Reduced.of(inverse, assembly.junction_ends)
        return ColdSolver(assembly, tuple(variants), reduced, scales)

    def read(self, pairs: Sequence[Pair], mode: MeterMode) -> Floats:
        """What the meter shows, `(n_variants, n_pairs)`, in Ω, V or F; +inf is OL.

        `pairs` are (red, black) nets. Raises CircuitError for an unknown net and for the
        voltage settings, which need a powered board.
        """
        if mode in (MeterMode.OHMS, MeterMode.CONTINUITY):
            return self.ohms_in_range(pairs)[0]
        if mode is MeterMode.DIODE:
            return self._diode(pairs)
        if mode is MeterMode.ESR:
            return self._esr(pairs)
        if mode is MeterMode.IMPEDANCE:
            return self._esr(pairs, magnitude=True)
        if mode is MeterMode.CAPACITANCE:
            return self._capacitance(pairs, meters.CAPACITANCE_HERTZ)
        if mode is MeterMode.LCR:
            return self._capacitance(pairs, meters.LCR_HERTZ)
        raise ValueError(f"{mode} reads a powered board")

    def ohms_in_range(self, pairs: Sequence[Pair]) -> tuple[Floats, NDArray[np.intp]]:
        """Ohms and the number of the range they are shown in, `(n_variants, n_pairs)` each.

        The meter takes the lowest range that fits. Where a junction shunts, ohms depend on it.
        """
        shown = np.full((len(self.variants), len(pairs)), NAN_IS_OVERLOAD)
        used = np.full(shown.shape, len(meters.OHMS_RANGES) - 1, dtype=np.intp)
        waiting = np.ones_like(shown, dtype=bool)
        probes = self._probes(pairs)
        for number, scale in enumerate(meters.OHMS_RANGES):
            ask = np.flatnonzero(waiting.any(axis=0))
            if not len(ask):
                break
            port = MeterPort.ohms(scale.source_amps)
            beyond = scale.full_scale_ohms * scale.source_amps
            volts = solve_ports(self, probes.some(ask), port, waiting[:, ask], beyond)
            amps = -port.law(volts.ravel(), 1.0)[0].reshape(volts.shape)
            ohms = volts / np.maximum(amps, 1e-3 * scale.source_amps)
            fits = waiting[:, ask] & (ohms <= scale.full_scale_ohms)
            block = shown[:, ask]
            block[fits] = ohms[fits]
            shown[:, ask] = block
            used[:, ask] = np.where(fits, number, used[:, ask])
            waiting[:, ask] &= ~fits
        return shown, used

    def climbing(self, pairs: Sequence[Pair], seconds: Sequence[float]) -> Floats:
        """Ohms shown some seconds after the probes went on, `(n_times, n_variants, n_pairs)`.

        The meter's current charges the capacitors: the display starts at what stands in series
        with them and climbs to the settled value with one time constant, or as t/C for as long as
        that is far away, whatever the range (textbook). Both are taken from the impedance at
        CLIMB_HERTZ, where everything still moves, and at START_HERTZ, where large ones are shorts.
        """
        settled = self.ohms_in_range(pairs)[0]
        start = np.maximum(self._impedances(pairs, START_HERTZ).real, 0.0)
        slow = self._impedances(pairs, CLIMB_HERTZ)
        omega = 2 * np.pi * CLIMB_HERTZ
        gap = np.maximum(slow.real - start, 1e-9)
        turn = np.maximum(-slow.imag, 1e-12) / gap
        farads = turn / omega / (gap * (1.0 + turn**2))
        tau = np.maximum(settled - start, 1e-9) * farads
        per_second = omega * np.maximum(-slow.imag, 0.0)
        found = []
        for time in seconds:
            with np.errstate(invalid="ignore", divide="ignore"):
                rising = start + (settled - start) * -np.expm1(-time / tau)
            rising = np.where((settled > start) & (tau > 0), rising, settled)
            shown = np.where(np.isinf(settled), start + time * per_second, rising)
            found.append(np.where(shown > LARGEST_OHMS, NAN_IS_OVERLOAD, shown))
        return np.array(found)

    def _diode(self, pairs: Sequence[Pair]) -> Floats:
        volts = solve_ports(self, self._probes(pairs), MeterPort.diode())
        return np.where(volts > meters.DIODE_OVERLOAD_VOLTS, NAN_IS_OVERLOAD, volts)

    def _probes(self, pairs: Sequence[Pair]) -> Pairs:
        plus = [self.assembly.net(red) for red, _ in pairs]
        minus = [self.assembly.net(black) for _, black in pairs]
        return Pairs.of(self.reduced, plus, minus)

    def _impedances(self, pairs: Sequence[Pair], hertz: float) -> NDArray[np.complex128]:
        """Complex impedance between each pair, `(n_variants, n_pairs)`."""
        admittance = ac_admittances(self.assembly, self.variants, hertz)
        p = np.array([self.assembly.net(red) for red, _ in pairs], dtype=np.intp)
        m = np.array([self.assembly.net(black) for _, black in pairs], dtype=np.intp)
        every = np.arange(len(pairs))
        current = np.zeros((self.assembly.n_nets, len(pairs)))
        current[p, every] += 1.0
        current[m, every] -= 1.0
        volts = np.linalg.solve(admittance, current[None])
        return np.asarray(volts[:, p, every] - volts[:, m, every])

    def _esr(self, pairs: Sequence[Pair], magnitude: bool = False) -> Floats:
        """The real part at 100 kHz, or the magnitude, which many meters call ESR."""
        impedance = self._impedances(pairs, meters.ESR_HERTZ)
        real = np.abs(impedance) if magnitude else impedance.real
        return np.where(real > meters.ESR_OVERLOAD_OHMS, NAN_IS_OVERLOAD, np.maximum(real, 0.0))

    def _capacitance(self, pairs: Sequence[Pair], hertz: float) -> Floats:
        """Series-equivalent capacitance at one frequency, as a bridge-type meter shows it."""
        reactance = -self._impedances(pairs, hertz).imag
        omega = 2 * np.pi * hertz
        with np.errstate(divide="ignore"):
            farads = np.where(reactance > 0, 1.0 / (omega * np.maximum(reactance, 1e-30)), np.inf)
        return np.where(farads > meters.CAPACITANCE_FULL_SCALE_FARADS, np.inf, farads)
