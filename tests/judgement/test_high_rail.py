"""No other board on a supply whose rail stands too high for it, over all boards."""

import unittest

from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.probes import probes_of
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.judgement.load_steps import LOOSE
from loose_rail.judgement.over_voltage import too_high_for_loads
from loose_rail.judgement.safety import SafetyFacts, state_refusals
from loose_rail.kernel.observation import ticking, value
from loose_rail.vocabulary.board_state import UNPLUGGED
from loose_rail.vocabulary.meter_mode import MeterMode


class HighRail(unittest.TestCase):
    def test_a_rail_that_climbs_keeps_the_boards_off_and_a_sound_one_does_not(self) -> None:
        asked = 0
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            fed = {load.rail for load in board.loads}
            for probe in probes_of(board):
                rail = board.rail_of(probe.rail)
                if rail is None or not probe.live or probe.mode is not MeterMode.DC_VOLTS:
                    continue
                climbs = 1.6 if rail.kind in LOOSE else 1.3
                high = too_high_for_loads(board, probe, value(climbs * rail.volts, "V"))
                ticks = too_high_for_loads(
                    board, probe, ticking(0.0, climbs * rail.volts, "V", 1.0)
                )
                self.assertEqual(bool(high), probe.observable.partition(".")[0] in fed)
                self.assertEqual(bool(ticks), bool(high))
                for share in (0.0, 0.5, 1.0, 1.1):
                    self.assertEqual(
                        too_high_for_loads(board, probe, value(share * rail.volts, "V")), ""
                    )
                asked += bool(high)
        self.assertGreater(asked, 25)

    def test_cables_are_refused_and_a_bare_board_is_not(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            for state in live_states(board):
                facts = SafetyFacts(UNPLUGGED, 0.0, True, high_rail="15 V stood on the 9 V rail.")
                keys = {refusal.code for refusal in state_refusals(board, state, facts)}
                self.assertEqual("high_rail" in keys, state.main_cable, (board_id, state.key))
