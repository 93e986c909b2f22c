"""A half bridge with one shorted switch: nothing flows until the other is driven, then all does."""

import unittest

from loose_rail.boards.faults import find_faults
from loose_rail.boards.load import shipped_board
from loose_rail.boards.powered_board import plant_of
from loose_rail.powered.record import LiveRecord, run
from loose_rail.powered.waveform import waveform_run
from loose_rail.vocabulary.board_state import BoardState, Power

ON = BoardState(Power.ON, True, 0)
ASLEEP = BoardState(Power.STANDBY, True, 0)
FORCED_BEHIND_A_LAMP = BoardState(Power.FORCED, False, 60)
BOARDS = {"PB-5012-3": "main", "PB-4270-1": "main"}


def read(board_id: str, state: BoardState, *refs: str) -> LiveRecord:
    board = shipped_board(board_id)
    return run(plant_of(board, [find_faults(board, ref, "short")[0] for ref in refs], state))


class HalfBridge(unittest.TestCase):
    def test_one_shorted_switch_spares_the_fuse_until_the_set_is_started(self) -> None:
        for board_id, stage in BOARDS.items():
            switches = shipped_board(board_id).roles[f"{stage}.switch"]
            self.assertEqual(len(switches), 2)
            for ref in switches:
                asleep, started = read(board_id, ASLEEP, ref), read(board_id, ON, ref)
                self.assertTrue(asleep.fuse_whole[0])
                self.assertAlmostEqual(float(asleep.windows["standby.out"][-1, 0]), 5.0, delta=0.1)
                self.assertFalse(started.fuse_whole[0])
                self.assertLess(float(started.windows["bulk"][-1, 0]), 5.0)

    def test_both_short_the_bulk_as_the_mains_comes(self) -> None:
        for board_id, stage in BOARDS.items():
            switches = shipped_board(board_id).roles[f"{stage}.switch"]
            self.assertFalse(read(board_id, ASLEEP, *switches).fuse_whole[0])

    def test_behind_a_lamp_it_lights_up_as_it_starts(self) -> None:
        for board_id, stage in BOARDS.items():
            ref = shipped_board(board_id).roles[f"{stage}.switch"][0]
            self.assertGreater(float(read(board_id, FORCED_BEHIND_A_LAMP, ref).lamp_glow[0]), 0.2)
            asleep = BoardState(Power.STANDBY, False, 60)
            self.assertLess(float(read(board_id, asleep, ref).lamp_glow[0]), 0.05)

    def test_the_waveform_blows_it_too(self) -> None:
        board = shipped_board("PB-5012-3")
        faults = find_faults(board, board.roles["main.switch"][1], "short")[:1]
        self.assertFalse(waveform_run(plant_of(board, faults, ON), 3.0).fuse_whole[0])
