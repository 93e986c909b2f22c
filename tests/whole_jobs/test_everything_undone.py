"""Everything that can be entered in a job, taken back one by one by name, and put back again."""

import dataclasses
import unittest
from typing import Any

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QImage

from loose_rail.cli import parse
from loose_rail.kernel.errors import UsageError
from loose_rail.screens.photos.canvas import PhotoCanvas
from loose_rail.vocabulary.board_state import UNPLUGGED
from tests.fakes.qt_test import QTest
from tests.screens.helper import application, demo_job, focus, press, write
from tests.shared import the

BOTH = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
KEPT = ("last_at", "undo_words", "redo_words", "stage", "visited", "readings", "board_state")
"""What taking back does not touch: times, where the person is, and readings, which stay struck."""


class Undone(unittest.TestCase):
    def setUp(self) -> None:
        self.job = demo_job(self, "take_in")
        self.session = self.job.presenter.session

    def facts(self) -> dict[str, Any]:
        state = self.session.state
        names = [f.name for f in dataclasses.fields(state) if f.name not in KEPT]
        found: dict[str, Any] = {name: getattr(state, name) for name in names}
        found["live readings"] = state.live_readings
        return found

    def enter_everything(self) -> list[str]:
        """One of each, through the pages' own lines; returns what undo calls each of them."""
        named: list[str] = []

        def note(text: str = "") -> None:
            named.append(self.session.state.undo_words)

        job = self.job
        write("hums all the time")
        note()
        press(Qt.Key.Key_F6)  # an outlet that was dead, in place of the answer before
        note()
        press(Qt.Key.Key_F4)
        write("BK-43")
        note()
        press(Qt.Key.Key_Escape)
        job.presenter.add_note("smells of fish")
        note()
        job.go("strip_down")
        write("4 long M4 stand")
        note()
        job.go("look_over")
        press(Qt.Key.Key_2)
        note()
        job.go("cold_checks")
        job.focus_work()
        press(Qt.Key.Key_T)
        write("c21")
        write("bad")
        note()
        press(Qt.Key.Key_Escape)
        press(Qt.Key.Key_E)
        write("cn2 12 11")
        note()
        press(Qt.Key.Key_Escape)
        press(Qt.Key.Key_N)
        note()
        if job.bench.card.phase == "reading":
            write("0.05")
            if job.bench.card.entry.text():
                press(Qt.Key.Key_Return)
            note()
        job.go("verdict")
        write("board 30")
        note()
        write("c27 because the customer asks for it")
        note()
        return named

    def test_every_entry_is_named_taken_back_and_put_back(self) -> None:
        start = self.facts()
        named = self.enter_everything()
        full = self.facts()
        self.assertNotEqual(start, full)
        self.assertTrue(all(named), named)
        undone: list[str] = []
        while self.facts() != start and len(undone) < 40:
            undone.append(self.session.state.undo_words)
            self.assertIn(undone[-1][:20], self.job._undo_words.text())
            press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.facts(), start)
        for words in named:
            self.assertIn(words, undone)
        redone = 0
        while self.session.state.redo_words and redone < 60:
            QTest.keyClick(focus(), Qt.Key.Key_Z, BOTH)
            redone += 1
        self.assertEqual(redone, len(undone))
        again, wanted = self.facts(), full
        self.assertEqual(again, wanted)

    def test_a_pulled_plug_is_not_undone_by_a_key(self) -> None:
        state = next(c.state for c in the(self.session.engine).table.candidates if c.state.plugged)
        self.session.confirm_state(state)
        self.job.presenter.make_safe()
        for _ in range(5):
            press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.session.state.board_state, UNPLUGGED)
        self.assertIsNone(self.session.state.bulk_volts)


class Canvas(unittest.TestCase):
    def setUp(self) -> None:
        application()
        self.canvas = PhotoCanvas()
        self.canvas.resize(800, 600)
        self.canvas.show()
        self.addCleanup(self.canvas.deleteLater)
        image = QImage(400, 300, QImage.Format.Format_RGB32)
        image.fill(0x336633)
        self.canvas.show_images([(image, "1", ()), (image, "2", ((0.5, 0.5, "C21"),))])

    def test_a_click_finds_the_same_point_at_every_zoom(self) -> None:
        for zoom in (1.0, 2.0, 5.0):
            self.canvas.zoom = zoom
            for number, box in enumerate(self.canvas._boxes()):
                target = self.canvas._target(number, box)
                want = QPointF(0.5 + 0.1 / zoom, 0.5 - 0.08 / zoom)
                spot = QPointF(
                    target.x() + want.x() * target.width(), target.y() + want.y() * target.height()
                )
                self.assertTrue(box.contains(spot))
                QTest.mouseClick(self.canvas, Qt.MouseButton.LeftButton, pos=spot.toPoint())
                self.assertAlmostEqual(self.canvas.cross.x(), want.x(), delta=0.01)
                self.assertAlmostEqual(self.canvas.cross.y(), want.y(), delta=0.01)

    def test_zoom_and_moves_stay_inside(self) -> None:
        for _ in range(400):
            self.canvas.zoom_by(1.25)
            self.canvas.move_by(1, 1)
        self.assertLessEqual(self.canvas.zoom, 12.0)
        self.assertEqual((self.canvas.cross.x(), self.canvas.cross.y()), (1.0, 1.0))
        for _ in range(40):
            self.canvas.zoom_by(0.5)
        self.assertEqual(self.canvas.zoom, 1.0)
        self.assertEqual(self.canvas.middle, QPointF(0.5, 0.5))
        before = self.canvas.grab().toImage()
        self.canvas.zoom_by(3)
        self.assertNotEqual(before, self.canvas.grab().toImage())


class Arguments(unittest.TestCase):
    def test_sizes_and_meters_on_the_command_line(self) -> None:
        options = parse(["--scale", "150", "--meter", "a", "--second-meter", "b"])
        self.assertEqual((options.scale, options.meter, options.second_meter), (150, "a", "b"))
        for bad in ("20", "999", "big"):
            with self.assertRaises(UsageError):
                parse(["--scale", bad])
