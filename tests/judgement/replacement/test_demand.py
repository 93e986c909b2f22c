"""What a place asks, against numbers worked out by hand from the board's own volts."""

import math
import unittest

from hypothesis import given, settings, strategies as st

from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.judgement.replacement.demand import (
    load_amps,
    mains_peak,
    place_of,
    reverse_volts,
)
from loose_rail.judgement.replacement.offer import Offer, read_offer
from loose_rail.kernel.errors import BadEntryError
from tests.shared import the

DEMO, LARGE, SMALL = "PB-4310-2", "PB-4270-1", "PB-2408-1"


class ByHand(unittest.TestCase):
    def asked(self, board_id: str, ref: str, name: str) -> float:
        return place_of(shipped_board(board_id), ref).demands[name].low

    def test_volts_of_rectifiers(self) -> None:
        board = shipped_board(DEMO)  # 120 V: bulk at most 187 V
        bulk = math.sqrt(2) * 120 * 1.1
        self.assertAlmostEqual(mains_peak(board), bulk, delta=0.1)
        main = the(board.stage("main"))
        wanted = 12 * 1.05 + bulk * (12 * 1.05 + 0.6) / 100  # out, and the bulk by the turns
        self.assertAlmostEqual(reverse_volts(board, main), wanted, delta=0.1)
        self.assertAlmostEqual(self.asked(DEMO, "D14", "volts"), wanted / 0.8, delta=0.2)
        self.assertAlmostEqual(self.asked(DEMO, "D14", "amps"), 2 * 0.8, delta=0.01)
        resonant = the(shipped_board(LARGE).stage("main"))
        out = reverse_volts(shipped_board(LARGE), resonant)
        self.assertAlmostEqual(out, 2 * resonant.volts * 1.05 + 0.6, delta=0.1)

    def test_volts_of_switches_and_bridge(self) -> None:
        self.assertAlmostEqual(self.asked(SMALL, "Q201", "volts"), 357.8 + 130 + 80, delta=0.2)
        self.assertAlmostEqual(self.asked(LARGE, "Q101", "volts"), 390 / 0.8, delta=0.1)
        self.assertAlmostEqual(self.asked(SMALL, "BD101", "volts"), 1.5 * 357.8, delta=0.2)

    def test_watts_of_what_stands_across_the_bulk(self) -> None:
        bulk = 357.8
        self.assertAlmostEqual(self.asked(SMALL, "R102", "watts"), 2 * bulk**2 / 470e3, delta=0.001)
        self.assertAlmostEqual(self.asked(SMALL, "R102", "body_volts"), bulk, delta=0.1)
        half = place_of(shipped_board(DEMO), "R8").demands["body_volts"].low
        self.assertAlmostEqual(half, math.sqrt(2) * 120 * 1.1 / 2, delta=0.1)  # two in series

    def test_every_demand_is_a_number_with_its_reason(self) -> None:
        for board_id in shipped_ids():
            board = shipped_board(board_id)
            for part in board.components:
                for name, demand in place_of(board, part.ref).demands.items():
                    self.assertGreater(demand.low, 0, f"{board_id} {part.ref} {name}")
                    self.assertTrue(math.isfinite(demand.low) and demand.high > demand.low)
                    self.assertTrue(demand.why, f"{board_id} {part.ref} {name}")
            for stage in board.stages:
                self.assertGreaterEqual(load_amps(board, stage), 0.0)


class Offers(unittest.TestCase):
    def test_words_and_numbers(self) -> None:
        found = read_offer("1000u 16V 105C low-esr 10x20 p5", "F")
        self.assertEqual(
            found.values,
            {
                **{"farads": 1e-3, "volts": 16.0, "celsius": 105.0, "series": "low-esr"},
                **{"diameter": 10.0, "height": 20.0, "pitch": 5.0},
            },
        )
        fuse = read_offer("T3.15AH250V", "A")
        self.assertEqual((fuse.number("amps"), fuse.word("characteristic")), (3.15, "T"))
        self.assertEqual((fuse.word("breaking"), fuse.number("volts")), ("H", 250.0))
        coupler = read_offer("iso=5000 ctr=130-260% x", "")
        self.assertEqual((coupler.number("ctr_low"), coupler.number("ctr_high")), (130.0, 260.0))
        self.assertEqual(coupler.left, ("x",))
        self.assertEqual(read_offer("100nK 275VAC X2", "F").number("tolerance"), 10.0)
        self.assertEqual(read_offer("0R22 5%", "Ω").number("ohms"), 0.22)
        for text in ("", "   ", "1 " * 60):
            with self.assertRaises(BadEntryError):
                read_offer(text, "F")

    @settings(max_examples=150)
    @given(st.text(max_size=60), st.sampled_from(["F", "Ω", "H", "A", "V", ""]))
    def test_anything_is_read_or_left(self, text: str, unit: str) -> None:
        try:
            found = read_offer(text, unit)
        except BadEntryError:
            return
        self.assertIsInstance(found, Offer)
        self.assertLessEqual(len(found.left), len(text.split()))


if __name__ == "__main__":
    unittest.main()
