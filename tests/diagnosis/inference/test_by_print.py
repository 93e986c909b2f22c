"""A resistor in place is held against what is printed on it: above it has failed, just there it is
good, below the reading tells what it tells without the print."""

import math
import unittest
from dataclasses import replace

import numpy as np

from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.jobs import events as ev
from loose_rail.jobs.observations import observation_of, reading_event
from loose_rail.judgement.judge import Verdict
from loose_rail.kernel.entry import read_entry
from loose_rail.kernel.errors import BadEntryError
from loose_rail.kernel.observation import open_circuit, value
from loose_rail.vocabulary.board_state import UNPLUGGED
from tests.app.job_file.log.test_told_evidence import case_of
from tests.whole_jobs.test_jobs_on_boards import engine

PART = "standby start-up resistor 1"


class ByPrint(unittest.TestCase):
    def test_what_stands_on_a_resistor_decides(self) -> None:
        table = case_of().engine.table
        column = column_of(table, table.index(f"{PART}.ohms@unplugged"))
        bad = np.array([any(f.ref == PART for f in row.faults) for row in table.rows])
        high = (open_circuit("Ω"), value(2e6, "Ω"))
        for seen, guilty in ((high[0], True), (high[1], True), (value(388e3, "Ω"), False)):
            told = replace(seen, printed=390e3)
            likely = column.likelihood(told)
            ratio = likely[bad].min() / likely[~bad].max()
            self.assertTrue(ratio > 30 if guilty else ratio < 0.03, (told.text(), ratio))
            judged = column.judged(told).verdict
            self.assertIs(judged, Verdict.DISAGREES if guilty else Verdict.AGREES)
        below = value(120e3, "Ω")
        np.testing.assert_array_equal(
            column.likelihood(replace(below, printed=390e3)), column.likelihood(below)
        )

    def test_a_listed_value_is_a_print_far_above_it(self) -> None:
        """A snubber of 100 k in place is open at 22 M and OL, whatever is beside it. At twice its
        ohms it may be another make's; on a composed board nobody knows what it has."""
        for board_id, part, ohms, guilty in (
            ("PB-3206-1", "R207", 22e6, True),
            ("PB-3206-1", "R207", math.inf, True),
            ("PB-3206-1", "R207", 2e5, False),
            ("PB-3206-1", "R207", 9e4, False),
        ):
            table = engine(board_id).table
            column = column_of(table, table.index(f"{part}.ohms@unplugged"))
            bad = np.array([any(f.ref == part for f in row.faults) for row in table.rows])
            seen = value(ohms, "Ω") if math.isfinite(ohms) else open_circuit("Ω")
            likely = column.likelihood(seen)
            held = likely[bad].min() > 30 * likely[~bad].max()
            self.assertEqual(held, guilty, (part, ohms))
            self.assertEqual(column.judged(seen).verdict is Verdict.DISAGREES, guilty, ohms)
        table = case_of().engine.table
        column = column_of(table, table.index(f"{PART}.ohms@unplugged"))
        self.assertIsNot(column.judged(value(2e6, "Ω")).verdict, Verdict.DISAGREES)

    def test_the_plan_counts_on_the_bands(self) -> None:
        planner = case_of().engine.planner
        table = planner.table
        number = table.index(f"{PART}.ohms@unplugged")
        names = {row.key: k for k, row in enumerate(table.rows)}
        chances = planner.chances[:, number, :]
        self.assertGreater(chances[names[f"{PART}:open:0"], 0], 0.5)
        self.assertLess(chances[0, 0], 0.02)

    def test_typed_with_its_print_and_kept(self) -> None:
        seen = read_entry("276k of 390k", "Ω").observation
        self.assertEqual((seen.low, seen.printed), (276e3, 390e3))
        self.assertEqual(read_entry("OL of 1M", "Ω").observation.printed, 1e6)
        event = reading_event(f"{PART}.ohms", UNPLUGGED, seen, "typed", "276k of 390k")
        self.assertEqual(observation_of(event), seen)
        with self.assertRaises(BadEntryError):
            read_entry("OL of 0", "Ω")
        with self.assertRaises(BadEntryError):
            read_entry("OL of red", "Ω")

    def test_told_in_a_job_file_it_is_a_reading(self) -> None:
        case = case_of(
            {"state": "unplugged, drained"},
            {"read": "OL", "at": PART, "mode": "ohms", "note": "marked 390k"},
        )
        taken = [r.event for r in case.records if isinstance(r.event, ev.ReadingTaken)]
        self.assertEqual([one.printed for one in taken], [390e3])


if __name__ == "__main__":
    unittest.main()
