"""Labels that are wrong: told from the readings of one job and from those of sound boards."""

import tempfile
import unittest
from pathlib import Path

from loose_rail.app.board_desk import BoardDesk
from loose_rail.app.wrong_label import words_for_job
from loose_rail.bootstrap import engine_for
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import fold
from loose_rail.jobs.observations import reading_event
from loose_rail.jobs.state import JobState
from loose_rail.kernel.observation import value
from loose_rail.storage.board_book import BoardBook
from loose_rail.vocabulary.board_state import state_of
from tests.fakes.clock import FakeClock
from tests.shared import OWN_BOARD


class WrongLabel(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.book = BoardBook(Path(folder.name))
        self.book.keep_own(OWN_BOARD)

    def job(self, *readings: tuple[str, str, float]) -> JobState:
        opened = ev.JobOpened("0001", "Made-up 32", "QX-1", "Dead.", 0.0, "")
        events: list[ev.AnyEvent] = [
            opened,
            *(
                reading_event(point, state_of(s), value(v, "V"), "typed", "")
                for point, s, v in readings
            ),
        ]
        return fold([ev.Record(k, "2026-11-02", "b", e) for k, e in enumerate(events, start=1)])

    def test_a_standby_that_stands_elsewhere_with_the_cable_on_and_off(self) -> None:
        table = engine_for(self.book.board("QX-1")).table
        on, off = "standby/cable/direct", "standby/bare/direct"
        for volts, other, told in ((12.05, 12.1, True), (5.02, 5.1, False), (8.0, 8.0, False)):
            job = self.job(("live.standby_pin", on, volts), ("live.standby_pin", off, other))
            said = words_for_job(table, job)
            self.assertEqual("5V stands at 12." in said, told, volts)
        one_way = self.job(("live.standby_pin", on, 12.0))
        self.assertEqual(words_for_job(table, one_way), "")

    def test_sound_boards_say_so_in_the_book_and_the_proposed_line_mends_it(self) -> None:
        desk = BoardDesk(self.book, "QX-1", FakeClock())
        key = "live.main_pin@on/cable/direct"
        for volts, told in ((12.75, True), (12.85, True), (14.5, False)):
            self.book.learn("QX-1", {key: volts})
            asked = " ".join(desk.state().ask)
            self.assertEqual("12V stands at 12.8" in asked, told, asked)
        self.book.forget("QX-1")
        self.book.learn("QX-1", {key: 12.8})
        self.assertTrue(desk.enter("12V stands at 12.8").taken)
        self.assertNotIn("stands at", " ".join(desk.state().ask))


if __name__ == "__main__":
    unittest.main()
