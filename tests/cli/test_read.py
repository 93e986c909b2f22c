"""`loose-rail read` and its kin over all boards: against the tables, the netlists and physics."""

import contextlib
import csv
import io
import itertools
import json
import math
import tempfile
import unittest
from pathlib import Path
from typing import Any

import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.__main__ import main
from loose_rail.boards.cold_network import cold_network, removed, variant_of
from loose_rail.boards.effective_parts import Health
from loose_rail.boards.faults import fault_from_key, faults_of
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.probes import probes_of
from loose_rail.boards.typical import bias_share
from loose_rail.circuit import meters
from loose_rail.circuit.cold import ColdSolver
from loose_rail.circuit.elements import Capacitor, Network, Resistor, Variant
from loose_rail.circuit.meter_port import MeterPort
from loose_rail.kernel.errors import CircuitError
from loose_rail.netlist.read import read_netlist
from loose_rail.netlist.solve import solve_op
from loose_rail.vocabulary.meter_mode import MeterMode


def answer(*arguments: str) -> dict[str, Any]:
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        code = main(["read", *arguments, "--json"])
    if code != 0:
        raise AssertionError(err.getvalue())
    return json.loads(out.getvalue())  # type: ignore[no-any-return]


def refusal(*arguments: str) -> str:
    err = io.StringIO()
    with contextlib.redirect_stderr(err), contextlib.redirect_stdout(io.StringIO()):
        code = main(["read", *arguments])
    if code != 2:
        raise AssertionError(f"exit code {code}")
    return err.getvalue()


class OverAllBoards(unittest.TestCase):
    def test_every_cold_probe_of_a_board_answers_as_the_batch_does(self) -> None:
        rng = np.random.default_rng(11)
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            network = cold_network(board)
            solver = ColdSolver.of(network, [Variant("healthy")])
            probes = [p for p in probes_of(board) if p.in_place]
            for number in rng.choice(len(probes), 6, replace=False):
                probe = probes[number]
                shown = answer(board_id, "--probe", probe.id, "--state", "unplugged")
                wanted = float(solver.read([(probe.plus, probe.minus)], probe.mode)[0, 0])
                self.assertEqual(shown["overload"], math.isinf(wanted), probe.id)
                self.assertEqual(shown["unit"], probe.unit)
                if not shown["overload"]:
                    self.assertAlmostEqual(shown["reading"], wanted, delta=1e-6 * abs(wanted))

    def test_every_live_point_of_a_sound_board_is_steady_and_names_itself(self) -> None:
        for board_id in ("PB-2211-1", "PB-4310-2", "PB-3206-1"):
            board = shipped_board(board_id)
            for point in (one for one in board.live_points if one.meter):
                shown = answer(board_id, "--probe", f"live.{point.id}", "--state", "on")
                self.assertEqual(shown["behaviour"]["form"], "steady", f"{board_id} {point.id}")
                self.assertEqual((shown["probe"], shown["unit"]), (f"live.{point.id}", "V"))
                self.assertEqual(shown["fuse"], "whole")

    def test_the_written_netlist_gives_the_reading_by_another_solver(self) -> None:
        rng = np.random.default_rng(5)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "probe.cir"
            for board_id in shipped_ids():
                board = shipped_board(board_id)
                faults = [f.key for part in board.components for f in faults_of(part)]
                diodes = [p for p in probes_of(board) if p.mode is MeterMode.DIODE and not p.lifted]
                probe = diodes[rng.integers(len(diodes))]
                fault = faults[rng.integers(len(faults))]
                shown = answer(
                    *(board_id, "--probe", probe.id, "--state", "unplugged"),
                    *("--fault", fault, "--netlist", str(path)),
                )
                netlist = read_netlist(path)
                self.assertEqual(netlist.notes, ())
                plus, minus = netlist.title.rsplit("v(", 1)[1].rstrip(")").split(",")
                volts = solve_op(netlist, plus, minus)
                if shown["overload"]:
                    self.assertGreater(volts, meters.DIODE_OVERLOAD_VOLTS)
                else:
                    self.assertAlmostEqual(volts, shown["reading"], delta=2e-5)

    def test_traces_hold_every_point_and_end_where_the_reading_stands(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "trace.csv"
            shown = answer(
                *("PB-2211-1", "--probe", "standby", "--state", "on", "--trace", str(path))
            )
            with path.open(encoding="utf-8") as file:
                rows = list(csv.DictReader(file))
        last = rows[-1]
        self.assertAlmostEqual(float(last["standby.out"]), shown["reading"], delta=0.05)
        self.assertGreater(float(last["seconds"]), 2.9)
        times = [float(row["seconds"]) for row in rows]
        self.assertTrue(all(b > a for a, b in itertools.pairwise(times)))


class PartsOut(unittest.TestCase):
    @given(st.integers(0, 2000))
    @settings(max_examples=25)
    def test_taking_a_part_out_never_lowers_a_diode_reading(self, seed: int) -> None:
        """One source, passive parts: less in parallel, more volts."""
        rng = np.random.default_rng(seed)
        board = shipped_board("PB-4310-2")
        network = cold_network(board)
        refs = [p.ref for p in board.components if p.kind in ("resistor", "diode", "npn", "pnp")]
        out = refs[rng.integers(len(refs))]
        variant = removed(network, Variant("healthy"), [out])
        solver = ColdSolver.of(network, [Variant("healthy"), variant])
        nets = list(network.nets)
        a, b = (nets[k] for k in rng.choice(len(nets), 2, replace=False))
        whole, without = solver.read([(a, b)], MeterMode.DIODE)[:, 0]
        self.assertGreaterEqual(without + 1e-6, whole, f"{out} {a} {b}")

    def test_out_of_circuit_a_divider_reads_its_printed_value(self) -> None:
        for part, value in (("R23", 10e3), ("R41", 10e3)):
            neighbours = {"R23": ("R22", "U3"), "R41": ("R40", "U7")}[part]
            out = [text for ref in neighbours for text in ("--without", ref)]
            shown = answer("PB-4310-2", "--probe", f"{part}.ohms", "--state", "unplugged", *out)
            self.assertAlmostEqual(shown["reading"] / value, 1.0, delta=1e-3)
            lifted = answer("PB-4310-2", "--probe", f"{part}.ohms.out", "--state", "unplugged")
            self.assertAlmostEqual(lifted["reading"] / value, 1.0, delta=1e-6)

    def test_a_part_that_is_not_there_can_not_be_taken_out(self) -> None:
        network = cold_network(shipped_board("PB-4310-2"))
        with self.assertRaisesRegex(CircuitError, "no part “Z9”"):
            removed(network, Variant("healthy"), ["Z9"])
        self.assertIn(
            "dead board",
            refusal("PB-4310-2", "--probe", "12v", "--state", "on", "--without", "R22"),
        )


class Inputs(unittest.TestCase):
    def test_mains_from_ninety_to_two_hundred_and_sixty_four_volts(self) -> None:
        for volts in (90, 120, 230, 264):
            shown = answer(
                *("PB-4310-2", "--probe", "bulk", "--state", "standby", "--mains", str(volts))
            )
            self.assertAlmostEqual(shown["reading"] / volts, 1.40, delta=0.02)
            rail = answer(
                *("PB-4310-2", "--probe", "5v", "--state", "standby", "--mains", str(volts))
            )
            self.assertAlmostEqual(rail["reading"], 4.99, delta=0.03)
        for volts, board_id, words in (  # type: ignore[assignment]
            ("30", "PB-4310-2", "90 to 264"),
            ("700", "PB-4310-2", "90 to 264"),
            ("230", "PB-2211-1", "adapter"),
        ):
            said = refusal(board_id, "--probe", "bulk", "--state", "standby", "--mains", volts)  # type: ignore[arg-type]
            self.assertIn(words, said)

    def test_a_resistor_as_limiter_lets_the_standby_run_and_holds_a_short(self) -> None:
        base = ("PB-4310-2", "--probe", "bulk", "--state", "standby/bare/direct")
        self.assertAlmostEqual(answer(*base, "--resistor", "47")["reading"], 165, delta=4)
        short = answer(*base, "--resistor", "47", "--fault", "C3:short:0")
        self.assertLess(short["reading"], 3)
        self.assertEqual(short["fuse"], "whole")
        self.assertEqual(answer(*base, "--fault", "C3:short:0")["fuse"], "open")

    def test_poor_contacts_drop_what_they_carry(self) -> None:
        sound = answer("PB-4310-2", "--probe", "bulk", "--state", "on")["reading"]
        inlet = answer(
            *("PB-4310-2", "--probe", "bulk", "--state", "on", "--fault", "CN1:loose:1")
        )["reading"]
        self.assertLess(inlet, 0.85 * sound)
        mute = ("PB-4310-2", "--probe", "start", "--state", "on", "--fault", "CN2:loose:1")
        self.assertEqual(answer(*mute)["reading"], 0)
        health = Health(
            shipped_board("PB-4310-2"), [fault_from_key(shipped_board("PB-4310-2"), "CN1:loose:0")]
        )
        self.assertAlmostEqual(health.contact_ohms("CN1"), 1.5)

    def test_large_ceramics_lose_capacitance_at_their_working_voltage(self) -> None:
        board = shipped_board("PB-3920-4")
        large = next(p for p in board.components if p.kind == "ceramic" and p.value == "10u")
        small = next(p for p in board.components if p.kind == "ceramic" and p.value == "10n")
        shares = [bias_share(large, volts) for volts in (0, 5, 12, 15, 25)]
        self.assertEqual(shares[0], 1.0)
        self.assertTrue(all(b < a for a, b in itertools.pairwise(shares)))
        self.assertAlmostEqual(shares[3], 0.5, delta=0.01)
        self.assertEqual(bias_share(small, 400), 1.0)


class MeterModes(unittest.TestCase):
    @given(st.floats(1e-7, 1e-3), st.floats(0.01, 5.0))
    @settings(max_examples=40)
    def test_esr_magnitude_and_lcr_of_one_capacitor(self, farads: float, esr: float) -> None:
        network = Network(("a", "b"), {"C": Capacitor("a", "b", farads, esr)}, "b")
        solver = ColdSolver.of(network, [Variant("healthy")])
        pair = [("a", "b")]
        reactance = 1 / (2 * math.pi * meters.ESR_HERTZ * farads)
        real = float(solver.read(pair, MeterMode.ESR)[0, 0])
        size = float(solver.read(pair, MeterMode.IMPEDANCE)[0, 0])
        self.assertAlmostEqual(real / esr, 1.0, delta=1e-3)
        self.assertAlmostEqual(size / math.hypot(esr, reactance), 1.0, delta=1e-3)
        for mode in (MeterMode.LCR, MeterMode.CAPACITANCE):
            self.assertAlmostEqual(float(solver.read(pair, mode)[0, 0]) / farads, 1.0, delta=2e-3)

    @given(st.floats(1e-6, 2e-3), st.floats(1e3, 1e6), st.floats(10, 1e4))
    @settings(max_examples=30)
    def test_climbing_ohms_follow_one_time_constant(
        self, farads: float, parallel: float, series: float
    ) -> None:
        elements = {
            "C": Capacitor("m", "b", farads, 0.01),
            "Rs": Resistor("a", "m", series),
            "Rp": Resistor("m", "b", parallel),
        }
        solver = ColdSolver.of(Network(("a", "m", "b"), elements, "b"), [Variant("healthy")])  # type: ignore[arg-type]
        tau = parallel * farads
        if tau < 0.5:
            return
        times = (1.0, 5.0, 20.0)
        shown = solver.climbing([("a", "b")], times)[:, 0, 0]
        for seconds, ohms in zip(times, shown, strict=True):
            wanted = series - parallel * math.expm1(-seconds / tau)
            self.assertAlmostEqual(ohms / wanted, 1.0, delta=0.06)

    def test_the_ohms_source_gives_way_at_its_clamp(self) -> None:
        for scale in meters.OHMS_RANGES:
            port = MeterPort.ohms(scale.source_amps)
            self.assertAlmostEqual(port.delivered(0.1) / scale.source_amps, 1.0, delta=1e-4)
            self.assertLess(port.delivered(0.72), 0.0)

    def test_lifted_parts_show_their_own_faults_only(self) -> None:
        board = shipped_board("PB-5012-3")
        network = cold_network(board)
        fault = fault_from_key(board, "C203:dried:1")
        in_place = ColdSolver.of(network, [Variant("h"), variant_of(board, network, [fault])])
        pins = board.component("C203").pins
        shown = in_place.read([(pins["plus"], pins["minus"])], MeterMode.ESR)[:, 0]
        lifted = answer(
            *("PB-5012-3", "--probe", "C203.esr.out", "--state", "unplugged"),
            *("--fault", "C203:dried:1", "--fault", "Q201:short:0"),
        )["reading"]
        self.assertGreater(lifted, 0.9 * shown[1])
        alone = answer("PB-5012-3", "--probe", "C203.esr.out", "--state", "unplugged")["reading"]
        self.assertAlmostEqual(lifted / alone, 40, delta=1)


if __name__ == "__main__":
    unittest.main()
