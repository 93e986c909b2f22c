"""What it costs not to know a board, and the order in which a sound one is read."""

import unittest
from dataclasses import replace

import msgspec
import numpy as np

from loose_rail.boards.own.file import SCHEMA, OwnBoardFile, board_of_file
from loose_rail.bootstrap import engine_for
from loose_rail.diagnosis.certainty import MOST_TO_LEARN, known_of, points_of, tells, to_learn
from loose_rail.diagnosis.model.table import PredictionTable
from tests.shared import table as demo_table

OWN = OwnBoardFile(
    SCHEMA, "QX-1", kind="standby flyback, main flyback", connectors=["CN8: 12V, 5VSB, GND, PS-ON"]
)


class Certainty(unittest.TestCase):
    def tables(self) -> list[PredictionTable]:
        return [demo_table(), engine_for(board_of_file(OWN)).table]

    def test_what_is_known_better_never_tells_less_of_a_sound_board(self) -> None:
        for table in self.tables():
            points = points_of(table)
            norms = {table.candidates[k].key: [float(table.low[0, k])] for k in to_learn(table)}
            taught = replace(table, board=msgspec.structs.replace(table.board, norms=norms))
            now, then = tells(table, points), tells(taught, points)
            self.assertTrue(((now >= 0.0) & (now <= 1.0)).all())
            self.assertTrue((now[0] == 0.0).all())  # the sound row is told from itself by nothing
            rates = np.exp(table.log_prior)
            self.assertGreaterEqual(float(rates @ (then - now).sum(axis=1)), 0.0)

    def test_of_a_shipped_board_little_is_missing_and_of_an_own_one_more(self) -> None:
        shipped, own = (known_of(table) for table in self.tables())
        self.assertGreater(shipped.certainty, 0.9)
        self.assertLess(len(shipped.unseen), len(own.unseen))
        for one in own.unseen:
            self.assertGreater(max(one.typed, one.learned), one.now)
            self.assertIn(one.part, one.words)

    def test_the_points_of_a_sound_board_come_in_the_order_of_work_and_only_where_a_meter_may_go(
        self,
    ) -> None:
        for table in self.tables():
            chosen = [table.candidates[k] for k in to_learn(table)]
            self.assertTrue(8 <= len(chosen) <= MOST_TO_LEARN)
            self.assertTrue(all(one.probe.meter and not one.probe.lifted for one in chosen))
            plugged = [one.state.plugged for one in chosen]
            self.assertEqual(plugged, sorted(plugged))
            self.assertTrue(all(not one.state.lamp_watts for one in chosen))
            done = {one.key: [1.0] for one in chosen[:3]}
            known = replace(table, board=msgspec.structs.replace(table.board, norms=done))
            left = {table.candidates[k].key for k in to_learn(known)}
            self.assertFalse(left & set(done))


if __name__ == "__main__":
    unittest.main()
