"""A board without which its rail is right speaks for itself the more, the less it usually takes."""

import math
import unittest

import numpy as np
from hypothesis import given, settings, strategies as st

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.load_pairs import agreement_of_load_pairs, load_share
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.observation import value
from tests.app.job_file.log.test_told_pairs import PLASMA, case_of


def plasma() -> PredictionTable:
    return case_of(PLASMA).engine.table


class LoadPairs(unittest.TestCase):
    def setUp(self) -> None:
        self.table = plasma()

    def pair(self, rail: str, part: str, with_it: float, without: float) -> list[Evidence]:
        keys = (f"live.{rail}_pin@on/cable/direct", f"live.{rail}_pin@on/cable/direct/no-{part}")
        volts = the_volts(self.table, rail)
        return [
            Evidence(number, key, value(share * volts, "V"))
            for number, (key, share) in enumerate(zip(keys, (with_it, without), strict=True), 1)
        ]

    def test_shares_of_a_supply(self) -> None:
        board = self.table.board
        shares = {part: load_share(board, part) for part in ("MB", "YB", "ZB", "AB")}
        self.assertAlmostEqual(sum(shares.values()), 1.0)
        # 190 V x 0.45 A, 60 V x 0.5 A
        self.assertAlmostEqual(shares["YB"] / shares["AB"], 85.5 / 30.0)

    @settings(max_examples=25, deadline=None)
    @given(st.floats(0.1, 0.14) | st.floats(0.16, 0.7), st.floats(0.99, 1.01))
    def test_a_small_load_is_hardly_what_a_weak_supply_fell_over(
        self, low: float, right: float
    ) -> None:
        added = agreement_of_load_pairs(self.table, self.pair("address", "AB", low, right))
        for row, change in zip(self.table.rows, added, strict=True):
            own = not row.faults or row.share < 1.0 or any(f.ref == "AB" for f in row.faults)
            if own:
                self.assertEqual(change, 0.0, row.key)
            else:
                times = 30.0 / 217.5 / 0.3
                dead = (
                    low < 0.15
                )  # of a sound board's volts; it does not sag with that board, it is gone
                wanted = math.log(min(times, 0.15) if dead else times)
                self.assertAlmostEqual(change, wanted, delta=0.01)

    def test_no_pair_says_nothing(self) -> None:
        for rail, part, with_it, without in (
            ("address", "AB", 0.4, 0.4),  # no better without
            ("address", "AB", 1.0, 1.0),  # never wrong
            ("address", "AB", 1.3, 1.0),  # too high: no load does that
            ("sustain", "YB", 0.4, 1.0),  # a big load: a weak supply may fall just over it
        ):
            evidence = self.pair(rail, part, with_it, without)
            for told in (evidence, evidence[:1], evidence[1:]):
                self.assertFalse(np.any(agreement_of_load_pairs(self.table, told)), (rail, with_it))


def the_volts(table: PredictionTable, rail: str) -> float:
    return next(one.volts for one in table.board.rails if one.id == rail)
