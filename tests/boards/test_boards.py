"""Board profiles: what is read is what was written, and every contradiction is named."""

import json
import tempfile
import unittest
from pathlib import Path
from typing import Any

import msgspec
from hypothesis import given, strategies as st

from loose_rail.boards.cold_network import cold_network, variant_of
from loose_rail.boards.effective_parts import Health
from loose_rail.boards.faults import fault_from_key, faults_of, find_faults, while_present
from loose_rail.boards.kinds.kind import Effect
from loose_rail.boards.load import decode_board, read_board, shipped_board
from loose_rail.boards.powered_board import plant_of
from loose_rail.boards.probes import probes_of
from loose_rail.boards.profile import Side
from loose_rail.kernel.errors import BoardFileError
from loose_rail.vocabulary.board_state import BoardState, Power
from tests.shared import board


def raw() -> dict[str, Any]:
    decoded: dict[str, Any] = json.loads(msgspec.json.encode(board()))
    return decoded


def part(data: dict[str, Any], ref: str) -> dict[str, Any]:
    return next(item for item in data["components"] if item["ref"] == ref)


class GoodProfiles(unittest.TestCase):
    def test_round_trip(self) -> None:
        again = decode_board(msgspec.json.encode(board()), "again")
        self.assertEqual(again, board())

    def test_the_demo_board_is_what_the_slice_promises(self) -> None:
        kinds_here = {item.kind for item in board().components}
        self.assertGreaterEqual(len(board().components), 40)
        for wanted in ("fuse", "ntc", "bridge", "optocoupler", "shunt_reference", "controller"):
            self.assertIn(wanted, kinds_here)
        self.assertEqual({rail.volts for rail in board().rails}, {5, 12, 24})
        self.assertEqual(board().wake.sense, "high")
        self.assertTrue(all(faults_of(item) for item in board().components))

    def test_every_net_is_held_by_a_part_and_every_part_on_one_map(self) -> None:
        used = {net for item in board().components for net in item.pins.values()}
        self.assertEqual(used, {net.name for net in board().nets})
        places = [ref for s in board().sections for ref in (*s.before, *s.after)]
        places += [ref for rail in board().rails for ref in rail.stops]
        self.assertEqual(len(places), len(set(places)))

    def test_only_transformers_couplers_relays_and_the_barrier_capacitor_cross(self) -> None:
        for item in board().components:
            sides = {board().net(net).side for net in item.pins.values()}
            if len(sides) == 2:
                self.assertIn(
                    item.kind, ("transformer", "optocoupler", "y_capacitor", "relay"), item.ref
                )

    def test_a_file_is_read_and_a_missing_one_is_said(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "board.json"
            path.write_bytes(msgspec.json.encode(board()))
            self.assertEqual(read_board(path), board())
            with self.assertRaises(BoardFileError):
                read_board(Path(folder) / "none.json")
        with self.assertRaises(BoardFileError):
            shipped_board("PB-0000-0")


class BadProfiles(unittest.TestCase):
    def refuse(self, data: dict[str, Any] | bytes, *words: str) -> None:
        encoded = data if isinstance(data, bytes) else json.dumps(data).encode()
        with self.assertRaises(BoardFileError) as caught:
            decode_board(encoded, "board.json")
        for word in words:
            self.assertIn(word, caught.exception.message)
        self.assertTrue(caught.exception.hint)

    def test_unknown_kind(self) -> None:
        data = raw()
        part(data, "C21")["kind"] = "flux_capacitor"
        self.refuse(data, "C21", "flux_capacitor")

    def test_missing_net(self) -> None:
        data = raw()
        part(data, "R22")["pins"]["1"] = "NOWHERE"
        self.refuse(data, "R22", "NOWHERE")

    def test_duplicate_designator_and_net(self) -> None:
        data = raw()
        data["components"].append(dict(part(data, "R8")))
        self.refuse(data, "R8", "2 times")
        data = raw()
        data["nets"].append(dict(data["nets"][0]))
        self.refuse(data, "2 times")

    def test_values_that_are_none(self) -> None:
        for value in ("much", "0", "-5", ""):
            data = raw()
            part(data, "R8")["value"] = value
            self.refuse(data, "R8")

    def test_references_into_nothing(self) -> None:
        changes = {
            "role": lambda d: d["roles"].update({"bulk": ["C999"]}),
            "rail": lambda d: d["rails"][0]["stops"].append("C999"),
            "ground": lambda d: d.update({"hot_ground": "C999"}),
            "live point": lambda d: d["live_points"][0].update({"observable": "C999"}),
            "pin": lambda d: d["connectors"][0]["pins"][0].update({"net": "C999"}),
            "co-failure": lambda d: d["co_failures"][0].update({"effect": "C999"}),
            "section": lambda d: part(d, "R8").update({"section": "C999"}),
        }
        for name, change in changes.items():
            with self.subTest(name):
                data = raw()
                change(data)  # type: ignore[no-untyped-call]
                self.refuse(data, "C999")

    def test_wake_sense_outside_its_words(self) -> None:
        data = raw()
        data["wake"]["sense"] = "perhaps"
        self.refuse(data, "perhaps")

    def test_not_json_wrong_shape_other_schema(self) -> None:
        self.refuse(b"\x00\x01garbage", "board.json")
        self.refuse(b"[]", "board.json")
        data = raw()
        data["surprise"] = 1
        self.refuse(data, "surprise")
        data = raw()
        data["schema"] = "loose-rail/board/9"
        self.refuse(data, "board/9")

    @given(st.binary(max_size=60))
    def test_any_bytes_are_refused_in_words(self, data: bytes) -> None:
        self.refuse(data, "board.json")


class Faults(unittest.TestCase):
    def test_every_mode_changes_the_network_or_the_live_plant(self) -> None:
        """A fault mode that nothing can see would be decoration. Exceptions are named by what a
        coupler has left: with so much it still gets current enough, and is there for the day on
        which it does not."""
        enough = {"U2": 0.18, "U5": 0.05, "U6": 0.15}
        network = cold_network(board())
        states = [BoardState(power, True, 0) for power in (Power.ON, Power.STANDBY)]
        sound = [plant_of(board(), (), state) for state in states]
        for item in board().components:
            for fault in faults_of(item):
                there = while_present(board(), [fault])
                variant = variant_of(board(), network, there)
                cold = bool(variant.replaced or variant.added)
                live = [plant_of(board(), there, state) for state in states] != sound
                if fault.effect is Effect.ELSEWHERE:  # on another board: nothing here shows it
                    self.assertFalse(cold or live, fault.key)
                    continue
                left = enough.get(item.ref, 2.0)
                still = fault.mode == "weak" and fault.value_scale >= left
                self.assertEqual(cold or live, not still, fault.key)

    def test_keys_read_back(self) -> None:
        for item in board().components:
            for fault in faults_of(item):
                self.assertEqual(fault_from_key(board(), fault.key), fault)
        self.assertEqual(find_faults(board(), "C21", "dried")[1].severity, 1)
        with self.assertRaises(KeyError):
            fault_from_key(board(), "C21:melted")

    def test_health_adds_what_stands_in_series(self) -> None:
        health = Health(board(), [fault_from_key(board(), "R8:drifted:1")])
        self.assertAlmostEqual(health.series_ohms("standby.start"), 390e3 * 2.2 + 390e3)
        opened = Health(board(), [fault_from_key(board(), "R9:open")])
        self.assertEqual(opened.series_ohms("standby.start"), float("inf"))
        dried = Health(board(), [fault_from_key(board(), "C21:dried:2")])
        farads, esr = dried.capacitor("standby.reservoir")
        self.assertAlmostEqual(farads, 120e-6)
        self.assertAlmostEqual(esr, 150 * Health(board(), []).capacitor("standby.reservoir")[1])


class Probes(unittest.TestCase):
    def test_every_probe_has_words_for_two_hands_and_stays_on_its_side(self) -> None:
        ids = set()  # type: ignore[var-annotated]
        for probe in probes_of(board()):
            self.assertNotIn(probe.id, ids)
            ids.add(probe.id)
            self.assertTrue(probe.plus_words and probe.minus_words and probe.title)
            self.assertNotEqual(probe.plus, probe.minus)
            if probe.part != "CY1":
                self.assertIs(board().net(probe.plus).side, board().net(probe.minus).side)
            if probe.live and probe.side is Side.HOT and probe.mode == "dc_volts":
                self.assertEqual(probe.minus, board().hot_ground)
