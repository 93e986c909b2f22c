"""Jobs on other boards than the demo's, through the real window by keyboard: shelf to hand-back.

No simulated bench here: the shop is the user's own, readings are typed.
"""

import tempfile
import unittest
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractButton, QApplication, QLabel

from loose_rail.bootstrap import Workplace, engine_for
from loose_rail.jobs import events as ev
from loose_rail.screens.job.view import JobView
from loose_rail.screens.main_window import MainWindow
from loose_rail.screens.rework.view import ReworkView
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.verdict.view import VerdictView
from loose_rail.shop import Options
from loose_rail.storage.store import SqliteStore
from tests.material import WHOLE
from tests.screens.helper import application, close_window, follow_card, press, settle, write
from tests.shared import the
from tests.whole_jobs.typed import shown

JOBS = (
    ("0601", "PB-2211-1", "Sedge 22D", "The picture is black, the light is on.", "Q401:short:0"),
    ("0602", "PB-2408-1", "Wickfield 24L", "Dead since last night.", "Q201:short:0"),
    ("0603", "PB-1905-2", "Sedge 19M", "Dead, a bang was heard.", "F101:open:0"),
)
TOPOLOGIES = (
    ("0611", "PB-1905-2", "Sedge 19M", "It ticks.", "D203:short:0"),
    ("0612", "PB-2211-1", "Sedge 22D", "Dead.", "U301:dead:0"),
    ("0613", "PB-2408-1", "Wickfield 24L", "Dead.", "R201:open:0"),
    ("0614", "PB-3206-1", "Alder 32", "Starts late and goes off.", "C303:dried:1"),
    ("0615", "PB-3920-4", "Tarn 39H", "Sound, no picture.", "LS701:open:0"),
    ("0616", "PB-4270-1", "Oakum 42P", "Starts, then goes off.", "YB:drags:0"),
    ("0617", "PB-5012-3", "Harrow 50E", "Dead after a bang.", "Q301:short:0"),
    ("0618", "PB-6530-2", "Moor 65", "Does not come on.", "MB:drags:0"),
)


def shop(path: Path, jobs: tuple[tuple[str, ...], ...] = JOBS) -> None:
    """A job for each line."""
    store = SqliteStore(path)
    for number, (ticket, board, title, words, _) in enumerate(jobs, start=1):
        events = (
            ev.JobOpened(ticket, title, board, words, 30.0, "EUR"),
            ev.SymptomNoted("no_light", words),
            ev.StageEntered("cold_checks"),
        )
        records = [
            ev.Record(place, f"2026-11-04T08:0{number}:0{place}", "bench 1", event)  # type: ignore[arg-type]
            for place, event in enumerate(events, start=1)
        ]
        store.append(number, records)
    store.close()


class OwnShop(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "shop.sqlite"
        shop(self.path)
        self.window = self.open()

    def open(self) -> MainWindow:
        application()
        window = MainWindow(Dispatcher(True))
        window.show()
        window.set_workplace(Workplace(Options(False, self.path)), engine_for)
        window.activateWindow()
        settle(window.isActiveWindow)
        self.addCleanup(close_window, window)
        return window

    def job(self, number: int) -> JobView:
        """Open the job with Down and Enter on the shelf."""
        press(Qt.Key.Key_F2) if self.window.job is not None else None
        self.window.shelf.rows.setFocus()
        ticket = JOBS[number][0]
        for _ in JOBS:
            press(Qt.Key.Key_Up)
        for _ in JOBS:
            press(Qt.Key.Key_Return)
            assert self.window.job is not None
            if self.window.job.presenter.frame().ticket == ticket:
                return self.window.job
            press(Qt.Key.Key_F2)
            self.window.shelf.rows.setFocus()
            press(Qt.Key.Key_Down)
        raise AssertionError(f"{ticket} is not on the shelf")

    def test_one_job_of_every_topology_ends_at_the_right_verdict(self) -> None:
        """Keyboard only, readings as a meter would show them: part, lamps, drive or main board."""
        path = self.path.with_name("topologies.sqlite")
        shop(path, TOPOLOGIES)
        self.path = path
        self.window = self.open()
        for number, (_, board, _, _, key) in enumerate(TOPOLOGIES, start=1):
            with self.subTest(board):
                self.window.open_job(number)
                job = self.window.job
                assert job is not None
                job.focus_work()
                readings = follow_card(job, partial(shown, job, key))
                press(Qt.Key.Key_Return)
                self.assertEqual(job.presenter.stage, "verdict")
                session = job.presenter.session
                finding = session.reviewed.finding
                self.assertIsNotNone(finding, board)
                bad = {the(finding).part, *the(finding).twins}
                self.assertIn(key.split(":")[0], bad, f"{board}: {readings} readings")
                self.assertIn(
                    the(finding).suspects[0].title.split()[0],
                    job.page_of(VerdictView)._headline.text(),
                )
                self.assertTrue(job.page_of(VerdictView)._ways._ways)

    def test_three_boards_from_shelf_to_hand_back(self) -> None:
        for number, (_, board, _, _, key) in enumerate(JOBS):
            with self.subTest(board):
                job = self.job(number)
                readings = follow_card(job, partial(shown, job, key))
                self.assertLessEqual(readings, 18)
                press(Qt.Key.Key_Return)
                self.assertEqual(job.presenter.stage, "verdict")
                part = key.split(":")[0]
                self.assertIn(part, job.presenter.verdict().headline)
                press(Qt.Key.Key_Return)
                self.assertEqual(job.presenter.stage, "parts")
                press(Qt.Key.Key_Return)
                self.assertEqual(job.presenter.stage, "rework")
                self.rework(job)
                self.assertEqual(job.presenter.session.state.fitted, (part,))
                self.assertEqual(job.presenter.stage, "power_up")
                self.assertTrue(job.presenter.power_up().title)
                press(Qt.Key.Key_0, Qt.KeyboardModifier.ControlModifier)
                self.assertEqual(job.presenter.stage, "hand_back")
                self.assertIn(part, job.presenter.hand_back().html)

    def rework(self, job: JobView) -> None:
        for _ in range(14):
            if job.presenter.stage != "rework":
                return
            state = job.presenter.session.state
            if state.board_state.plugged:
                press(Qt.Key.Key_U)
            if job.presenter.rework().asks_bulk and job.page_of(ReworkView).bulk.isVisibleTo(
                self.window
            ):
                job.page_of(ReworkView).bulk.setFocus()
                write("0.5")
            press(Qt.Key.Key_Return)

    def test_each_job_opens_where_it_was_after_the_window_was_closed(self) -> None:
        places, tracks = ("verdict", "parts", "take_in"), []
        for number, stage in enumerate(places):
            job = self.job(number)
            job.go(stage)
            tracks.append([dot.status for dot in job.presenter.frame().stages])
        self.window.close()
        self.window = self.open()
        for number, stage in enumerate(places):
            job = self.job(number)
            self.assertEqual(job.presenter.stage, stage)
            self.assertIs(job.pages.currentWidget(), job.page(stage))
            self.assertEqual([dot.status for dot in job.presenter.frame().stages], tracks[number])

    def test_every_page_of_every_board_keeps_its_words_whole(self) -> None:
        """Buttons are wide enough and labels are not cut, in both themes."""
        for number in range(len(JOBS)):
            job = self.job(number)
            for name in ("night", "daylight")[: 2 if WHOLE or number == 0 else 1]:
                if theme.current().name != name:
                    self.window.toggle_theme()
                for stage in ev.STAGES:
                    job.go(stage)
                    settle()
                    self.assertEqual((self.window.width(), self.window.height()), (1280, 800))
                    page = job.pages.currentWidget()
                    for item in the(page).findChildren(QAbstractButton):
                        if item.isVisible():
                            room = item.fontMetrics().horizontalAdvance(item.text())
                            self.assertLessEqual(room, item.width(), f"{stage}: {item.text()}")
                    for label in the(page).findChildren(QLabel):
                        if label.isVisible() and label.text() and not label.wordWrap():
                            room = label.fontMetrics().horizontalAdvance(label.text())
                            message = f"{JOBS[number][1]} {stage}: {label.text()}"
                            self.assertLessEqual(room, label.width() + 1, message)

    def test_two_jobs_do_not_mix(self) -> None:
        first = self.job(0)
        press(Qt.Key.Key_B) if first.bench.card.phase == "state" else None
        if first.bench.card.phase == "bulk":
            write("0.3")
        readings = len(first.presenter.session.state.readings)
        bulk = first.presenter.session.state.bulk_volts
        second = self.job(1)
        self.assertEqual(second.presenter.session.board.id, "PB-2408-1")
        self.assertEqual(second.presenter.session.state.readings, ())
        again = self.job(0)
        self.assertEqual(len(again.presenter.session.state.readings), readings)
        self.assertEqual(again.presenter.session.state.bulk_volts, bulk)
        QApplication.processEvents()


if __name__ == "__main__":
    unittest.main()
