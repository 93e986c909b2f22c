"""Nine boards of eight families: what they are, what they do sound, what they do with faults."""

import json
import math
import unittest
from functools import cache
from importlib import resources
from pathlib import Path

import msgspec
import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.boards.cold_network import cold_network, variant_of
from loose_rail.boards.component_rules import nearest_e96, value_text
from loose_rail.boards.compose import blocks
from loose_rail.boards.faults import fault_from_key, faults_of
from loose_rail.boards.load import board_named, decode_board, shipped_board, shipped_ids
from loose_rail.boards.powered_board import plant_of
from loose_rail.boards.probes import probes_of
from loose_rail.boards.validate import problems_of
from loose_rail.circuit.cold import ColdSolver
from loose_rail.circuit.elements import Network, Resistor, Variant
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.diagnosis.model.predictions import meter_view
from loose_rail.kernel.errors import BoardFileError
from loose_rail.kernel.quantities import component_value
from loose_rail.powered.plant import stack
from loose_rail.powered.record import LiveRecord, run
from loose_rail.vocabulary.board_state import BoardState, Power
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.material import PART, some_boards
from tests.netlist.test_spice import random_network

ON = BoardState(Power.ON, True, 0)
STANDBY = BoardState(Power.STANDBY, True, 0)
LAMP = BoardState(Power.STANDBY, True, 60)
BARE_LAMP = BoardState(Power.STANDBY, False, 60)


@cache
def record(board_id: str, state: BoardState, *faults: str) -> LiveRecord:
    board = shipped_board(board_id)
    return run(plant_of(board, [fault_from_key(board, key) for key in faults], state))


def shown(board_id: str, point: str, state: BoardState, *faults: str) -> tuple[float, float, float]:
    low, high, hertz = meter_view(record(board_id, state, *faults), point, np.array([0]))
    return float(low[0]), float(high[0]), float(hertz[0])


class Profiles(unittest.TestCase):
    def test_the_families_are_all_there_with_three_wake_senses_and_their_sizes(self) -> None:
        boards = [shipped_board(board_id) for board_id in shipped_ids()]
        self.assertGreaterEqual(len({board.topology for board in boards}), 8)
        self.assertGreaterEqual({board.wake.sense for board in boards}, {"high", "low", "none"})
        for board in boards:
            self.assertTrue(30 <= len(board.components) <= 130, board.id)
            self.assertEqual(problems_of(board), [])
        kinds = {stage.kind for board in boards for stage in board.stages}
        wanted = {"mains", "adapter", "boost", "flyback", "resonant", "winding", "buck", "ldo"}
        self.assertGreaterEqual(kinds, wanted | {"switch", "led", "ccfl"})

    def test_numbers_and_aliases_find_a_board(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            for name in (board.id, board.id.lower(), *board.aliases):
                self.assertEqual(board_named(name).id, board_id)
        with self.assertRaisesRegex(BoardFileError, "board book"):
            board_named("PB-9999-9")

    def test_every_net_is_reached_and_every_probe_has_two_ends(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            used = {net for part in board.components for net in part.pins.values()}
            self.assertEqual({net.name for net in board.nets} - used, set(), board_id)
            ids = [probe.id for probe in probes_of(board)]
            self.assertEqual(len(ids), len(set(ids)), board_id)
            self.assertTrue(all(net.where for net in board.nets), board_id)

    def test_every_role_of_every_board_is_in_the_formats_page(self) -> None:
        page = (Path(__file__).parents[2] / "docs" / "formats.md").read_text()
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            for role, refs in board.roles.items():
                job = role.split(".")[-1]
                self.assertIn(f".{job}`" if "." in role else f"`{role}`", page, role)
                self.assertTrue(refs and all(map(board.component, refs)), role)

    def test_dividers_hold_the_printed_voltage(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            for stage in board.stages:
                roles = [board.roles.get(f"{stage.id}.{role}") for role in ("upper", "lower")]
                if stage.kind not in ("flyback", "resonant") or not all(roles):
                    continue
                upper, lower = (component_value(board.component(r[0]).value) for r in roles)  # type: ignore[index]
                volts = 2.495 * (1 + upper / lower)
                self.assertAlmostEqual(volts / stage.volts, 1.0, delta=0.015, msg=board_id)

    def test_a_recipe_with_an_unknown_block_or_net_is_refused_in_words(self) -> None:
        folder = resources.files("loose_rail.boards").joinpath("data/recipes")
        raw = json.loads(folder.joinpath("PB-5012-3.json").read_text("utf-8"))
        raw["blocks"][1]["block"] = "perpetual_motion"
        with self.assertRaisesRegex(BoardFileError, "perpetual_motion") as caught:
            decode_board(json.dumps(raw).encode(), "r.json")
        self.assertIn("flyback_own", caught.exception.hint)
        raw["blocks"][1]["block"] = "flyback_own"
        raw["loads"][0]["rail"] = "nowhere"
        with self.assertRaisesRegex(BoardFileError, "nowhere, which is missing"):
            decode_board(json.dumps(raw).encode(), "r.json")

    def test_a_composed_board_reads_back_as_a_plain_profile(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            self.assertEqual(decode_board(msgspec.json.encode(board), "copy.json"), board)

    @given(st.floats(0.1, 1e7))
    def test_values_are_written_as_they_are_read(self, ohms: float) -> None:
        near = nearest_e96(ohms)
        self.assertAlmostEqual(near / ohms, 1.0, delta=0.0175)
        self.assertAlmostEqual(component_value(value_text(near)) / near, 1.0, delta=1e-3)

    def test_block_templates_have_no_loose_ends(self) -> None:
        for name, block in blocks().items():
            refs = {part["ref"] for part in block["parts"]}
            for section in block["sections"]:
                self.assertLessEqual(set(section["parts"]), refs, name)
            for role in block["roles"].values():
                self.assertLessEqual(set(role), refs, name)
            placed = {ref for section in block["sections"] for ref in section["parts"]}
            self.assertEqual(placed, refs, name)


class Sound(unittest.TestCase):
    def test_rails_stand_at_their_voltage_when_the_set_is_on(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            found = record(board_id, ON)
            for stage in board.stages:
                if stage.kind in ("mains", "adapter", "boost", "status", "relay"):
                    continue
                low, high, hertz = shown(board_id, f"{stage.id}.out", ON)
                self.assertEqual(hertz, 0, f"{board_id} {stage.id}")
                self.assertAlmostEqual(
                    high / stage.volts, 1.0, delta=0.12, msg=f"{board_id} {stage.id}"
                )
                self.assertAlmostEqual(low, high, delta=0.05 * stage.volts)
            self.assertTrue(found.fuse_whole[0])

    def test_in_standby_only_what_must_stand_stands(self) -> None:
        for board_id, off, held in (
            ("PB-5012-3", ("main.out", "lamp.out", "led.out"), {"standby.out": 5}),
            ("PB-6530-2", ("main.out", "panel.out", "led2.out"), {"standby.out": 5}),
            ("PB-4270-1", ("sustain.out", "address.out"), {"standby.out": 5}),
            ("PB-3206-1", ("main.out", "tubes.out"), {"standby.out": 5, "start": 5}),
            ("PB-2408-1", (), {"standby.out": 5, "main.out": 12 * 0.55}),
            ("PB-3920-4", ("core.out", "panel.out"), {"standby.out": 5, "io.out": 3.3}),
        ):
            for point in off:
                self.assertAlmostEqual(shown(board_id, point, STANDBY)[1], 0, delta=0.6)
            for point, volts in held.items():
                self.assertAlmostEqual(shown(board_id, point, STANDBY)[0] / volts, 1, delta=0.03)

    def test_the_boost_lifts_the_bulk_only_when_started(self) -> None:
        for board_id in ("PB-5012-3", "PB-6530-2", "PB-4270-1"):
            self.assertAlmostEqual(shown(board_id, "bulk", STANDBY)[0], 323, delta=3)
            self.assertAlmostEqual(shown(board_id, "bulk", ON)[0], 389, delta=4)
        self.assertAlmostEqual(shown("PB-5012-3", "bulk", ON, "Q101:open:0")[0], 310, delta=15)

    def test_forced_without_a_main_board_wakes_by_every_sense(self) -> None:
        for board_id in ("PB-5012-3", "PB-3206-1", "PB-4310-2", "PB-2408-1"):
            state = BoardState(Power.FORCED, False, 60)
            self.assertAlmostEqual(shown(board_id, "main.out", state)[0], 12.05, delta=0.15)
        for board_id in ("PB-1905-2", "PB-2211-1"):
            states = live_states(shipped_board(board_id))
            self.assertNotIn(Power.FORCED, {state.power for state in states})


class Faulty(unittest.TestCase):
    def test_a_shorted_output_ticks_at_the_rate_of_its_supply(self) -> None:
        for board_id, part in (("PB-5012-3", "C203"), ("PB-3206-1", "C203"), ("PB-4310-2", "C21")):
            low, high, hertz = shown(board_id, "standby.vcc", LAMP, f"{part}:short:0")
            self.assertTrue(0.8 < hertz < 5, f"{board_id} {hertz}")
            self.assertGreater(high, low)
            self.assertLess(shown(board_id, "standby.out", LAMP, f"{part}:short:0")[1], 0.8)

    def test_lamp_bright_on_a_short_and_a_flash_when_sound(self) -> None:
        for board_id, short in (("PB-5012-3", "C101:short:0"), ("PB-3206-1", "RV101:short:0")):
            self.assertGreater(record(board_id, BARE_LAMP, short).lamp_glow[0], 0.5)
            sound = record(board_id, BARE_LAMP)
            self.assertLess(sound.lamp_glow[0], 0.01)
            self.assertGreater(sound.flash_seconds[0], 0.05)

    def test_an_open_string_sends_the_driver_to_its_clamp_and_off(self) -> None:
        board = shipped_board("PB-5012-3")
        plant = plant_of(board, [fault_from_key(board, "LS501:open:0")], ON)
        trace = run(plant, 6.0, 10).traces["led.out"][:, 0]
        self.assertAlmostEqual(trace.max(), 125, delta=2)
        self.assertLess(trace[-1], trace.max() - 3)  # 500 kΩ and 100 µF: it stays charged
        self.assertGreater(trace[-1], 0.85 * trace.max())
        retrying = shipped_board("PB-2211-1")
        plant = plant_of(retrying, [fault_from_key(retrying, "LS401:open:0")], ON)
        trace = run(plant, 8.0, 10).traces["led.out"][:, 0]
        peaks = np.flatnonzero((trace[1:-1] > trace[:-2]) & (trace[1:-1] >= trace[2:]))
        self.assertGreaterEqual(sum(trace[peaks + 1] > 55), 2)

    def test_a_missing_tube_lights_and_goes_out(self) -> None:
        for board_id in ("PB-1905-2", "PB-3206-1"):
            board = shipped_board(board_id)
            number = next(p.ref for p in board.components if p.kind == "tubes")
            plant = plant_of(board, [fault_from_key(board, f"{number}:open:0")], ON)
            found = run(plant, 6.0, 10)
            sense = found.traces["tubes.out"][:, 0]
            lit = found.trace_seconds[sense > 0.1]
            self.assertTrue(1.0 < lit[-1] - lit[0] < 2.0)
            self.assertEqual(sense[-1], 0)

    def test_a_drive_board_that_drags_pulls_the_sustain_rail_down(self) -> None:
        board = shipped_board("PB-4270-1")
        sound = record("PB-4270-1", ON)
        plant = plant_of(board, [fault_from_key(board, "YB:drags:1")], ON)
        faulty = run(plant, 6.0, 10)
        self.assertAlmostEqual(sound.windows["sustain.out"][-1, 0], 194, delta=3)
        self.assertLess(faulty.windows["sustain.out"][-1, 0], 20)
        seconds, volts = faulty.trace_seconds, faulty.traces["sustain.out"][:, 0]
        self.assertGreater(volts.max(), 5)
        self.assertLess(volts[seconds > 4].max(), volts.max())

    def test_a_sustain_rail_rises_slowly(self) -> None:
        board = shipped_board("PB-4270-1")
        found = run(plant_of(board, (), ON), 6.0, 10)
        volts, seconds = found.traces["sustain.out"][:, 0], found.trace_seconds
        start, end = (seconds[np.argmax(volts > share * 194)] for share in (0.1, 0.9))
        self.assertTrue(0.6 < end - start < 2.0)

    def test_an_adapter_goes_into_its_own_hiccup_on_a_short(self) -> None:
        windows = record("PB-2211-1", BoardState(Power.STANDBY, False, 0), "C101:short:0").windows
        self.assertLess(windows["bulk"].max(), 3.0)

    def test_mute_and_dragging_boards_behind_the_supply(self) -> None:
        self.assertEqual(shown("PB-5012-3", "start", ON, "MB:never_asserts:0")[1], 0)
        self.assertAlmostEqual(shown("PB-5012-3", "standby.out", ON, "MB:never_asserts:0")[0], 5, 1)
        self.assertGreater(shown("PB-5012-3", "standby.out", LAMP, "MB:drags:0")[2], 0.5)
        self.assertEqual(shown("PB-5012-3", "standby.out", BARE_LAMP, "MB:drags:0")[2], 0)

    def test_the_part_that_costly_tests_go_through_has_every_kind_of_stage(self) -> None:
        kinds = {name: {s.kind for s in shipped_board(name).stages} for name in shipped_ids()}
        self.assertEqual(set().union(*(kinds[name] for name in PART)), set().union(*kinds.values()))

    def test_every_fault_of_every_board_runs_to_finite_values(self) -> None:
        for board_id in some_boards():
            board = shipped_board(board_id)
            faults = [fault for part in board.components for fault in faults_of(part)]
            found = run(stack([plant_of(board, [fault], ON) for fault in faults]), 0.6)
            for name, windows in found.windows.items():
                self.assertTrue(np.isfinite(windows).all(), f"{board_id} {name}")
                self.assertGreaterEqual(windows.min(), -1e-6, f"{board_id} {name}")


class Physics(unittest.TestCase):
    """What must hold of any passive network, whatever is in it."""

    @given(st.integers(0, 400))
    @settings(max_examples=40)
    def test_no_reading_is_negative_and_a_leak_never_raises_it(self, seed: int) -> None:
        network = random_network(seed)
        a, b = network.nets[1], network.nets[-1]
        leaks = [Resistor(a, b, float(ohms)) for ohms in np.geomspace(1e6, 1.0, 5)]
        variants = [Variant("healthy"), *(Variant(f"{r.ohms}", {}, (r,)) for r in leaks)]
        solver = ColdSolver.of(network, variants)
        for mode in (MeterMode.OHMS, MeterMode.DIODE):
            shown_ = solver.read([(a, b)], mode)[:, 0]
            self.assertTrue((shown_ >= -1e-9).all())
            if mode is MeterMode.DIODE:  # one source: the law is monotone
                finite = np.where(np.isinf(shown_), 3.0, shown_)
                self.assertTrue((np.diff(finite) <= 1e-9).all(), f"{seed} {shown_}")
        impedance = solver.read([(a, b)], MeterMode.ESR)
        self.assertTrue((impedance >= 0).all())

    @given(st.integers(0, 400), st.floats(0.1, 10))
    @settings(max_examples=30)
    def test_linear_networks_superpose_and_scale(self, seed: int, factor: float) -> None:
        network = random_network(seed)
        linear = {n: e for n, e in network.elements.items() if isinstance(e, Resistor)}
        one = Network(network.nets, linear, network.reference)
        scaled = Network(
            network.nets,
            {n: Resistor(e.a, e.b, e.ohms * factor) for n, e in linear.items()},
            network.reference,
        )
        a, b, c = network.nets[0], network.nets[1], network.nets[-1]
        pairs = [(a, b), (b, c), (a, c)]
        first = ColdSolver.of(one, [Variant("h")]).read(pairs, MeterMode.OHMS)[0]
        second = ColdSolver.of(scaled, [Variant("h")]).read(pairs, MeterMode.OHMS)[0]
        for x, y in zip(first, second, strict=True):
            if math.isfinite(x) and math.isfinite(y) and max(x, y) < 1e5:
                self.assertAlmostEqual(y / (x * factor), 1.0, delta=2e-3)
        if np.isfinite(first).all():  # resistance distance obeys the triangle inequality
            self.assertLessEqual(first[2], (first[0] + first[1]) * (1 + 1e-4))

    def test_faults_that_a_probe_cannot_see_leave_its_reading_alone(self) -> None:
        board = shipped_board("PB-5012-3")
        network = cold_network(board)
        hot = [
            fault
            for part in board.components
            for fault in faults_of(part)
            if all(board.net(net).side == "hot" for net in part.pins.values())
        ]
        solver = ColdSolver.of(
            network, [Variant("healthy"), *(variant_of(board, network, [f]) for f in hot)]
        )
        cold = [
            (probe.plus, probe.minus)
            for probe in probes_of(board)
            if probe.mode is MeterMode.DIODE and probe.side == "cold" and not probe.lifted
        ]
        readings = solver.read(cold, MeterMode.DIODE)
        for row in readings[1:]:
            np.testing.assert_allclose(row, readings[0], atol=1e-4)


if __name__ == "__main__":
    unittest.main()
