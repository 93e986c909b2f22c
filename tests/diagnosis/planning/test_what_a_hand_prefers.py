"""How a hand weighs points that tell the same: the suspect itself, its section, what is easily
reached; and that none of it hides what tells more."""

import unittest
from functools import cache

import numpy as np
from hypothesis import given, settings, strategies as st
from numpy.typing import NDArray

from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.diagnosis.planning.planner import AT_SUSPECT, IN_SECTION, SMALL_PART, Planner
from tests.shared import table

ROWS = table().rows
Floats = NDArray[np.float64]
SECTIONS = sorted({table().board.component(row.part).section for row in ROWS if row.part})


@cache
def planner() -> Planner:
    return Engine(table()).planner


def section_of(number: int) -> str:
    probe = table().candidates[number].probe
    rail = table().board.rail_of(probe.rail) if probe.live else None
    return rail.section if rail else table().board.component(probe.part or probe.stop).section


class Preferred(unittest.TestCase):
    def within(self, section: str) -> Floats:
        """Probabilities that lie in one section alone, as they were before any reading."""
        own = [bool(r.part) and table().board.component(r.part).section == section for r in ROWS]
        found = np.where(own, [row.prior for row in ROWS], 0.0)
        return np.asarray(found / found.sum())

    def test_the_section_that_surely_holds_it_comes_first(self) -> None:
        for section in SECTIONS:
            weight = planner()._preferred(self.within(section))
            own = [section_of(k) == section for k in range(len(table().candidates))]
            if not any(own):
                continue  # nothing is read there
            self.assertGreater(weight[own].min(), SMALL_PART * (1.0 + IN_SECTION) - 1e-9, section)
            elsewhere = weight[~np.array(own)]
            self.assertLess(elsewhere.max(), 1.0 + AT_SUSPECT + 1e-9, section)

    @given(st.lists(st.floats(0.0, 1.0), min_size=len(SECTIONS), max_size=len(SECTIONS)))
    @settings(deadline=None, max_examples=40)
    def test_more_in_a_section_is_never_less_worth_there(self, shares: list[float]) -> None:
        if sum(shares) <= 0.0:
            return
        parts = np.array([self.within(one) for one in SECTIONS])
        before = np.asarray(np.array(shares) @ parts / sum(shares))
        now = planner()
        some = now._preferred(before)
        for section in SECTIONS[:3]:
            more = now._preferred(0.5 * before + 0.5 * self.within(section))
            live = [
                k
                for k, one in enumerate(table().candidates)
                if one.probe.live and section_of(k) == section
            ]
            self.assertTrue((more[live] >= some[live] - 1e-9).all(), section)

    def test_it_never_outweighs_what_tells_several_times_as_much(self) -> None:
        every = [self.within(section) for section in SECTIONS]
        for probabilities in every:
            weight = planner()._preferred(probabilities)
            self.assertLess(weight.max() / weight.min(), 2.5)
            self.assertGreater(weight.min(), 0.0)


if __name__ == "__main__":
    unittest.main()
