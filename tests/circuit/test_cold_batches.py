"""The batched cold solver against itself asked otherwise: one variant at a time, careful steps
alone, another resistor beside the probes. Networks are harsher than any board: shorts
beside gigaohms, Schottky and zener junctions at any place."""

import unittest
from unittest.mock import patch

import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.circuit import newton
from loose_rail.circuit.cold import ColdSolver
from loose_rail.circuit.elements import Element, Junction, Network, Resistor, Variant
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.material import some

HEALTHY = Variant("healthy")
METERS = (MeterMode.OHMS, MeterMode.DIODE)
seeds = st.integers(0, 2**31)


def harsh(seed: int) -> tuple[Network, list[Variant], list[tuple[str, str]]]:
    """A connected network, faults in it, and probe pairs."""
    rng = np.random.default_rng(seed)
    nets = [f"N{k}" for k in range(rng.integers(3, 13))]
    elements: dict[str, Element] = {}
    for k in range(1, len(nets)):
        elements[f"T{k}"] = Resistor(nets[k], nets[rng.integers(k)], float(10 ** rng.uniform(0, 7)))
    for k in range(rng.integers(2, 2 * len(nets))):
        a, b = map(str, rng.choice(nets, 2, replace=False))
        if rng.random() < 0.25:
            elements[f"R{k}"] = Resistor(a, b, float(10 ** rng.uniform(-2, 7)))
            continue
        breakdown = float(rng.uniform(2, 30)) if rng.random() < 0.3 else np.inf
        saturation, series = float(10 ** rng.uniform(-14, -5)), float(10 ** rng.uniform(-2, 1))
        elements[f"D{k}"] = Junction(a, b, saturation, rng.uniform(1, 2), series, breakdown)
    faults = [HEALTHY]
    for name in rng.choice(list(elements), min(7, len(elements)), replace=False):
        element = elements[name]
        if isinstance(element, Junction):
            ends = (element.anode, element.cathode)
        else:
            assert isinstance(element, Resistor)
            ends = (element.a, element.b)
        instead = [None, Resistor(*ends, 0.02), Resistor(*ends, 3e3)][rng.integers(3)]
        if name.startswith("T") and instead is None:
            instead = Resistor(*ends, 2e6)
        faults.append(Variant(f"{name} faulty", {str(name): instead}))
    pairs = [tuple(map(str, rng.choice(nets, 2, replace=False))) for _ in range(6)]
    return Network(tuple(nets), elements, nets[0]), faults, pairs  # type: ignore[return-value]


def with_fault(network: Network, variant: Variant) -> Network:
    """The faulty network as a healthy one of its own."""
    elements = {**network.elements, **variant.replaced}
    whole = {name: element for name, element in elements.items() if element is not None}
    return Network(network.nets, whole, network.reference)


class Batches(unittest.TestCase):
    def same(self, one: np.ndarray, other: np.ndarray, note: str) -> None:
        np.testing.assert_array_equal(np.isinf(one), np.isinf(other), note)
        # a fault that moves the probes by less than 10 nV, 10 µΩ at 1 mA, is not looked at
        np.testing.assert_allclose(one, other, rtol=2e-4, atol=2.5e-5, err_msg=note)

    @settings(max_examples=some(30, 120))
    @given(seeds)
    def test_a_batch_reads_as_each_faulty_network_by_itself(self, seed: int) -> None:
        network, faults, pairs = harsh(seed)
        for mode in METERS:
            batch = ColdSolver.of(network, faults).read(pairs, mode)
            for row, fault in enumerate(faults):
                alone = ColdSolver.of(with_fault(network, fault), [HEALTHY]).read(pairs, mode)[0]
                self.same(batch[row], alone, f"{mode} {fault.name}")

    @settings(max_examples=some(30, 120))
    @given(seeds)
    def test_bounded_steps_find_what_careful_steps_find(self, seed: int) -> None:
        network, faults, pairs = harsh(seed)
        solver = ColdSolver.of(network, faults)
        for mode in METERS:
            eager = solver.read(pairs, mode)
            with patch.object(newton, "EAGER_STEPS", 0):
                careful = solver.read(pairs, mode)
            self.same(eager, careful, str(mode))

    @settings(max_examples=some(30, 120))
    @given(seeds, st.floats(1.0, 6.0))
    def test_a_leak_beside_the_probes_never_raises_their_reading(
        self, seed: int, decades: float
    ) -> None:
        """Monotone parts, one source. (Elsewhere a leak may raise it: junctions are not linear.)"""
        network, _, pairs = harsh(seed)
        for pair in pairs:
            leaky = Variant("leak", {}, (Resistor(*pair, float(10**decades)),))
            solver = ColdSolver.of(network, [HEALTHY, leaky])
            sound, leaking = solver.read([pair], MeterMode.DIODE)[:, 0]
            self.assertLessEqual(leaking, sound + 1e-6)
            self.assertGreaterEqual(leaking, -1e-9)
            ohms, ranges = solver.ohms_in_range([pair])
            self.assertLessEqual(ranges[1, 0], ranges[0, 0])
            self.assertLessEqual(ohms[1, 0], 1.001 * 10**decades)
