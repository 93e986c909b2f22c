"""The mains a board is on: typed, chosen for the shop, or of one job; what follows from it."""

import math
import unittest

import msgspec
from hypothesis import given, strategies as st

from loose_rail.app.settings import MAINS
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.mains import mains_in, on_mains, takes
from loose_rail.boards.powered_board import plant_of
from loose_rail.boards.reservoirs import bulk_of
from loose_rail.powered.record import run
from loose_rail.vocabulary.board_state import state_of

BARE = state_of("standby/bare/direct")


class Typed(unittest.TestCase):
    def test_what_people_type(self) -> None:
        for text, volts, hertz in (
            ("120", 120, 60),
            ("230 V", 230, 50),
            ("100/50", 100, 50),
            ("220V 60Hz", 220, 60),
            ("240 / 50 Hz", 240, 50),
        ):
            found = mains_in(text)
            assert found is not None, text
            self.assertEqual((found.volts, found.hertz), (volts, hertz), text)
        for value, _ in MAINS[1:]:
            self.assertIsNotNone(mains_in(str(value)), value)

    @given(st.text(max_size=12))
    def test_anything_else_is_none_or_a_real_mains(self, text: str) -> None:
        found = mains_in(text)
        if found is not None:
            self.assertTrue(85 <= found.volts <= 270 and found.hertz in (50, 60))


class Follows(unittest.TestCase):
    def test_bulk_lamp_and_energy_follow(self) -> None:
        """At rest the bulk stands at the peak less two diodes; the lamp is one for this mains."""
        for board_id in shipped_ids():
            for text in ("100/50", "120", "230", "240/50"):
                mains = mains_in(text)
                assert mains is not None
                board = shipped_board(board_id)
                moved = on_mains(board, mains)
                if board.adapter_fed or not takes(board, mains):
                    self.assertIs(moved, board)
                    continue
                plant = plant_of(moved, (), BARE)
                self.assertEqual(plant.input.lamp_volts, mains.volts)
                bulk = float(run(plant, 4.0).windows["bulk"][-1, 0])
                peak = math.sqrt(2.0) * mains.volts
                self.assertTrue(0.95 * peak < bulk < peak, (board_id, text, bulk))
                self.assertGreaterEqual(bulk_of(moved).most_volts, peak)

    def test_a_bulk_that_is_not_made_for_it_keeps_its_own_mains(self) -> None:
        board = shipped_board("PB-4310-2")
        bulk = board.component("C3")
        small = msgspec.structs.replace(bulk, params={**bulk.params, "volts": "200"})
        parts = [small if part.ref == "C3" else part for part in board.components]
        old = msgspec.structs.replace(board, components=parts)
        mains = mains_in("230")
        assert mains is not None
        self.assertFalse(takes(old, mains))
        self.assertIs(on_mains(old, mains), old)
        self.assertEqual(on_mains(board, mains).mains.volts, 230)


if __name__ == "__main__":
    unittest.main()
