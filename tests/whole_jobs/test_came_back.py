"""A set that came back and a second fault parked, through the window: each a job of its own with
the record of the one before; what is decided is counted against the level of proof."""

import tempfile
import unittest
from pathlib import Path

from PyQt6.QtCore import Qt

from loose_rail.app.comebacks import returned_by
from loose_rail.app.following_job import FOLLOWS, Why, follow
from loose_rail.bootstrap import Workplace
from loose_rail.jobs import events as ev
from loose_rail.kernel.errors import JobError
from loose_rail.screens.job.view import JobView
from loose_rail.screens.main_window import MainWindow
from tests.fakes.clock import FakeClock
from tests.screens.helper import (
    close_window,
    focus,
    measured_empty,
    open_window,
    press,
    prove,
    rework_all,
    settle,
    write,
)
from tests.shared import final_lines, the


class CameBack(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.window: MainWindow = open_window(Path(folder.name) / "shop.sqlite")
        self.addCleanup(close_window, self.window)

    @property
    def shop(self) -> Workplace:
        shop = self.window.workplace
        assert isinstance(shop, Workplace)
        return shop

    def opened(self) -> JobView:
        job = the(self.window.job)
        settle(lambda: job.presenter.session.review is not None, 90)
        return job

    def hand_back(self, job: JobView, *lines: str) -> str:
        """Repair, prove and hand back by keyboard; the level of proof."""
        session = job.presenter.session
        measured_empty(job)
        session.record(ev.VerdictAccepted("C21", "C21 dried out", 0.9, "confirmed", [], ""))
        job.go("rework")
        job.focus_work()
        rework_all(job)
        prove(job)
        press(Qt.Key.Key_U)
        job.go("hand_back")
        job.focus_work()
        for line in (*lines, *final_lines(session)):
            write(line)
        press(Qt.Key.Key_Return)
        return the(session.state.handed_back).level_of_proof

    def test_a_come_back_and_a_second_fault_each_with_the_record_of_the_set(self) -> None:
        self.window.open_job(1)
        first = self.opened()
        set_name = first.presenter.session.state.set_name
        before = len(self.shop.store.jobs())
        level = self.hand_back(first, "second no sound on the left")
        parked = the(max(self.shop.store.jobs(), key=lambda one: one.job))
        self.assertEqual(len(self.shop.store.jobs()), before + 1)
        self.assertEqual((parked.complaint, parked.set_name), ("no sound on the left", set_name))
        self.assertEqual((parked.follows, parked.came_back), (1, False))
        self.window.show_shelf()
        rows = self.window.shelf.rows
        at = [row.job for row in rows._rows].index(1)
        while rows._current != at:
            press(Qt.Key.Key_Down)
        press(Qt.Key.Key_R)
        write("   ")
        self.assertIn("What does it do", self.window.shelf._summary.text())
        rows.setFocus()
        press(Qt.Key.Key_R)
        self.assertIs(focus(), self.window.shelf.again_line)
        write("It ticks again since yesterday")
        again = self.opened()
        session = again.presenter.session
        self.assertEqual(session.state.detail(FOLLOWS), "1")
        told = " ".join(words for _, words in again.presenter.take_in().notes)
        self.assertIn("C21 replaced", told)
        self.assertIn(level, told)
        self.assertIn("ticks", {one.symptom for one in session.state.symptoms})
        self.assertEqual(returned_by(self.shop.store.jobs(), level).same, 0)
        again.go("hand_back")
        again.focus_work()
        write("came_back perhaps")
        self.assertIn("same or other", again.notice.text())
        again.page_of(type(again.current)).line.clear()  # type: ignore[attr-defined]
        self.hand_back(again, "came_back same")
        counted = returned_by(self.shop.store.jobs(), level)
        self.assertEqual(counted.same, 1)
        self.assertGreaterEqual(counted.handed, 2)
        self.assertIn("too few to tell", counted.words)
        self.assertIn("came back with the same fault", again.presenter.hand_back().came_back)

    def test_a_job_that_is_still_open_has_not_come_back(self) -> None:
        still_open = next(one.job for one in self.shop.store.jobs() if one.proved is None)
        with self.assertRaisesRegex(JobError, "has not been handed back"):
            follow(self.shop.store, FakeClock(), still_open, Why.CAME_BACK, "it ticks")


if __name__ == "__main__":
    unittest.main()
