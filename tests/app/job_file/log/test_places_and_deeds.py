"""Where people say they measured, what they saw and what came of what they did: 1,000 phrases."""

import unittest
from collections.abc import Callable, Iterator
from pathlib import Path

from benchmarks.heard import KINDS, Heard, deeds, places, rows, sights, states, values

HERE = Path(__file__).parent


class Lists(unittest.TestCase):
    """Every line of every list is heard as it was meant."""

    def test_places_are_booked_where_they_were_taken_and_nowhere_else(self) -> None:
        self._all_heard("places", places, 650)

    def test_states_mean_what_they_say(self) -> None:
        self._all_heard("states", states, 550)

    def test_displays_read_what_they_showed(self) -> None:
        self._all_heard("values", values, 650)

    def test_what_was_done_is_never_turned_round(self) -> None:
        self._all_heard("deeds", deeds, 170)

    def test_sights_are_what_they_show_and_a_sound_part_is_no_finding(self) -> None:
        self._all_heard("sights", sights, 150)

    def _all_heard(self, kind: str, heard: Callable[[Path], Iterator[Heard]], least: int) -> None:
        files = sorted(HERE.glob(f"{kind}*.txt"))
        self.assertGreater(sum(len(rows(file)) for file in files), least)
        self.assertIs(KINDS[kind][1], heard)
        for file in files:
            for mark in heard(file):
                with self.subTest(list=file.name, words=mark.words):
                    self.assertTrue(mark.right, mark.found)


if __name__ == "__main__":
    unittest.main()
