"""The cold solver against arithmetic, a scalar root finder and independent matrix algebra."""

import math
import unittest

import numpy as np
from hypothesis import given, settings, strategies as st
from scipy.optimize import brentq

from loose_rail.boards.typical import fresh_esr_ohms
from loose_rail.circuit.cold import ColdSolver
from loose_rail.circuit.elements import (
    Capacitor,
    Junction,
    Network,
    Resistor,
    Variant,
    Windings,
)
from loose_rail.circuit.junction import THERMAL_VOLTS, JunctionArray
from loose_rail.kernel.errors import CircuitError
from loose_rail.vocabulary.meter_mode import MeterMode

SILICON = Junction("a", "0", 1e-9, 1.8, 0.05)
HEALTHY = Variant("healthy")


def read(
    network: Network, pair: tuple[str, str], mode: MeterMode, *variants: Variant
) -> list[float]:
    return ColdSolver.of(network, (HEALTHY, *variants)).read([pair], mode)[:, 0].tolist()  # type: ignore[no-any-return]


class JunctionLaw(unittest.TestCase):
    @given(st.floats(-5, 5), st.floats(1e-14, 1e-5), st.floats(1.0, 2.0), st.floats(0.01, 50))
    def test_closed_form_solves_the_diode_equation(
        self, volts: float, amps: float, n: float, ohms: float
    ) -> None:
        law = JunctionArray.of([Junction("a", "k", amps, n, ohms)])
        current = float(law.law(np.array([volts]))[0][0])
        inner = volts - current * ohms
        expected = amps * math.expm1(min(inner / (n * THERMAL_VOLTS), 700))
        self.assertAlmostEqual(current, expected, delta=1e-6 * abs(current) + 1e-9 * amps + 1e-15)

    def test_slope_is_the_derivative(self) -> None:
        law = JunctionArray.of([Junction("a", "k", 1e-9, 1.8, 0.05, breakdown_volts=2.5)])
        for volts in (-2.6, -2.0, 0.0, 0.4, 0.9):
            step = 1e-6
            up, down = (law.law(np.array([volts + s]))[0][0] for s in (step, -step))
            slope = law.law(np.array([volts]))[1][0]
            self.assertAlmostEqual((up - down) / (2 * step) / slope, 1.0, places=3)


class ColdReadings(unittest.TestCase):
    def test_dividers_and_open_leads(self) -> None:
        network = Network(
            ("0", "a", "b", "c"),
            {"R1": Resistor("a", "0", 1e3), "R2": Resistor("a", "b", 2.2e3)},
            "0",
        )
        self.assertAlmostEqual(read(network, ("b", "0"), MeterMode.OHMS)[0], 3200, delta=0.1)
        self.assertEqual(read(network, ("c", "0"), MeterMode.OHMS)[0], math.inf)

    @settings(max_examples=40)
    @given(st.integers(3, 8), st.integers(0, 10_000))
    def test_random_resistor_networks_against_the_pseudo_inverse(self, n: int, seed: int) -> None:
        rng = np.random.default_rng(seed)
        nets = tuple(str(k) for k in range(n))
        elements, laplacian = {}, np.zeros((n, n))
        for i in range(n):
            for j in range(i):
                if j == i - 1 or rng.random() < 0.4:
                    ohms = float(10 ** rng.uniform(0, 5))
                    elements[f"R{i}_{j}"] = Resistor(nets[i], nets[j], ohms)
                    laplacian[[i, j], [i, j]] += 1 / ohms
                    laplacian[[i, j], [j, i]] -= 1 / ohms
        pseudo = np.linalg.pinv(laplacian, hermitian=True)
        expected = pseudo[0, 0] + pseudo[-1, -1] - 2 * pseudo[0, -1]
        shown = read(Network(nets, elements, "0"), (nets[0], nets[-1]), MeterMode.OHMS)[0]
        self.assertAlmostEqual(shown / expected, 1.0, places=4)

    @settings(max_examples=40)
    @given(st.floats(20, 1e5), st.floats(1e-12, 1e-6), st.floats(1.0, 2.0))
    def test_diode_beside_a_resistor_against_a_root_finder(
        self, ohms: float, amps: float, n: float
    ) -> None:
        junction = Junction("a", "0", amps, n, 0.05)
        network = Network(("0", "a"), {"D": junction, "R": Resistor("a", "0", ohms)}, "0")
        law = JunctionArray.of([junction])

        def balance(volts: float) -> float:
            current = float(law.law(np.array([volts]))[0][0])
            return (3.0 - volts) / 2400 - volts / ohms - current

        expected = brentq(balance, 0, 3)
        shown = read(network, ("a", "0"), MeterMode.DIODE)[0]
        self.assertAlmostEqual(shown, expected, delta=2e-5)

    def test_parallel_resistor_hides_the_junction_as_the_reference_table_says(self) -> None:
        """Electrical reference V5.1: 0.550 V at 1 mA beside R, read with 1 mA."""
        slope = 1.8 * THERMAL_VOLTS
        junction = Junction("a", "0", 1e-3 / math.expm1(0.550 / slope), 1.8, 1e-3)
        law = JunctionArray.of([junction])
        for ohms, shown in ((22, 0.022), (100, 0.100), (390, 0.380), (560, 0.467), (1000, 0.516)):
            volts = brentq(
                lambda v, r=ohms: 1e-3 - v / r - float(law.law(np.array([v]))[0][0]), 0, 1
            )
            self.assertAlmostEqual(volts, shown, delta=0.004, msg=str(ohms))

    def test_ohms_depend_on_direction_where_a_junction_shunts(self) -> None:
        network = Network(("0", "a"), {"D": SILICON, "R": Resistor("a", "0", 1e6)}, "0")
        forward, backward = (
            read(network, pair, MeterMode.OHMS)[0] for pair in (("a", "0"), ("0", "a"))
        )
        self.assertLess(forward, 0.9 * backward)
        self.assertAlmostEqual(backward, 1e6, delta=2e4)

    def test_shorts_opens_and_replaced_parts_as_variants(self) -> None:
        network = Network(("0", "a"), {"D": SILICON, "R": Resistor("a", "0", 4700.0)}, "0")
        shorted = Variant("short", {}, (Resistor("a", "0", 0.05),))
        open_diode = Variant("open", {"D": None})
        drifted = Variant("drifted", {"R": Resistor("a", "0", 9400.0), "D": None})
        shown = read(network, ("0", "a"), MeterMode.OHMS, shorted, open_diode, drifted)
        for value, expected in zip(shown, (4700, 0.05, 4700, 9400), strict=True):
            self.assertAlmostEqual(value / expected, 1.0, places=3)
        with self.assertRaises(CircuitError):
            ColdSolver.of(network, (HEALTHY, Variant("bad", {"R99": None})))

    def test_esr_and_capacitance_against_complex_arithmetic(self) -> None:
        c1, c2 = Capacitor("a", "0", 1e-3, 0.036), Capacitor("b", "0", 300e-6, 2.0)
        choke = Windings((("a", "b"),), (0.03,), (10e-6,))
        network = Network(("0", "a", "b"), {"C1": c1, "C2": c2, "L": choke}, "0")

        def impedance(hertz: float) -> complex:
            w = 2j * math.pi * hertz
            z1, z2 = c1.esr_ohms + 1 / (w * c1.farads), c2.esr_ohms + 1 / (w * c2.farads)
            return 1 / (1 / z1 + 1 / (z2 + 0.03 + w * 10e-6))

        self.assertAlmostEqual(
            read(network, ("a", "0"), MeterMode.ESR)[0], impedance(1e5).real, places=6
        )
        z = impedance(120)
        farads = -1 / (2 * math.pi * 120 * z.imag)
        shown = read(network, ("a", "0"), MeterMode.CAPACITANCE)[0]
        self.assertAlmostEqual(shown / farads, 1.0, places=6)

    def test_coupled_windings_obey_the_turns_ratio(self) -> None:
        """A shorted secondary reflects: what is left at the primary is the leakage."""
        windings = Windings((("a", "0"), ("b", "0")), (0.01, 0.01), (1e-3, 10e-6), 0.98)
        network = Network(("0", "a", "b"), {"T": windings, "R": Resistor("b", "0", 1e6)}, "0")
        solver = ColdSolver.of(network, (HEALTHY, Variant("s", {}, (Resistor("b", "0", 1e-4),))))
        z = solver._impedances([("a", "0")], 1e5)[:, 0].imag / (2 * math.pi * 1e5)
        self.assertAlmostEqual(z[0], 1e-3, delta=2e-5)
        self.assertAlmostEqual(z[1], 1e-3 * (1 - 0.98**2), delta=2e-6)

    def test_a_network_without_sense_is_refused_in_words(self) -> None:
        for elements in ({"R": Resistor("a", "x", 1.0)}, {"R": Resistor("a", "0", -1.0)}):
            with self.assertRaises(CircuitError) as caught:
                Network(("0", "a"), elements, "0")
            self.assertIn("R", caught.exception.message)
        with self.assertRaises(CircuitError):
            Network(("a",), {}, "0")


class FreshEsr(unittest.TestCase):
    def test_generator_gives_the_reference_table(self) -> None:
        """Electrical reference section 6, a diagonal of the table in ohms."""
        rows = [
            (22e-6, 10, "GP", 1.5),
            (100e-6, 25, "GP", 0.45),
            (1000e-6, 16, "LZ", 0.036),
            (470e-6, 50, "LZ", 0.049),
            (150e-6, 450, "GP", 0.28),
            (100e-6, 400, "LZ", 0.24),
            (100e-6, 16, "PO", 0.025),
            (2200e-6, 100, "GP", 0.079),
        ]
        for farads, volts, series, ohms in rows:
            self.assertAlmostEqual(fresh_esr_ohms(farads, volts, series) / ohms, 1.0, delta=0.04)
