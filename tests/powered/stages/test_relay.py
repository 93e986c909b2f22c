"""The relay across the inrush limiter, against what its circuit does.

A set that takes some 110 W from 230 V through a full-wave rectifier draws about an ampere (RMS); an
NTC of 8 Ω is left with a tenth of it when hot, so that its relay, open, drops 0.4 to 3 V AC."""

import unittest
from functools import cache

from loose_rail.boards.faults import find_faults
from loose_rail.boards.load import shipped_board
from loose_rail.boards.own.board import own_board
from loose_rail.boards.own.make_up import OwnBoard, OwnConnector
from loose_rail.boards.powered_board import plant_of
from loose_rail.powered.record import run
from loose_rail.powered.waveform import waveform_run
from loose_rail.vocabulary.board_state import BoardState, Power

ON = BoardState(Power.ON, True, 0)
STANDBY = BoardState(Power.STANDBY, True, 0)
BOARDS = {"PB-3705-6": 12.0, "PB-4270-1": 15.0}


def part(board_id: str, words: str) -> str:
    return next(p.ref for p in shipped_board(board_id).components if p.duty.startswith(words))


@cache
def read(
    board_id: str, words: str = "", mode: str = "", state: BoardState = ON
) -> dict[str, float]:
    board = shipped_board(board_id)
    faults = find_faults(board, part(board_id, words), mode)[:1] if words else []
    record = run(plant_of(board, faults, state))
    return {
        "coil": float(record.windows["relay.coil"][-1, 0]),
        "drop": float(record.windows["relay.drop"][-1, 0]),
        "bulk": float(record.windows["bulk"][-1, 0]),
        "fuse": float(record.fuse_whole[0]),
    }


class Relay(unittest.TestCase):
    def test_it_closes_once_its_rail_stands_and_not_in_standby(self) -> None:
        for board_id, volts in BOARDS.items():
            self.assertAlmostEqual(read(board_id)["coil"], volts, delta=0.4)
            self.assertLess(read(board_id)["drop"], 0.05)
            asleep = read(board_id, state=STANDBY)
            self.assertLess(asleep["coil"], 0.1)
            self.assertGreater(asleep["drop"], 0.02)

    def test_a_burnt_contact_and_an_open_coil_leave_the_limiter_in_the_way(self) -> None:
        for board_id, volts in BOARDS.items():
            for mode in ("contact", "coil"):
                seen = read(board_id, "inrush relay", mode)
                self.assertAlmostEqual(seen["coil"], volts, delta=0.4)
                self.assertTrue(0.2 < seen["drop"] < 3.0, (board_id, mode, seen))
                self.assertTrue(seen["fuse"])

    def test_its_driver_and_the_diode_across_its_coil(self) -> None:
        for board_id, volts in BOARDS.items():
            for words, mode in (
                ("driver of the inrush relay", "open"),
                ("base resistor of the relay", "open"),
                ("diode across the inrush relay", "short"),
            ):
                seen = read(board_id, words, mode)
                self.assertLess(seen["coil"], 0.1, (words, mode))
                self.assertGreater(seen["drop"], 0.2)
            stuck = read(board_id, "driver of the inrush relay", "short", STANDBY)
            self.assertLess(stuck["coil"], 0.1)  # its rail is not there in standby
            self.assertAlmostEqual(
                read(board_id, "driver of the inrush relay", "short")["coil"], volts, delta=0.4
            )

    def test_a_welded_one_leaves_no_limiter_at_all(self) -> None:
        for board_id in BOARDS:
            seen = read(board_id, "inrush relay", "welded", STANDBY)
            self.assertEqual(seen["drop"], 0.0)
            self.assertFalse(seen["fuse"])  # 6 J and more through half an ohm

    def test_the_waveform_tells_the_same_drop(self) -> None:
        board = shipped_board("PB-3705-6")
        faults = find_faults(board, part("PB-3705-6", "inrush relay"), "contact")[:1]
        record = waveform_run(plant_of(board, faults, ON), 5.0)
        coarse = read("PB-3705-6", "inrush relay", "contact")["drop"]
        self.assertAlmostEqual(
            float(record.windows["relay.drop"][-1, 0]), coarse, delta=0.3 * coarse
        )

    def test_a_board_of_ones_own_has_one_where_its_words_say_so(self) -> None:
        plug = (OwnConnector("CN1", 1, ("5VSB", "PS_ON", "12V", "GND")),)
        for words, there in (
            ("standby 5 V, relay across the NTC, PFC, LLC 12 V", True),
            ("standby 5 V, inrush relay, flyback 12 V", True),
            ("standby 5 V, PFC, LLC 12 V", False),
        ):
            own = OwnBoard("X-1", words, "LED TV 43 inch", plug, 230.0, "high")
            kinds = [stage.kind for stage in own_board(own).board.stages]
            self.assertEqual("relay" in kinds, there, words)
