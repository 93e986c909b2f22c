"""A full shelf by keyboard and mouse; what the bench can read, from the meters page to the plan."""

import tempfile
import unittest
from pathlib import Path

import msgspec
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QApplication, QScrollArea

from loose_rail.bootstrap import Workplace, engine_for
from loose_rail.jobs import events as ev
from loose_rail.screens.main_window import MainWindow
from loose_rail.screens.meters.view import MetersView
from loose_rail.screens.shared.card.present import card_for
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shelf.view import GAP, ROW
from loose_rail.shop import Options
from loose_rail.storage.places import places_of
from loose_rail.storage.store import SqliteStore
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.fakes.qt_test import QTest
from tests.screens.helper import (
    application,
    close_window,
    measured_empty,
    open_window,
    press,
    settle,
    write,
)
from tests.shared import the

JOBS = 30


class FullShelf(unittest.TestCase):
    """Thirty sets in an own shop: twice as many as a window shows."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / "shop.sqlite"
        store = SqliteStore(path)
        for job in range(1, JOBS + 1):
            at = f"2026-10-{job:02d}T09:00:00.000+00:00"
            name, board = f"Set {job:02d}", "PB-4310-2"
            opened = ev.JobOpened(f"{job:04d}", name, board, "It does not start.", 20.0, "")
            store.append(job, [ev.Record(1, at, "bench 1", opened)])
        store.close()
        application()
        self.window = MainWindow(Dispatcher(at_once=True))
        self.window.resize(1280, 800)
        self.window.show()
        self.window.set_workplace(Workplace(Options(False, path)), engine_for)
        self.window.activateWindow()
        settle(self.window.isActiveWindow)
        self.addCleanup(close_window, self.window)
        self.rows = self.window.shelf.rows
        area = the(self.rows.parentWidget()).parentWidget()
        assert isinstance(area, QScrollArea)
        self.area = area

    def seen(self, number: int) -> bool:
        """Whether a whole row stands in the window."""
        top = QPointF(0, number * (ROW + GAP))
        viewport = self.area.viewport()
        assert viewport is not None
        first = self.rows.mapTo(viewport, top.toPoint()).y()
        return first >= -GAP and first + ROW <= viewport.height() + GAP

    def test_every_row_comes_into_sight_under_the_arrow_keys(self) -> None:
        self.assertTrue(self.seen(0))
        self.assertFalse(self.seen(JOBS - 1))
        self.rows.setFocus()
        for number in range(1, JOBS + 3):
            press(Qt.Key.Key_Down)
            self.assertTrue(self.seen(min(number, JOBS - 1)), number)
        for number in range(JOBS - 2, -1, -1):
            press(Qt.Key.Key_Up)
            self.assertTrue(self.seen(number), number)

    def test_enter_opens_the_marked_row_and_a_click_the_one_under_the_mouse(self) -> None:
        self.rows.setFocus()
        for _ in range(20):
            press(Qt.Key.Key_Down)
        wanted = self.rows._rows[20]
        press(Qt.Key.Key_Return)
        assert self.window.job is not None
        self.assertEqual(self.window.job.presenter.session.state.ticket, wanted.ticket)
        self.window.show_shelf()
        settle()
        spot = QPoint(300, int(23 * (ROW + GAP) + ROW / 2))
        self.area.ensureVisible(0, spot.y())
        QTest.mouseClick(self.rows, Qt.MouseButton.LeftButton, pos=spot)
        self.assertEqual(self.window.job.presenter.session.state.ticket, self.rows._rows[23].ticket)

    def test_a_click_below_the_last_row_opens_nothing(self) -> None:
        self.rows.resize(self.rows.width(), int((JOBS + 2) * (ROW + GAP)))
        where = QPointF(300, (JOBS + 1) * (ROW + GAP))
        kind, button = QMouseEvent.Type.MouseButtonPress, Qt.MouseButton.LeftButton
        event = QMouseEvent(kind, where, where, button, button, Qt.KeyboardModifier.NoModifier)
        QApplication.sendEvent(self.rows, event)
        self.assertIsNone(self.window.job)

    def test_finding_narrows_the_shelf_and_the_mark_stays_on_a_row(self) -> None:
        self.rows.setFocus()
        for _ in range(JOBS):
            press(Qt.Key.Key_Down)
        QTest.keyClick(self.rows, "/")
        self.window.shelf.find_line.setText("Set 07")
        self.assertEqual([row.set_text for row in self.rows._rows], ["Set 07"])
        self.assertEqual(self.rows._current, 0)
        press(Qt.Key.Key_Return)
        press(Qt.Key.Key_Return)
        assert self.window.job is not None
        self.assertEqual(self.window.job.presenter.session.state.set_name, "Set 07")


class WhatTheBenchReads(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.data = Path(folder.name) / "shop.sqlite"
        self.window = open_window(self.data)
        self.addCleanup(lambda: close_window(self.window))
        self.window.open_job(1)
        settle(lambda: self.session.review is not None, 60)

    @property
    def session(self):  # type: ignore[no-untyped-def]
        assert self.window.job is not None
        return self.window.job.presenter.session

    def offered(self) -> set[MeterMode]:
        found = self.session.reviewed.assessment
        step = [found.next_step.offer] if found.next_step else []
        return {offer.candidate.probe.mode for offer in (*step, *found.others)}

    @property
    def meters(self) -> MetersView:
        page = self.window.area("meters")
        assert isinstance(page, MetersView)
        return page

    def turn(self, times: int) -> str:
        self.window.show_area("meters")
        for _ in range(times):
            press(Qt.Key.Key_F6)
        said = self.meters._notice.text()
        press(Qt.Key.Key_Escape)
        return str(said)

    def test_f6_takes_esr_out_of_the_plan_and_puts_it_back(self) -> None:
        self.assertIn(MeterMode.ESR, self.offered())
        self.assertIn("reads: capacitance.", self.turn(1))
        self.assertNotIn(MeterMode.ESR, self.offered())
        self.assertIn(MeterMode.CAPACITANCE, self.offered())
        self.assertIn("reads: ESR.", self.turn(1))
        self.assertIn(MeterMode.ESR, self.offered())
        self.assertNotIn(MeterMode.CAPACITANCE, self.offered())
        self.assertIn("neither", self.turn(1))
        self.assertFalse(self.offered() & {MeterMode.ESR, MeterMode.CAPACITANCE})
        self.assertIn("no meter", self.turn(1))
        self.assertEqual(self.offered(), set())
        self.assertIn("no meter", card_for(self.session).header)
        self.assertIn("ESR and capacitance", self.turn(1))
        self.assertIn(MeterMode.ESR, self.offered())

    def lamps(self) -> set[int]:
        """Watts of the lamp that anything on offer asks for."""
        found = self.session.reviewed.assessment
        step = [found.next_step.offer] if found.next_step else []
        return {offer.candidate.state.lamp_watts for offer in (*step, *found.others)}

    def test_a_bench_without_a_lamp_asks_for_none_and_full_mains_waits(self) -> None:
        """Until the dead primary was read free of shorts nothing is plugged in at all."""
        self.assertIn(60, self.lamps())
        self.window.show_area("meters")
        press(Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
        self.assertIn("Limiter in line: none", self.meters._notice.text())
        press(Qt.Key.Key_Escape)
        self.assertEqual(self.lamps(), {0})
        found = self.session.reviewed.assessment
        self.assertFalse(any(offer.candidate.state.plugged for offer in found.others))
        kept = msgspec.json.decode(places_of(self.data).settings.read_bytes())
        self.assertIs(kept["lamp"], False)

    def test_a_person_can_still_ask_for_it_and_type_what_it_read(self) -> None:
        self.turn(3)
        table = self.session.engine.table
        wanted = next(c for c in table.candidates if c.probe.id == "C21.esr")
        self.session.choose(wanted)
        self.assertEqual(self.session.reviewed.step.offer.candidate.probe.id, "C21.esr")
        job = self.window.job
        the(job).go("cold_checks")
        the(job).focus_work()
        measured_empty(job)  # type: ignore[arg-type]
        write("2.4")
        if the(job).bench.card.entry.text():
            press(Qt.Key.Key_Return)
        self.assertEqual(self.session.state.live_readings[-1].probe, "C21.esr")
        self.assertEqual(self.session.reviewed.finding.part, "C21")

    def test_the_choice_outlives_the_program_and_holds_for_jobs_opened_later(self) -> None:
        self.turn(1)
        kept = msgspec.json.decode(places_of(self.data).settings.read_bytes())
        self.assertEqual(kept["lacks"], ["esr"])
        close_window(self.window)
        self.window = open_window(self.data)
        self.window.open_job(1)
        settle(lambda: self.session.review is not None, 60)
        self.assertNotIn(MeterMode.ESR, self.offered())
