"""Paperwork by keyboard: numbers, the seller's text, the timer, photographs, two windows."""

import tempfile
import unittest
from pathlib import Path

from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QImage
from PyQt6.QtWidgets import QApplication

from loose_rail.practice.sample_photo import sample_photo
from loose_rail.screens.main_window import MainWindow
from loose_rail.screens.strip_down.view import StripView
from loose_rail.screens.take_in.view import IntakeView
from tests.fakes.qt_test import QTest
from tests.screens.helper import close_window, focus, open_window, press, settle
from tests.screens.test_before_probes import type_line
from tests.shared import the


class Papers(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.data = Path(self.folder.name) / "shop.sqlite"
        self.window: MainWindow = open_window(self.data)

    def tearDown(self) -> None:
        for other in list(self.window.siblings):
            if other is not self.window:
                close_window(other)
        close_window(self.window)
        self.folder.cleanup()

    def open_demo(self):  # type: ignore[no-untyped-def]
        self.window.open_job(1)
        job = self.window.job
        assert job is not None
        settle(lambda: job.presenter.session.review is not None, 60)
        return job

    def test_numbers_are_kept_apart_and_the_customer_stays_in_the_shop(self) -> None:
        job = self.open_demo()  # type: ignore[no-untyped-call]
        job.go("take_in")
        press(Qt.Key.Key_F4)
        for text in ("BK-43-PSU", "4310-2 R2", "94V-0 77", "remote", "Ada Ferrow", "150", ""):
            type_line(text)
        state = job.presenter.session.state
        self.assertEqual(state.detail("number_etched"), "94V-0 77")
        self.assertIs(focus(), job.page_of(IntakeView).entry)
        self.assertIn("worth 150", " ".join(job.presenter.take_in().worth))
        self.assertEqual(the(self.window.workplace).find("Ferrow").rows, ())
        self.assertEqual(len(the(self.window.workplace).find("94V").rows), 1)
        press(Qt.Key.Key_F4)
        press(Qt.Key.Key_F5)
        text = job.page_of(IntakeView).papers.seller.toPlainText()
        self.assertTrue(text.startswith("I am looking for the power board 4310-2 R2"))
        self.assertIn("94V-0 77", text)
        self.assertNotIn("Ferrow", text)
        html = job.presenter.hand_back().html
        self.assertNotIn("Ferrow", html)
        press(Qt.Key.Key_F6)
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        self.assertEqual(clipboard.text(), text)
        press(Qt.Key.Key_Escape)
        job.page_of(IntakeView)._timer.setInterval(1)
        press(Qt.Key.Key_F9)
        self.assertIn("left", job.page_of(IntakeView)._timer_button.text())
        settle(lambda: "are over" in job.page_of(IntakeView)._timer_button.text())

    def test_the_legend_is_drawn_as_it_is_typed(self) -> None:
        QTest.keyClick(self.window, Qt.Key.Key_F3)
        QApplication.processEvents()
        labels = "CN4: 5VSB, 5VSB, GND, GND, 12V, 12V, GND, PS-ON, 10: 24V"
        for line in ("Fernlea 39", "FL39"):
            type_line(line)
        for key in (Qt.Key.Key_2, Qt.Key.Key_5, Qt.Key.Key_6, Qt.Key.Key_Return):
            press(key)
        type_line("LED driver 80 V")
        type_line(labels)
        self.assertEqual(self.window.new_job.tiles.chosen, ("boost", "resonant", "led"))
        legend = self.window.new_job._legend
        rows = legend._state.rows
        self.assertEqual(
            [[p.number for p in row] for row in rows], [[1, 3, 5, 7, 9], [2, 4, 6, 8, 10]]
        )
        by_number = {pin.number: pin for row in rows for pin in row}
        self.assertEqual((by_number[1].standby, by_number[1].awake), ("5.00 V", "5.00 V"))
        self.assertEqual((by_number[5].standby, by_number[5].awake), ("0 V", "12.0 V"))
        self.assertIn("no jumper", by_number[8].awake)
        self.assertEqual(by_number[10].awake, "24.0 V")
        self.assertIn("pin 10 24V", legend.accessibleDescription())
        press(Qt.Key.Key_F9)
        self.assertEqual([p.number for p in legend._state.rows[1]], [10, 9, 8, 7, 6])

    def test_photographs_are_dropped_pasted_and_compared(self) -> None:
        job = self.open_demo()  # type: ignore[no-untyped-call]
        job.go("strip_down")
        type_line("4 long M4 stand")
        path = Path(self.folder.name) / "before.jpg"
        path.write_bytes(sample_photo(True))
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path))])
        move, buttons = Qt.DropAction.CopyAction, Qt.MouseButton.LeftButton
        none = Qt.KeyboardModifier.NoModifier
        job.dropEvent(QDropEvent(QPointF(50, 50), move, data, buttons, none))
        state = lambda: job.presenter.session.state  # noqa: E731
        settle(lambda: len(state().photos) == 1)  # type: ignore[no-untyped-call]
        self.assertEqual(state().photos[0].about, "step:1")  # type: ignore[no-untyped-call]
        self.assertIn("1 photo", job.page_of(StripView).table.item(0, 1).text())
        QTest.keyClick(focus(), Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setImage(QImage.fromData(sample_photo(False)))
        QTest.keyClick(focus(), Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        settle(lambda: len(state().photos) == 2)  # type: ignore[no-untyped-call]
        press(Qt.Key.Key_F6)
        settle(lambda: all(not image.isNull() for image, _, _ in job.photos.canvas._images))
        self.assertEqual(len(job.photos.canvas._images), 2)
        QTest.keyClicks(focus(), "+")
        press(Qt.Key.Key_Right)
        QTest.keyClicks(focus(), "C21 domed")
        press(Qt.Key.Key_F7)
        self.assertEqual(state().photo_points[0].words, "C21 domed")  # type: ignore[no-untyped-call]
        self.assertGreater(state().photo_points[0].x, 0.5)  # type: ignore[no-untyped-call]
        press(Qt.Key.Key_Escape)
        self.assertIs(job.pages.currentWidget(), job.page_of(StripView))
        path.write_bytes(b"\x00\x00\x00\x18ftypheic" + b"\x00" * 30)
        job.photos.add_files([path])
        settle(lambda: "HEIC" in job.notice.text())

    def test_two_jobs_stand_open_and_one_job_stands_open_once(self) -> None:
        job = self.open_demo()  # type: ignore[no-untyped-call]
        QTest.keyClick(
            job,
            Qt.Key.Key_N,
            Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier,
        )
        QApplication.processEvents()
        other = next(w for w in self.window.siblings if w is not self.window)
        other.open_job(1)
        self.assertIsNone(other.job)
        other.take_in()
        other.new_job.fields["set_name"].setText("Sedge 19M")
        other.new_job.fields["numbers"].setText("PB-1905-2")
        other.new_job._create()
        settle(lambda: other.job is not None)
        assert other.job is not None
        job.go("strip_down")
        other.job.go("strip_down")
        job.presenter.first.strip_enter("2 foil tapes over the ribbon")
        other.job.presenter.first.strip_enter("3 clips top")
        self.assertTrue(job.presenter.session.state.steps[0].words.startswith("2 foil"))
        self.assertEqual(len(other.job.presenter.session.state.steps), 1)
        close_window(other)
        self.assertIsNotNone(self.window.workplace)
        number = the(self.window.workplace).new_job().create(self.window.new_job.form())
        self.assertFalse(isinstance(number, int))
        job.presenter.first.strip_enter("1 back cover")
        self.assertEqual(job.presenter.frame().save_problem, "")

    def test_the_next_set_of_a_kind_begins_with_what_was_learned(self) -> None:
        job = self.open_demo()  # type: ignore[no-untyped-call]
        job.go("strip_down")
        type_line("hidden lead button board bottom left")
        self.window.show_shelf()
        QTest.keyClick(self.window, Qt.Key.Key_F3)
        QApplication.processEvents()
        for line in ("Brindle 43K", "PB-4310-2", "dead", ""):
            type_line(line)
        settle(lambda: self.window.job is not job)
        fresh = self.window.job
        assert fresh is not None
        warnings = fresh.presenter.strip_down().warnings
        self.assertIn("hidden lead", warnings[0])
        self.assertIn("Last time", warnings[0])
