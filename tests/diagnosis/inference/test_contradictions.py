"""Two readings across the same two nets that can't both be true are named at once."""

import unittest
from itertools import combinations

from hypothesis import given, settings, strategies as st

from loose_rail.diagnosis.inference.contradictions import contradictions
from loose_rail.diagnosis.planning.assessment import Purpose
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.vocabulary.board_state import UNPLUGGED
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.diagnosis.inference.test_isolation import read
from tests.shared import engine, table

FACTS = SafetyFacts(UNPLUGGED, 1.0, False)


def same_nets() -> list[tuple[str, str]]:
    """Pairs of readings in ohms of two parts across the same two nets."""
    dead = [
        c
        for c in table().candidates
        if c.probe.mode is MeterMode.OHMS and not c.probe.live and not c.probe.lifted
    ]
    return [
        (a.key, b.key)
        for a, b in combinations(dead, 2)
        if {a.probe.plus, a.probe.minus} == {b.probe.plus, b.probe.minus}
    ]


class Contradictions(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.sampled_from(same_nets()), st.floats(0.1, 3.0), st.floats(50.0, 1e6))
    def test_a_short_and_none_at_one_place_are_named_and_asked_again(
        self, pair: tuple[str, str], short: float, clear: float
    ) -> None:
        evidence = read((pair[0], f"{short:.2f}"), (pair[1], f"{clear:.4g}"))
        (found,) = contradictions(table(), evidence)
        self.assertEqual((found.low.number, found.high.number), (1, 2))
        self.assertIn("both can't be", found.words)
        step = engine().assess(evidence, (), FACTS).next_step
        assert step is not None
        self.assertIs(step.purpose, Purpose.CONTRADICTS)
        self.assertIn(step.offer.candidate.key, pair)

    @settings(max_examples=40, deadline=None)
    @given(st.integers(0, len(table().rows) - 2), st.data())
    def test_what_one_board_reads_never_contradicts_itself(
        self, row: int, data: st.DataObject
    ) -> None:
        keys = data.draw(st.lists(st.sampled_from(same_nets()), min_size=1, max_size=6))
        readings = []
        for key in dict.fromkeys(key for pair in keys for key in pair):
            value = float(table().low[row, table().index(key)])
            readings.append((key, "OL" if value == float("inf") else f"{max(value, 0.0):.4g}"))
        self.assertEqual(contradictions(table(), read(*readings)), ())

    def test_read_again_and_the_same_it_is_settled(self) -> None:
        """The last reading at a point counts: once one was a slip, nothing is left to ask."""
        low, high = same_nets()[0]
        slip = read((low, "0.4"), (high, "5k"), (low, "5k"))
        self.assertEqual(contradictions(table(), slip), ())
