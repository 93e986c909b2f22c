"""Every kind of part by itself under the meter, held against the bands that a bench book gives for
good removed parts (electrical reference section 5), and its faults against what they must show."""

import math
import unittest

import msgspec
import numpy as np

from loose_rail.boards.cold_network import (
    gate_charged,
    part_network,
    removed as taken_out,
    variant_of,
)
from loose_rail.boards.faults import Fault, faults_of
from loose_rail.boards.profile import Board, Component
from loose_rail.circuit.cold import ColdSolver
from loose_rail.circuit.elements import Variant
from loose_rail.kernel.errors import CircuitError
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.shared import board

OL = math.inf
DIODE, OHMS, ESR, CAP = MeterMode.DIODE, MeterMode.OHMS, MeterMode.ESR, MeterMode.CAPACITANCE
HEALTHY = Variant("healthy")
FET = {"G": "g", "D": "d", "S": "s"}
DUAL = {"S1": "a", "G1": "b", "D1": "c", "S2": "x", "G2": "y", "D2": "z"}
IGBT = {"G": "g", "C": "c", "E": "e"}
BJT = {"B": "b", "C": "c", "E": "e"}


def part(kind: str, pins: dict[str, str], value: str = "", **params: str) -> Component:
    return Component("X1", kind, pins, "main_out", value, "part under test", 1.0, params)


def alone(item: Component) -> Board:
    """A board on which nothing else matters."""
    return msgspec.structs.replace(board(), components=[*board().components, item])


def read(
    item: Component, red: str, black: str, mode: MeterMode, fault: Fault | None = None
) -> float:
    whole = alone(item)
    network = part_network(whole, item.ref)
    variant = variant_of(whole, network, [fault] if fault else [])
    return float(ColdSolver.of(network, [HEALTHY, variant]).read([(red, black)], mode)[1, 0])


def fault(item: Component, mode: str, severity: int = 0) -> Fault:
    return [f for f in faults_of(item) if f.mode == mode][severity]


SILICON = part("diode", {"A": "a", "K": "k"})
FAST = part("diode", {"A": "a", "K": "k"}, junction="fast")
SCHOTTKY = part("diode", {"A": "a", "K": "k"}, junction="schottky")
SMALL = part("diode", {"A": "a", "K": "k"}, junction="small_signal")
ZENER = part("zener", {"A": "a", "K": "k"}, zener_volts="2.2")
BRIDGE = part("bridge", {"ac1": "l", "ac2": "n", "plus": "p", "minus": "m"})
N_FET, P_FET = part("mosfet_n", FET), part("mosfet_p", FET)
TWIN = part("mosfet_dual", DUAL)
WITH_DIODE, WITHOUT = part("igbt", IGBT), part("igbt", IGBT, diode="no")
NPN, PNP = part("npn", BJT), part("pnp", BJT)
COUPLER = part("optocoupler", {"A": "a", "K": "k", "C": "c", "E": "e"})
REFERENCE = part("shunt_reference", {"A": "a", "K": "k", "R": "r"})
CHIP = part("controller", {"VCC": "v", "GND": "g", "DRV": "d", "FB": "f"})
REGULATOR = part("regulator", {"IN": "i", "GND": "g", "OUT": "o"})

BANDS = (
    (SMALL, "a", "k", 0.50, 0.70),
    (SILICON, "a", "k", 0.42, 0.62),
    (FAST, "a", "k", 0.35, 0.60),
    (SCHOTTKY, "a", "k", 0.10, 0.35),
    (ZENER, "a", "k", 0.42, 0.78),
    (ZENER, "k", "a", 1.9, 2.5),  # below the meter's open voltage it is read backwards
    (SILICON, "k", "a", OL, OL),
    (BRIDGE, "m", "l", 0.42, 0.62),
    (BRIDGE, "n", "p", 0.42, 0.62),
    (BRIDGE, "m", "p", 0.85, 1.20),
    (BRIDGE, "p", "m", OL, OL),
    (N_FET, "s", "d", 0.35, 0.65),
    (N_FET, "d", "s", OL, OL),
    (N_FET, "g", "s", OL, OL),
    (P_FET, "d", "s", 0.35, 0.65),
    (P_FET, "s", "d", OL, OL),
    (TWIN, "a", "c", 0.35, 0.65),
    (TWIN, "z", "x", 0.35, 0.65),
    (TWIN, "c", "a", OL, OL),
    (TWIN, "x", "z", OL, OL),
    (WITH_DIODE, "e", "c", 0.30, 0.58),
    (WITH_DIODE, "c", "e", OL, OL),
    (WITHOUT, "e", "c", OL, OL),
    (WITHOUT, "c", "e", OL, OL),
    (NPN, "b", "e", 0.55, 0.72),
    (NPN, "b", "c", 0.50, 0.70),
    (NPN, "c", "e", OL, OL),
    (PNP, "e", "b", 0.55, 0.72),
    (PNP, "c", "b", 0.50, 0.70),
    (COUPLER, "a", "k", 0.95, 1.25),
    (COUPLER, "k", "a", OL, OL),
    (COUPLER, "c", "e", OL, OL),
    (REFERENCE, "a", "k", 0.55, 0.75),
    (REFERENCE, "k", "a", OL, OL),
    (CHIP, "g", "v", 0.40, 0.70),
    (REGULATOR, "g", "i", 0.40, 0.70),
)


class GoodParts(unittest.TestCase):
    def test_diode_test_stands_in_the_book_s_band(self) -> None:
        for item, red, black, low, high in BANDS:
            shown = read(item, red, black, DIODE)
            where = f"{item.kind} {item.params} {red}→{black}: {shown}"
            self.assertTrue(low <= shown <= high, where)

    def test_base_collector_reads_a_little_below_base_emitter(self) -> None:
        """That is how the pins of an unknown transistor are told."""
        for item, pairs in ((NPN, (("b", "e"), ("b", "c"))), (PNP, (("e", "b"), ("c", "b")))):
            emitter, collector = (read(item, *pair, DIODE) for pair in pairs)
            self.assertTrue(0.002 <= emitter - collector <= 0.020, item.kind)

    def test_both_halves_of_a_twin_and_all_arms_of_a_bridge_read_alike(self) -> None:
        halves = [read(TWIN, "a", "c", DIODE), read(TWIN, "z", "x", DIODE)]
        arms = [read(BRIDGE, *pair, DIODE) for pair in (("m", "l"), ("m", "n"), ("l", "p"))]
        self.assertLess(max(halves) - min(halves), 0.08)
        self.assertLess(max(arms) - min(arms), 0.03)

    def test_wound_and_resistive_parts_read_their_ohms(self) -> None:
        for item, red, black, ohms in (
            (part("resistor", {"1": "a", "2": "b"}, "4k7"), "a", "b", 4700.0),
            (part("fusible_resistor", {"1": "a", "2": "b"}, "0R47"), "b", "a", 0.47),
            (part("ntc", {"1": "a", "2": "b"}, "5R"), "a", "b", 5.0),
            (part("fuse", {"1": "a", "2": "b"}, "0R03"), "a", "b", 0.03),
            (part("relay", {"A1": "a", "A2": "b", "1": "c", "2": "d"}), "a", "b", 360.0),
            (part("inductor", {"1": "a", "2": "b"}, ohms="0R08", henries="47u"), "a", "b", 0.08),
        ):
            self.assertAlmostEqual(read(item, red, black, OHMS) / ohms, 1.0, delta=2e-3)
        relay = part("relay", {"A1": "a", "A2": "b", "1": "c", "2": "d"}, ohms="90R")
        self.assertAlmostEqual(read(relay, "a", "b", OHMS), 90.0, delta=0.1)
        self.assertEqual(read(relay, "c", "d", OHMS), OL)

    def test_capacitors_show_what_is_printed_and_their_esr(self) -> None:
        pins = {"plus": "p", "minus": "m"}
        can = part("electrolytic", pins, "1000u", volts="16", series="LZ")
        self.assertAlmostEqual(read(can, "p", "m", CAP), 1e-3, delta=3e-5)
        self.assertTrue(0.005 < read(can, "p", "m", ESR) < 0.2)
        film = part("film", {"1": "a", "2": "b"}, "100n")
        self.assertAlmostEqual(read(film, "a", "b", CAP), 1e-7, delta=2e-9)
        self.assertEqual(read(film, "a", "b", OHMS), OL)

    def test_a_winding_hides_a_junction_beside_it(self) -> None:
        """The book's warning about reading in place: |forward − backward| below a tenth."""
        pins = {"p1": "a", "p2": "k"}
        coil = part("transformer", pins, ohms="0R5", henries="1m", coupling="0.9")
        shown = [read(coil, *pair, DIODE) for pair in (("a", "k"), ("k", "a"))]
        self.assertAlmostEqual(shown[0], shown[1], places=9)
        self.assertLess(shown[0], 0.01)


class BadParts(unittest.TestCase):
    def test_a_short_between_two_pins_reads_its_ohms_whatever_the_part(self) -> None:
        seen = 0
        for item in (
            SILICON,
            ZENER,
            N_FET,
            P_FET,
            TWIN,
            WITH_DIODE,
            NPN,
            PNP,
            COUPLER,
            REFERENCE,
            CHIP,
            REGULATOR,
        ):
            for one in faults_of(item):
                if one.effect != "bridge" or one.ohms > 20:
                    continue
                red, black = (item.pins[pin] for pin in one.pairs[0])
                shown = read(item, red, black, OHMS, one)
                self.assertAlmostEqual(shown / one.ohms, 1.0, delta=0.02, msg=f"{item.kind}")
                seen += 1
        self.assertGreater(seen, 12)

    def test_an_open_part_reads_open_where_it_read_a_junction(self) -> None:
        for item, red, black in (
            (SILICON, "a", "k"),
            (N_FET, "s", "d"),
            (P_FET, "d", "s"),
            (WITH_DIODE, "e", "c"),
            (NPN, "b", "e"),
        ):
            self.assertEqual(read(item, red, black, DIODE, fault(item, "open")), OL, item.kind)
        led = fault(COUPLER, "led_open")
        self.assertEqual(read(COUPLER, "a", "k", DIODE, led), OL)
        self.assertEqual(
            read(COUPLER, "a", "k", DIODE, fault(COUPLER, "transistor_open")),
            read(COUPLER, "a", "k", DIODE),
        )

    def test_dried_cans_lose_capacitance_and_gain_esr_by_their_severity(self) -> None:
        can = part("electrolytic", {"plus": "p", "minus": "m"}, "470u", volts="25", series="LZ")
        sound = (read(can, "p", "m", CAP), read(can, "p", "m", ESR))
        last = sound
        for severity in range(3):
            now = tuple(read(can, "p", "m", m, fault(can, "dried", severity)) for m in (CAP, ESR))
            self.assertLess(now[0], last[0])
            self.assertGreater(now[1], last[1])
            last = (now[0], now[1])

    def test_shorted_turns_take_the_inductance_and_leave_the_ohms(self) -> None:
        pins = {"p1": "a", "p2": "b", "s1": "c", "s2": "d"}
        coil = part("transformer", pins, ohms="1R5 0R1", henries="800u 20u", coupling="0.98")
        turns = fault(coil, "turns")
        self.assertAlmostEqual(read(coil, "a", "b", OHMS, turns), 1.5, delta=0.01)
        whole, short = (read(coil, "a", "b", MeterMode.IMPEDANCE, f) for f in (None, turns))
        self.assertGreater(np.nan_to_num(whole, posinf=500.0), 4 * short)

    def test_a_charged_gate_looks_like_a_short_and_a_part_without_one_is_refused(self) -> None:
        for item, ends in ((N_FET, ("d", "s")), (WITH_DIODE, ("c", "e")), (TWIN, ("c", "a"))):
            whole = alone(item)
            network = part_network(whole, item.ref)
            charged = gate_charged(whole, HEALTHY, item.ref)
            shown = ColdSolver.of(network, [HEALTHY, charged]).read([ends], OHMS)[1, 0]
            self.assertLess(shown, 5.0, item.kind)
        with self.assertRaises(CircuitError) as caught:
            gate_charged(alone(NPN), HEALTHY, "X1")
        self.assertIn("no gate", caught.exception.one_line())

    def test_a_part_that_was_taken_out_reads_open_and_an_unknown_one_is_refused(self) -> None:
        whole = alone(SILICON)
        network = part_network(whole, "X1")
        gone = taken_out(network, HEALTHY, ["X1"])
        self.assertEqual(
            ColdSolver.of(network, [HEALTHY, gone]).read([("a", "k")], DIODE)[1, 0], OL
        )
        with self.assertRaises(CircuitError):
            taken_out(network, HEALTHY, ["Q99"])
