"""Six boards that no book has, taken in by keyboard alone: each to its verdict and its sheet.

The readings are those of the board that was put together, with the fault in it.
"""

import tempfile
import unittest
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from loose_rail.bootstrap import Workplace, engine_for
from loose_rail.jobs import events as ev
from loose_rail.screens.job.view import JobView
from loose_rail.screens.main_window import MainWindow
from loose_rail.screens.parts.view import PartsView
from loose_rail.screens.rework.view import ReworkView
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.shop import Options
from tests.fakes.qt_test import QTest
from tests.material import WHOLE
from tests.screens.helper import (
    application,
    close_window,
    follow_card,
    press,
    rework_all,
    settle,
    write,
)
from tests.shared import the
from tests.whole_jobs.typed import shown

BOARDS: tuple[tuple[str, str, str, str, str, str, str], ...] = (
    (
        "Thorn 32",
        "TH32-A",
        "4",
        "",
        "CN2: 12V, 12V, GND, GND, 5VSB, PS-ON",
        "high",
        "standby switch:short:0",
    ),
    (
        "Thorn 55, LED TV 55 inch",
        "TH55-A",
        "256",
        "LED driver 110 V",
        "CN1/2: 24V, 24V, GND, GND, 12V, 12V, 3V3SB, PS-ON, BL-ON, DIM",
        "high",
        "3V3 reservoir:dried:2",
    ),
    ("Rowan 24 monitor", "RW24", "37", "", "P1: 14V, GND, 5V, GND, ON/OFF", "", "main fuse:open:0"),
    ("Rowan 22", "RW22", "168", "", "CN4: 5V, GND, BL-ON, GND", "none", "step-down chip:dead:0"),
    (
        "Elder 42 plasma",
        "EL42",
        "9",
        "",
        "P2: 5VSB, GND, RLY, VS-ON, 15V, GND\nP3: VS, GND\nP4: VA, GND",
        "high",
        "boost switch:short:0",
    ),
    (
        "Elder 39",
        "EL39",
        "246",
        "LED driver 78 V",
        "CN9/2: 5VSB, GND, 12V, 12V, GND, ON, BL-ON, DIM",
        "low",
        "12 V rectifier:short:0",
    ),
)
"""Set, number, tiles, words beside them, pinouts, start pin, and the fault in it."""
COSTLY = ("TH55-A", "EL42")
"""Twelve seconds each to predict."""
TO_THE_SHEET = tuple(number for _, number, *_ in BOARDS)
MOST_STROKES = 300
"""Two minutes of typing, at 150 strokes a minute."""


class OwnBoards(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        application()
        self.window = MainWindow(Dispatcher(True))
        self.window.show()
        shop = Workplace(Options(False, Path(folder.name) / "shop.sqlite"))
        self.window.set_workplace(shop, engine_for)
        self.window.activateWindow()
        settle(self.window.isActiveWindow)
        self.addCleanup(close_window, self.window)

    def take_in(self, lines: tuple[str, ...]) -> int:
        """F3 and the form, key by key; returns the strokes."""
        press(Qt.Key.Key_F3)
        QApplication.processEvents()
        strokes = 1
        for line in lines:
            write(line)
            strokes += len(line) + 1
        settle(lambda: self.window.stack.currentWidget() is self.window.job)
        return strokes

    def test_boards_by_keyboard_alone(self) -> None:
        for name, number, tiles, kind, pins, wake, key in BOARDS:
            if not WHOLE and number in COSTLY:
                continue
            with self.subTest(number):
                form = (name, number, tiles, kind, *pins.split("\n"), "", wake, "Dead.", "")
                strokes = self.take_in(form)
                self.assertLess(strokes, MOST_STROKES)
                job = the(self.window.job)
                settle(lambda job=job: job.presenter.session.review is not None, 60)  # type: ignore[misc]
                job.go("cold_checks")
                job.focus_work()
                readings = follow_card(job, partial(shown, job, key))
                self.assertLessEqual(readings, 30)
                press(Qt.Key.Key_Return)
                self.assertEqual(job.presenter.stage, "verdict")
                finding = the(job.presenter.session.reviewed.finding)
                self.assertIn(key.split(":")[0], {finding.part, *finding.twins}, readings)
                if number in TO_THE_SHEET:
                    self.to_the_sheet(job, key.split(":")[0])

    def test_a_chain_of_three_whose_values_nobody_knows_yet(self) -> None:
        """What stood there is read off the old part, never made up; parts go by what they do."""
        name, number, tiles, kind, pins, wake, key = BOARDS[0]
        self.take_in((name, number, tiles, kind, *pins.split("\n"), "", wake, "Dead.", ""))
        job = the(self.window.job)
        session = job.presenter.session
        settle(lambda: session.review is not None, 60)
        part = key.split(":")[0]
        session.record(ev.VerdictAccepted(part, "it is shorted", 0.95, "confirmed", [], key))
        job.go("parts")
        page = job.page_of(PartsView)
        for line, left, told in (
            ("650V 4A N rds=1.8 qg=18n insulated to-220f", "", "OK"),
            ("+capacitor", "+capacitor", "can be 5 V reservoir, 12 V reservoir"),
            ("+source sense resistor burnt with it", "", "standby source sense resistor"),
            ("+gate resistor of the main switch", "", "main gate resistor is on the list"),
            ("-main gate resistor", "", "off the list"),
            ("+main fuse opened", "", "on the list"),
            ("sense resistor", "", "in front"),
            ("1R 1% 2W was 2R2", "1R 1% 2W was 2R2", "Not for"),
            ("1R 1% 2W", "", "OK with a note"),
            ("main fuse", "", "in front"),
            ("T3.15AH250V", "T3.15AH250V", "not known"),
            ("T5AH250V was T3.15AH250V", "T5AH250V was T3.15AH250V", "protects nothing"),
            ("T3.15AH250V was T3.15AH250V", "", "OK"),
        ):
            page.entry.clear()
            page.entry.setFocus()
            QTest.keyClicks(page.entry, line)
            press(Qt.Key.Key_Return)
            self.assertEqual(page.entry.text(), left, line)
            self.assertIn(told, job.notice.text(), line)
        press(Qt.Key.Key_Return)
        self.assertEqual(job.presenter.stage, "rework")
        rework_all(job)
        self.assertEqual(len(session.state.fitted), 3)
        sheet = job.presenter.sheet()
        for told in ("standby source sense resistor", "T3.15AH250V", "1R 1% 2W"):
            self.assertIn(told, sheet)
        self.assertEqual(sheet.count("it was"), 1)  # the fuse: of the others nobody said it

    def to_the_sheet(self, job: JobView, part: str) -> None:
        """Parts, rework, power-up, sheet: the part is called by its job all the way."""
        press(Qt.Key.Key_Return)
        self.assertEqual(job.presenter.stage, "parts")
        press(Qt.Key.Key_Return)
        self.assertEqual(job.presenter.stage, "rework")
        for _ in range(16):
            if job.presenter.stage != "rework":
                break
            if job.presenter.session.state.board_state.plugged:
                press(Qt.Key.Key_U)
            page = job.page_of(ReworkView)
            if job.presenter.rework().asks_bulk and page.bulk.isVisibleTo(self.window):
                page.bulk.setFocus()
                write("0.5")
            press(Qt.Key.Key_Return)
        self.assertEqual(job.presenter.stage, "power_up")
        self.assertTrue(job.presenter.power_up().title)
        press(Qt.Key.Key_0, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(job.presenter.stage, "hand_back")
        self.assertIn(part, job.presenter.hand_back().html)


if __name__ == "__main__":
    unittest.main()
