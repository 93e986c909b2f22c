"""A netlist solved as it stands: modified nodal analysis with branch currents for V and L.

Not the batched solver of `cold`: one circuit, every source ideal, for `loose-rail solve` and as an
independent second opinion. Diodes obey the closed form of `junction` with GMIN across them; the
operating point is found by Newton's method with junction limiting, then by GMIN stepping, then by
source stepping. Temperature 27 °C unless the file says otherwise. Sources: nodal analysis and
Shockley's law with depletion capacitance (textbook).
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from scipy.constants import Boltzmann, elementary_charge, zero_Celsius
from scipy.special import wrightomega

from loose_rail.circuit.junction import JunctionArray
from loose_rail.circuit.meter_port import MeterPort
from loose_rail.netlist.netlist import GROUND, Netlist, Part
from loose_rail.netlist.topology import check_paths

Floats = NDArray[np.float64]
Complexes = NDArray[np.complex128]

GMIN_SIEMENS = 1e-12
LEAST_SERIES_OHMS = 1e-9
"""A diode without series resistance gets a nano-ohm: its error is a nanovolt an ampere."""
MOST_STEPS = 150
TOLERANCE = 1e-10
FLOOR_AMPS = 1e-16
LARGEST_STEP_VOLTS = 2.0
MOST_UNKNOWNS = 3000
BUILT_IN_VOLTS = 1.0
GRADING = 0.5
FORWARD_SHARE = 0.5
"""SPICE defaults of the depletion capacitance: VJ, M and FC."""


@dataclass(frozen=True, slots=True)
class Diodes:
    """All diodes of a netlist: ends as unknown numbers and the constants of their law."""

    ends: NDArray[np.intp]
    saturation: Floats
    slope: Floats
    series: Floats
    knee: Floats
    farads: Floats

    def law(self, volts: Floats) -> tuple[Floats, Floats]:
        """Current and slope at the terminals; breakdown is the mirrored term."""
        current, slope = self._forward(volts)
        if np.isfinite(self.knee).any():
            back, back_slope = self._forward(-volts - self.knee)
            mirrored = np.where(np.isfinite(self.knee), back + self.saturation, 0.0)
            current, slope = current - mirrored, slope + back_slope
        return current + GMIN_SIEMENS * volts, slope + GMIN_SIEMENS

    def _forward(self, volts: Floats) -> tuple[Floats, Floats]:
        drop = self.saturation * self.series
        there = np.isfinite(volts)
        z = np.log(drop / self.slope) + (np.where(there, volts, 0.0) + drop) / self.slope
        omega = np.where(there, wrightomega(z), 0.0)
        current = np.where(there, self.slope / self.series * omega - self.saturation, 0.0)
        return current, omega / (self.series * (1.0 + omega))

    def admittance(self, volts: Floats, omega: float) -> Complexes:
        """Small-signal admittance at an operating point, junction capacitance included."""
        current, _ = self.law(volts)
        inner = volts - current * self.series
        slope = (self._shockley(inner)) + GMIN_SIEMENS
        below = inner < FORWARD_SHARE * BUILT_IN_VOLTS
        depletion = (1.0 - np.where(below, inner, 0.0) / BUILT_IN_VOLTS) ** -GRADING
        edge = (1.0 - FORWARD_SHARE) ** (-1.0 - GRADING)
        beyond = edge * (1.0 - FORWARD_SHARE * (1.0 + GRADING) + GRADING * inner / BUILT_IN_VOLTS)
        farads = self.farads * np.where(below, depletion, beyond)
        return np.asarray(1.0 / (self.series + 1.0 / (slope + 1j * omega * farads)))

    def _shockley(self, inner: Floats) -> Floats:
        slope = self.saturation / self.slope * np.exp(np.minimum(inner / self.slope, 200.0))
        back = np.where(np.isfinite(self.knee), -inner - self.knee, -np.inf)
        with np.errstate(over="ignore"):
            slope = slope + self.saturation / self.slope * np.exp(back / self.slope)
        return np.asarray(slope)


@dataclass(frozen=True, slots=True)
class Probes:
    """A meter between two nets: a Norton source with its clamp, or a bare test current."""

    plus: str
    minus: str
    port: MeterPort


@dataclass(slots=True)
class Circuit:
    """A netlist with its unknowns numbered: nets without ground, then branches of V and L."""

    netlist: Netlist
    ground: str
    leak_siemens: float
    index: dict[str, int] = field(default_factory=dict)
    branches: dict[str, int] = field(default_factory=dict)
    diodes: Diodes = field(init=False)

    def __post_init__(self) -> None:
        nets = [net for net in self.netlist.nets if net != self.ground]
        self.index = {net: number for number, net in enumerate(nets)}
        owners = [part.name.lower() for part in self.netlist.parts if part.kind in "VL"]
        self.branches = {name: len(nets) + k for k, name in enumerate(owners)}
        if self.size > MOST_UNKNOWNS:
            raise self.netlist.error(
                f"{self.size} unknowns are too many.",
                f"Up to {MOST_UNKNOWNS} can be solved: cut out the part that is in question.",
            )
        self.diodes = self._gather_diodes()

    @property
    def size(self) -> int:
        """Number of unknowns."""
        return len(self.index) + len(self.branches)

    def place(self, net: str) -> int:
        """Number of a net, −1 for ground."""
        if net == self.ground:
            return -1
        return self.index[net]

    def require(self, net: str) -> None:
        """Raises NetlistError where there is no such net."""
        if net not in self.netlist.nets:
            known = ", ".join(self.netlist.nets[:8])
            raise self.netlist.error(f"There is no net “{net}”.", f"Nets here: {known}.")

    def rest(self) -> Floats:
        """Everything at zero: the bias of a test signal too small to open a junction."""
        return np.zeros(self.size)

    def _gather_diodes(self) -> Diodes:
        parts = [part for part in self.netlist.parts if part.kind == "D"]
        models = [self.netlist.model_of(part) for part in parts]
        area = np.array([part.area for part in parts])
        saturation = np.array([m.saturation_amps for m in models]) * area
        thermal = Boltzmann * (zero_Celsius + self.netlist.celsius) / elementary_charge
        slope = np.array([m.emission for m in models]) * thermal
        ratio = np.array([m.breakdown_amps for m in models]) * area / np.maximum(saturation, 1e-300)
        breakdown = np.array([m.breakdown_volts for m in models])
        return Diodes(
            ends=np.array(
                [[self.place(p.plus), self.place(p.minus)] for p in parts], dtype=np.intp
            ).reshape(-1, 2),
            saturation=saturation,
            slope=slope,
            series=np.maximum(np.array([m.series_ohms for m in models]) / area, LEAST_SERIES_OHMS),
            knee=breakdown - slope * np.log(ratio),
            farads=np.array([m.junction_farads for m in models]) * area,
        )

    # ---- direct current --------------------------------------------------------------------

    def operating_point(self, probes: Probes | None = None) -> Floats:
        """All unknowns at DC. Raises NetlistError where the circuit has no solution."""
        if not any(part.kind == "D" for part in self.netlist.parts) and (
            probes is None or probes.port.clamp is None
        ):
            matrix, right = self._linear(1.0, probes)
            return self._solve(matrix, right)
        start = np.zeros(self.size)
        found = self._newton(start, 1.0, 0.0, probes)
        if found is None:
            found = self._stepping(probes)
        if found is None:
            raise self.netlist.error(
                "The circuit does not settle.", "Look for a value far out of the ordinary."
            )
        return found

    def _stepping(self, probes: Probes | None) -> Floats | None:
        """GMIN stepping, then source stepping; None where neither settles."""
        here: Floats | None = np.zeros(self.size)
        for extra in [*np.geomspace(1e-2, 1e-12, 21), 0.0]:
            assert here is not None
            here = self._newton(here, 1.0, float(extra), probes)
            if here is None:
                break
        if here is not None:
            return here
        here = np.zeros(self.size)
        for ramp in np.linspace(0.02, 1.0, 50):
            here = self._newton(here, float(ramp), 0.0, probes)
            if here is None:
                return None
        return here

    def _linear(self, ramp: float, probes: Probes | None) -> tuple[Floats, Floats]:
        """Matrix and right side of everything but the diodes."""
        matrix, right = np.zeros((self.size, self.size)), np.zeros(self.size)
        for number in self.index.values():
            matrix[number, number] += self.leak_siemens
        for part in self.netlist.parts:
            a, b = self.place(part.plus), self.place(part.minus)
            if part.kind == "R":
                _stamp(matrix, a, b, 1.0 / part.value)
            elif part.kind == "I":
                _push(right, a, b, -ramp * part.value)
            elif part.kind in "VL":
                branch = self.branches[part.name.lower()]
                _branch(matrix, branch, a, b)
                right[branch] = ramp * part.value if part.kind == "V" else 0.0
        if probes is not None:
            a, b = self.place(probes.plus), self.place(probes.minus)
            _stamp(matrix, a, b, probes.port.siemens)
            _push(right, a, b, ramp * probes.port.amps)
        return matrix, right

    def _newton(self, x: Floats, ramp: float, extra: float, probes: Probes | None) -> Floats | None:
        """Iterate from `x`; None where it does not settle. `extra` siemens stand across diodes."""
        matrix, right = self._linear(ramp, probes)
        clamp = probes.port.clamp if probes is not None else None
        ends, slope = self.diodes.ends, self.diodes.slope
        if clamp is not None and probes is not None:
            pair = [self.place(probes.plus), self.place(probes.minus)]
            ends = np.vstack([ends, np.array([pair], dtype=np.intp)])
            slope = np.append(slope, clamp.slope_volts)
        saturation = np.append(self.diodes.saturation, [] if clamp is None else clamp.saturation)
        knee = slope * np.log(slope / (math.sqrt(2.0) * saturation))
        volts = _across(x, ends)
        for _ in range(MOST_STEPS):
            current, g = self._currents(volts, clamp, extra)
            full, side = matrix.copy(), right.copy()
            for number, (a, b) in enumerate(ends):
                _stamp(full, a, b, g[number])
                _push(side, a, b, g[number] * volts[number] - current[number])
            new = self._solve(full, side)
            wanted = _across(new, ends)
            limited = _limit(volts, wanted, slope, knee)
            after, _ = self._currents(limited, clamp, extra)
            error = np.abs(after - (current + g * (limited - volts)))
            scale = max(float(np.abs(after).max(initial=0.0)), FLOOR_AMPS)
            done = np.allclose(limited, wanted, rtol=0, atol=1e-12) and bool(
                np.all(error <= TOLERANCE * scale + FLOOR_AMPS)
                or np.abs(limited - volts).max(initial=0.0) < 1e-11
            )
            volts, x = limited, new
            if done:
                return x
        return None

    def _currents(
        self, volts: Floats, clamp: JunctionArray | None, extra: float
    ) -> tuple[Floats, Floats]:
        n = len(self.diodes.ends)
        current, slope = self.diodes.law(volts[:n])
        if clamp is not None:
            meter, meter_slope = clamp.law(volts[n:])
            current, slope = np.append(current, meter), np.append(slope, meter_slope)
        return current + extra * volts, slope + extra

    def _solve(self, matrix: Floats, right: Floats) -> Floats:
        try:
            found = np.linalg.solve(matrix, right)
        except np.linalg.LinAlgError as error:
            raise self.netlist.error(
                "The circuit has no single solution.",
                "Look for a net without a path to ground or a loop of sources.",
            ) from error
        return np.asarray(found)

    # ---- alternating current ---------------------------------------------------------------

    def response(
        self, hertz: float, bias: Floats, inject: tuple[str, str] | None = None
    ) -> Complexes:
        """All unknowns as phasors at one frequency around `bias` (an operating point).

        With `inject`, the netlist's sources are still and one ampere flows out of the second net
        and into the first: the voltage between them is the impedance.
        """
        omega = 2 * math.pi * hertz
        matrix = np.zeros((self.size, self.size), dtype=np.complex128)
        right = np.zeros(self.size, dtype=np.complex128)
        for number in self.index.values():
            matrix[number, number] += self.leak_siemens
        for part in self.netlist.parts:
            self._stamp_ac(matrix, right, part, omega, inject is None)
        for coupling in self.netlist.couplings:
            self._stamp_coupling(matrix, coupling.first, coupling.second, coupling.factor, omega)
        across = self.diodes.admittance(_across(bias, self.diodes.ends), omega)
        for number, (a, b) in enumerate(self.diodes.ends):
            _stamp(matrix, a, b, across[number])
        if inject is not None:
            _push(right, self.place(inject[0]), self.place(inject[1]), 1.0)
        try:
            return np.asarray(np.linalg.solve(matrix, right))
        except np.linalg.LinAlgError as error:
            raise self.netlist.error(
                f"The circuit has no single solution at {hertz:g} Hz.",
                "Look for a net without a path to ground or a loop of sources.",
            ) from error

    def _stamp_ac(
        self, matrix: Complexes, right: Complexes, part: Part, omega: float, sources: bool
    ) -> None:
        a, b = self.place(part.plus), self.place(part.minus)
        if part.kind == "R":
            _stamp(matrix, a, b, 1.0 / part.value)
        elif part.kind == "C":
            _stamp(matrix, a, b, 1j * omega * part.value)
        elif part.kind == "I" and sources:
            _push(right, a, b, -part.ac)
        elif part.kind in "VL":
            branch = self.branches[part.name.lower()]
            _branch(matrix, branch, a, b)
            if part.kind == "L":
                matrix[branch, branch] -= 1j * omega * part.value
            elif sources:
                right[branch] = part.ac

    def _stamp_coupling(
        self, matrix: Complexes, first: str, second: str, factor: float, omega: float
    ) -> None:
        henries = {p.name.lower(): p.value for p in self.netlist.parts if p.kind == "L"}
        mutual = factor * math.sqrt(henries[first] * henries[second])
        i, j = self.branches[first], self.branches[second]
        matrix[i, j] -= 1j * omega * mutual
        matrix[j, i] -= 1j * omega * mutual

    def between(self, x: Floats | Complexes, plus: str, minus: str) -> complex:
        """Voltage from one net to another in a solution."""
        a, b = self.place(plus), self.place(minus)
        return complex((x[a] if a >= 0 else 0.0) - (x[b] if b >= 0 else 0.0))


def grounded(netlist: Netlist, for_ac: bool) -> Circuit:
    """The circuit against its own ground. Raises NetlistError where it can't be solved so."""
    if GROUND not in netlist.nets:
        raise netlist.error("There is no ground.", "Call one net 0.")
    check_paths(netlist, for_ac)
    return Circuit(netlist, GROUND, 0.0)


def probed(netlist: Netlist, minus: str) -> Circuit:
    """The circuit as a meter sees it: counted from the black probe, every net a little leaky."""
    check_paths(netlist, for_ac=False, floating_allowed=True)
    return Circuit(netlist, minus, GMIN_SIEMENS)


def _across(x: Floats, ends: NDArray[np.intp]) -> Floats:
    padded = np.append(x, 0.0)
    return np.asarray(padded[ends[:, 0]] - padded[ends[:, 1]])


def _limit(here: Floats, wanted: Floats, slope: Floats, knee: Floats) -> Floats:
    """Steps into conduction go by their logarithm, all others by two volts at most."""
    step = wanted - here
    steep = (wanted > knee) & (step > 2 * slope)
    base = np.maximum(here, knee)
    gain = np.maximum(wanted - base, 0.0)
    limited = np.where(steep, base + slope * np.log1p(gain / slope), wanted)
    far = np.abs(limited - here) > LARGEST_STEP_VOLTS
    clipped = here + np.clip(step, -LARGEST_STEP_VOLTS, LARGEST_STEP_VOLTS)
    return np.asarray(np.where(far, clipped, limited))


def _stamp(matrix: Floats | Complexes, a: int, b: int, y: complex | float) -> None:
    if a >= 0:
        matrix[a, a] += y
    if b >= 0:
        matrix[b, b] += y
    if a >= 0 and b >= 0:
        matrix[a, b] -= y
        matrix[b, a] -= y


def _push(right: Floats | Complexes, a: int, b: int, amps: complex | float) -> None:
    """A current into the first net and out of the second."""
    if a >= 0:
        right[a] += amps
    if b >= 0:
        right[b] -= amps


def _branch(matrix: Floats | Complexes, branch: int, a: int, b: int) -> None:
    for net, sign in ((a, 1.0), (b, -1.0)):
        if net >= 0:
            matrix[net, branch] += sign
            matrix[branch, net] += sign
