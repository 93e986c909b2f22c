"""The workings by keyboard: inputs with their units, what is wrong said in place, a marking read,
the values of the board of an open job, the whole working copied."""

import tempfile
import unittest
from pathlib import Path
from unittest.mock import patch

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit

from loose_rail.jobs import events as ev
from loose_rail.jobs.observations import reading_event
from loose_rail.kernel.observation import value
from loose_rail.screens.workings.present import code_lines, marks_of, scale_of
from loose_rail.screens.workings.view import WorkingsView
from loose_rail.vocabulary.board_state import BoardState, Power
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
        job.go("take_in")
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

    def test_any_number_of_the_screen_opens_its_working_with_one_key(self) -> None:
        self.window.open_job(1)
        job = the(self.window.job)
        session = job.presenter.session
        settle(lambda: session.review is not None, 90)
        job.go("live_checks")
        standby = BoardState(Power.STANDBY, True)
        session.record(ev.StateConfirmed(standby.key))
        session.record(reading_event("live.5vs", standby, value(4.61, "V"), "typed", ""))
        settle()
        ledger, rail_map = job.bench.ledger, job.bench.rail_map
        rail_map.grab()  # painted: it knows where its words stand
        model = the(ledger.model())
        cells = [model.index(0, column) for column in range(model.columnCount())]
        one = next(index for index in cells if "4.61" in str(index.data()))
        cell = ledger.visualRect(one).center()
        reading = next(box for box, words in rail_map._said if "4.61" in words)
        for spot in (
            the(ledger.viewport()).mapToGlobal(cell),
            rail_map.mapToGlobal(reading.center().toPoint()),
        ):
            with patch("loose_rail.screens.shared.words_meant.QCursor.pos", return_value=spot):
                press(Qt.Key.Key_W, CONTROL)
            self.assertEqual(self.page()._title.text(), "Dummy load")
            self.assertEqual(self.field("Rail").text(), "4.61 V")
            self.window.show_job()
        measured_empty(job)
        job.go("cold_checks")
        table = the(session.engine).table
        session.choose(next(one for one in table.candidates if one.probe.id == "C21.esr"))
        for _ in range(6):
            if job.bench.card.phase == "reading":
                break
            press(Qt.Key.Key_B) if job.bench.card.phase == "state" else write("1.2")
        press(Qt.Key.Key_W, CONTROL)  # nothing under the pointer: what the card expects
        self.assertEqual(self.page()._title.text(), "Ripple and ESR")

    def test_axes_have_the_prefix_of_what_stands_on_them(self) -> None:
        for number, over, prefix in ((150e-6, 1e-6, "µ"), (2200.0, 1e3, "k"), (0.0, 1.0, "")):
            found = scale_of(number)
            self.assertAlmostEqual(found[0] / over, 1.0)
            self.assertEqual(found[1], prefix)


if __name__ == "__main__":
    unittest.main()
