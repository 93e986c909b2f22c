"""The workings by keyboard: inputs with their units, what is wrong said in place, a marking read,
the values of the board of an open job, the whole working copied."""

import tempfile
import unittest
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit

from loose_rail.jobs import events as ev
from loose_rail.screens.workings.present import code_lines, marks_of, scale_of
from loose_rail.screens.workings.view import WorkingsView
from tests.screens.helper import (
    close_window,
    focus,
    measured_empty,
    open_window,
    press,
    settle,
    write,
)
from tests.shared import the

CONTROL = Qt.KeyboardModifier.ControlModifier


class Workings(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.window = open_window(Path(folder.name) / "shop.sqlite")
        self.addCleanup(close_window, self.window)

    def page(self) -> WorkingsView:
        page = self.window.area("workings")
        assert isinstance(page, WorkingsView)
        return page

    def field(self, title: str) -> QLineEdit:
        return next(one for one in self.page()._fields if one.accessibleName().startswith(title))

    def lines(self) -> dict[str, str]:
        return {title: value for title, value, _ in self.page()._desk.state().lines}

    def test_inputs_by_keyboard_and_the_working_copied(self) -> None:
        press(Qt.Key.Key_W, CONTROL)
        page = self.page()
        self.assertIs(focus(), page.rows)
        for _ in range(2):
            press(Qt.Key.Key_Down)
        self.assertEqual(page._title.text(), "Discharge")
        self.field("Volts").setFocus()
        self.field("Volts").selectAll()
        write("400")  # Enter goes to the next input
        self.field("Capacitor").selectAll()
        write("150u")
        self.assertIs(focus(), self.field("Through"))
        self.assertEqual(self.lines()["Energy"], "12.0 J")
        self.assertEqual(self.lines()["Below 10 V after"], "1.22 s")
        write("2k2 V")
        self.assertIn("is no through", page._problem.text())
        self.assertFalse(page._drawing.isVisible())
        self.field("Through").setText("")
        self.field("Through").setFocus()
        write("2k2")
        self.assertTrue(page._drawing.isVisible())
        page.rows.setFocus()
        press(Qt.Key.Key_F6)
        text = the(QApplication.clipboard()).text()
        for words in ("Discharge", "Capacitor, F: 150u", "Energy: 12.0 J", "E = ½·C·V²"):
            self.assertIn(words, text)
        press(Qt.Key.Key_F5)
        write("104K")
        told = " ".join(words for words, _ in code_lines(page.code.text()))
        self.assertIn("100 nF", told)
        for text, shape, code in (
            ("4K7", "bands", "ye vi rd gd"),
            ("rd vi ye gd", "bands", "rd vi ye gd"),  # there and back
            ("100 nF", "disc", "104K"),
            ("100 µH", "coil", "101"),
            ("4.99 kΩ", "chip", "68B"),
        ):
            drawn = {(mark.shape, mark.code) for mark in marks_of(text)}
            self.assertIn((shape, code), drawn)
        self.assertEqual(marks_of("T3.15AH250V"), ())
        page.code.setText("4.7 kΩ")
        QApplication.processEvents()
        self.assertEqual(code_lines("?!")[0][0], "")  # no reading, a sentence in its place
        page.code.setText("legs 32 480")
        shown = [one.text() for one in page.findChildren(QLabel)]
        self.assertIn("The part, by its legs", shown)
        self.assertIn("N-channel MOSFET: 1 gate, 2 drain, 3 source", shown)
        self.assertEqual(marks_of("legs 32 480"), ())
        self.assertIn("no reading of two legs", code_lines("legs foo")[0][1])

    def test_an_open_job_brings_the_values_of_its_board(self) -> None:
        self.window.open_job(1)
        job = the(self.window.job)
        settle(lambda: job.presenter.session.review is not None, 90)
        measured_empty(job)
        press(Qt.Key.Key_W, CONTROL)
        self.assertEqual(self.field("Mains").text(), "120 V")
        self.assertEqual(self.field("Bulk capacitor").text(), "150 µF")
        session = job.presenter.session
        session.record(ev.VerdictAccepted("C21", "C21 dried out", 0.9, "confirmed", [], ""))
        shown = {"parts": "Ripple and ESR", "power_up": "Limiter at the first power"}
        for stage, title in shown.items():
            job.go(stage)
            self.window.show_area("workings")
            self.assertEqual(self.page()._title.text(), title)
        self.page().restyle()
        press(Qt.Key.Key_Return)

    def test_axes_have_the_prefix_of_what_stands_on_them(self) -> None:
        for value, over, prefix in ((150e-6, 1e-6, "µ"), (2200.0, 1e3, "k"), (0.0, 1.0, "")):
            found = scale_of(value)
            self.assertAlmostEqual(found[0] / over, 1.0)
            self.assertEqual(found[1], prefix)


if __name__ == "__main__":
    unittest.main()
