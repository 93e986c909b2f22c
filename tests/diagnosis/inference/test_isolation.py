"""No side of the cable is sure before something isolates it."""

import unittest

import numpy as np
from hypothesis import given, settings, strategies as st
from numpy.typing import NDArray

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.soft_evidence import disconnected_clue
from loose_rail.diagnosis.evidence.symptoms import Symptom
from loose_rail.diagnosis.inference.isolation import MOST_UNISOLATED, _isolates
from loose_rail.diagnosis.inference.posterior import posterior
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.kernel.entry import read_entry
from loose_rail.vocabulary.roles import BoardRole
from tests.shared import board, table

CABLE, BARE = "standby/cable/direct", "standby/bare/direct"


def read(*readings: tuple[str, str]) -> list[Evidence]:
    """Typed readings at candidates, numbered from 1."""
    found = []
    for number, (key, text) in enumerate(readings, start=1):
        unit = table().candidates[table().index(key)].probe.unit
        found.append(Evidence(number, key, read_entry(text, unit).observation))
    return found


def power(chances: NDArray[np.float64]) -> float:
    return float(chances[table().on_this_board].sum())


def with_cable() -> list[Candidate]:
    """Live points on the cold side, read while the main board hangs on them."""
    return [c for c in table().candidates if c.probe.live and not _isolates(c)]


class Doubt(unittest.TestCase):
    def test_the_two_sides_and_the_rest_are_every_row_once(self) -> None:
        own = table().on_this_board.astype(int) + table().on_other_boards.astype(int)
        without = [k for k, row in enumerate(table().rows) if not row.part]
        self.assertEqual(sorted(np.flatnonzero(own == 0).tolist()), without)
        self.assertEqual(int(own.max()), 1)

    @settings(max_examples=60, deadline=None)
    @given(st.data())
    def test_readings_under_the_main_board_alone_leave_a_doubt(self, data: st.DataObject) -> None:
        """Whatever rows predict there, and however often it is read."""
        some = data.draw(st.lists(st.sampled_from(with_cable()), min_size=1, max_size=4))
        row = data.draw(st.integers(1, len(table().rows) - 2))
        readings = []
        for candidate in some:
            column = table().index(candidate.key)
            low, high = float(table().low[row, column]), float(table().high[row, column])
            hertz = float(table().hertz[row, column])
            ticks = f"{max(low, 0):.3g}..{max(high, 0.01):.3g}@{hertz:.2g}Hz"
            readings.append((candidate.key, ticks if hertz else f"{max(low, 0):.3g}"))
        chances = posterior(table(), read(*readings), [Symptom("dead_silent")])
        self.assertAlmostEqual(float(chances.sum()), 1.0)
        self.assertTrue((chances >= 0).all())
        self.assertLessEqual(power(chances), MOST_UNISOLATED + 1e-9)

    def test_the_cable_off_a_part_or_an_unplugged_board_isolates(self) -> None:
        ticking = (f"live.5vs@{CABLE}", "0.6..3.9@1.1Hz")
        held = power(posterior(table(), read(ticking), []))
        self.assertLessEqual(held, MOST_UNISOLATED + 1e-9)
        for more in ((f"live.5vs@{BARE}", "0.6..3.9@1.1Hz"), ("C21.esr@unplugged", "1.7")):
            self.assertGreater(power(posterior(table(), read(ticking, more), [])), 0.95, more)
        bare = posterior(table(), read(ticking, (f"live.5vs@{BARE}", "5.0")), [])
        self.assertLess(power(bare), 0.5)

    def test_another_board_keeps_a_doubt_until_the_supply_is_sound_without_it(self) -> None:
        main = board().roles[BoardRole.MAIN_LOAD][0]
        drags = np.array([row.part == main for row in table().rows])
        pulled = (f"live.5vs@{CABLE}", "2.2")
        alone = posterior(table(), read(pulled), [])
        self.assertLessEqual(float(alone[drags].sum()), MOST_UNISOLATED + 1e-9)
        both = posterior(table(), read(pulled, (f"live.5vs@{BARE}", "5.0")), [])
        self.assertGreater(float(both[drags].sum()), float(alone[drags].sum()))
        came = disconnected_clue(table(), main, True)
        helped = posterior(table(), read(pulled), [], [came])
        self.assertGreater(float(helped[drags].sum()), float(alone[drags].sum()))

    def test_the_hot_side_and_dead_parts_are_no_other_boards_doing(self) -> None:
        for candidate in table().candidates:
            if (not candidate.probe.live and candidate.probe.part) or (
                candidate.probe.live and not candidate.state.main_cable
            ):
                self.assertTrue(_isolates(candidate), candidate.key)


if __name__ == "__main__":
    unittest.main()
