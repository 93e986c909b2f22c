"""A wrong part replaced, the plan of the proof followed with what the board really reads: never
called repaired; the right one always. A share of `benchmarks.repairs`, which does them all."""

import unittest
from pathlib import Path

import platformdirs
from benchmarks.repairs import another_part, noticed_rows, repaired

from loose_rail.boards.load import shipped_board
from loose_rail.diagnosis.model.cache import table_for
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.diagnosis.proof.standing import ProofStatus

EVERY = 8


class WrongRepairs(unittest.TestCase):
    def test_a_wrong_repair_is_never_called_repaired_and_a_right_one_always(self) -> None:
        passed, wrong, readings = [], 0, []
        for board_id in ("PB-2211-1", "PB-2408-1"):
            board = shipped_board(board_id)
            engine = Engine(table_for(board, Path(platformdirs.user_cache_path("loose-rail"))))
            for row in noticed_rows(engine.table)[::EVERY]:
                part = another_part(engine.table, row, 1)
                found = repaired(engine, row, part, 1)
                wrong += 1
                if found.handed_back_as_repaired:
                    passed.append(f"{engine.table.rows[row].key} with {part} replaced")
                else:
                    self.assertIsNot(found.status, ProofStatus.SHOWN)
                right = repaired(engine, 0, engine.table.rows[row].faults[0].ref, 1)
                self.assertTrue(right.handed_back_as_repaired, right.failure)
                readings.append(right.readings)
        self.assertGreater(wrong, 15)
        self.assertEqual(passed, [])
        self.assertLessEqual(max(readings), 18)  # and the plan has an end


if __name__ == "__main__":
    unittest.main()
