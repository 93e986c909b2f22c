"""Long strides against fine steps alone: the same means, rates, lamp and fuse in fewer steps."""

import random
import unittest
from unittest import mock

import numpy as np

from loose_rail.boards.faults import faults_of
from loose_rail.boards.load import shipped_board
from loose_rail.boards.powered_board import plant_of
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.powered.record import LiveRecord, run
from loose_rail.powered.simulate import Simulation
from loose_rail.vocabulary.keys import is_ripple
from tests.material import some, some_boards
from tests.shared import in_fine_steps

OF_BOARD = some(6, 12)
"""Faults of each board, drawn by a fixed seed."""
SHARE, LEAST_VOLTS, RIPPLE_VOLTS = 0.02, 0.05, 0.02
"""How near the mean over a whole run must lie, of its own highest."""
HUNTS = ("PB-5012-3", "Q301:short:0", "forced/bare/lamp60")
"""A shorted half-bridge switch behind a lamp, its start forced: after seconds its feed hunts at
the level where it lets go, which has no hysteresis in the model. A stride enters that a cycle
earlier than fine steps do, and from there the runs part."""


class Strides(unittest.TestCase):
    def test_every_point_and_rate_is_that_of_fine_steps(self) -> None:
        draw = random.Random(20261129)
        for board_id in some_boards():
            board = shipped_board(board_id)
            faults = [fault for part in board.components for fault in faults_of(part)]
            for fault in draw.sample(faults, OF_BOARD):
                state = draw.choice(live_states(board))
                if (board_id, fault.key, state.key) == HUNTS:
                    continue
                plant = plant_of(board, [fault], state)
                with self.subTest(board=board_id, fault=fault.key, state=state.key):
                    self.agree(run(plant), in_fine_steps(plant))

    def agree(self, long: LiveRecord, fine: LiveRecord) -> None:
        for name, windows in fine.windows.items():
            most = float(fine.peaks[name][0])
            least = RIPPLE_VOLTS if is_ripple(name) else LEAST_VOLTS
            near = max(SHARE * most, least)
            with self.subTest(point=name):
                self.assertLess(abs(windows.mean() - long.windows[name].mean()), near)
        for name, hertz in fine.hertz.items():
            self.assertAlmostEqual(hertz[0], long.hertz[name][0], delta=0.02 * hertz[0], msg=name)
        self.assertEqual(fine.fuse_whole[0], long.fuse_whole[0])
        self.assertAlmostEqual(fine.lamp_glow[0], long.lamp_glow[0], delta=0.03)
        self.assertAlmostEqual(fine.flash_seconds[0], long.flash_seconds[0], delta=0.02)

    def test_a_sound_board_takes_a_third_of_the_steps(self) -> None:
        step = Simulation.step
        for board_id in some_boards():
            board = shipped_board(board_id)
            plant = plant_of(board, (), live_states(board)[-1])
            with mock.patch.object(Simulation, "step", autospec=True, side_effect=step) as counted:
                run(plant, 3.0)
            self.assertTrue(200 < counted.call_count < 1000, (board_id, counted.call_count))


class Late(unittest.TestCase):
    def test_a_start_resistor_far_too_high_comes_late_by_its_own_law(self) -> None:
        """The controller's reservoir charges through the chain, R·C·ln(V/(V − V_on)): with more
        ohms it is later in proportion (RC charge, textbook)."""
        board = shipped_board("PB-3705-6")
        state = live_states(board)[0]
        sound = run(plant_of(board, (), state)).late_seconds["standby.out"][0]
        found = [f for f in faults_of(board.component("R201")) if f.mode == "drifted"]
        self.assertTrue(found)
        for fault in found:
            late = run(plant_of(board, [fault], state)).late_seconds["standby.out"][0]
            whole = 1.0 + 0.5 * (fault.value_scale - 1.0)  # of two equal resistors
            self.assertTrue(0.75 * whole < late / sound < 1.25 * whole, (late, sound, whole))

    def test_what_never_stands_is_not_late_and_a_step_is_where_it_is(self) -> None:
        board = shipped_board("PB-3705-6")
        dead = next(f for f in faults_of(board.component("F101")) if f.mode == "open")
        record = run(plant_of(board, [dead], live_states(board)[0]), trace_every=5)
        np.testing.assert_array_equal(record.late_seconds["standby.out"], 0.0)
        good = run(plant_of(board, (), live_states(board)[0]), trace_every=5)
        volts = good.traces["standby.out"][:, 0]
        middle = good.trace_seconds[np.argmax(volts > 0.5 * volts[-1])]
        self.assertAlmostEqual(good.late_seconds["standby.out"][0], middle, delta=0.08)


if __name__ == "__main__":
    unittest.main()
