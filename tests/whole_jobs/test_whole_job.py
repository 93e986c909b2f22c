"""The demo job worked to its report through the real widgets, by keyboard alone."""

import tempfile
import unittest
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtSvg import QSvgRenderer
from PyQt6.QtWidgets import QApplication

from loose_rail.jobs import events as ev
from loose_rail.screens.hand_back.view import HandBackView
from loose_rail.screens.job.view import JobView
from loose_rail.screens.main_window import MainWindow
from loose_rail.screens.parts.view import PartsView
from loose_rail.screens.power_up.view import PowerUpView
from loose_rail.screens.rework.view import ReworkView
from loose_rail.storage.store import SqliteStore
from tests.fakes.qt_test import QTest
from tests.screens.helper import (
    close_window,
    focus,
    follow_card,
    measured_empty,
    open_window,
    press,
    settle,
    write,
)
from tests.shared import final_lines, the

ANSWERS = {
    ("live.5vs", True): "0..0.5@1.0Hz",
    ("live.5vs", False): "1.1..2.7@1Hz",
    ("live.5va", True): "0..0.5@1.0Hz",
    ("live.5va", False): "1.1..2.7@1Hz",
    ("C21.esr", False): "1.7",
}


class Window(unittest.TestCase):
    def setUp(self) -> None:
        self._folder = tempfile.TemporaryDirectory()
        self.addCleanup(self._folder.cleanup)
        self.path = Path(self._folder.name) / "shop.sqlite"
        self.window = self.open()

    def open(self, at_once: bool = True) -> MainWindow:
        window = open_window(self.path, at_once)
        self.addCleanup(close_window, window)
        return window

    def open_job(self) -> JobView:
        self.window.shelf.rows.setFocus()
        press(Qt.Key.Key_Return)
        job = self.window.job
        assert job is not None
        measured_empty(job)
        return job

    def answer(self, job: JobView) -> str:
        """What a meter would show at the offered probe on the demo board."""
        task = job.presenter.session.reviewed.task
        key = (the(task).candidate.probe.id, the(task).candidate.state.main_cable)
        if key in ANSWERS:
            return ANSWERS[key]
        table = the(job.presenter.session.engine).table
        row = next(k for k, r in enumerate(table.rows) if r.key == "C21:dried:1")
        column = table.index(the(task).candidate.key)
        low, high, hertz = (a[row, column] for a in (table.low, table.high, table.hertz))
        if low == float("inf"):
            return "OL"
        return f"{low:.4g}..{high:.4g}@{hertz:.2g}" if hertz else f"{max(low, 0):.4g}"


class WholeJob(Window):
    def test_from_shelf_to_report_by_keyboard(self) -> None:
        job = self.open_job()
        self.assertEqual(job.presenter.stage, "cold_checks")
        readings = follow_card(job, lambda: self.answer(job))
        self.assertLessEqual(readings, 8)
        press(Qt.Key.Key_Return)
        self.assertEqual(job.presenter.stage, "verdict")
        self.assertIn("C21 dried out", job.presenter.verdict().headline)
        press(Qt.Key.Key_Return)
        self.assertEqual(job.presenter.stage, "parts")
        self.assertIs(focus(), job.page_of(PartsView).entry)
        press(Qt.Key.Key_Down)
        self.assertFalse(job.page_of(PartsView).action.isEnabled())
        press(Qt.Key.Key_Up)
        press(Qt.Key.Key_Return)
        self.assertEqual(job.presenter.stage, "rework")
        self.rework(job)
        self.prove(job)
        press(Qt.Key.Key_0, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(job.presenter.stage, "hand_back")
        told = job.presenter.hand_back().html
        for words in ("C21 dried out", "4.99 V", "pulsing", "<s"):  # one reading was taken back
            self.assertIn(words, told)
        press(Qt.Key.Key_U)
        job.focus_work()
        press(Qt.Key.Key_Return)
        self.assertIn("Not yet on the final list", job.notice.text())
        write("insulation 500k")
        self.assertIn("below 2 MΩ", job.notice.text())
        job.page_of(HandBackView).line.clear()
        press(Qt.Key.Key_Return)  # measured, and not good: it stays here
        self.assertIn("500 kΩ is below", job.notice.text())
        write("inputs skip because no source here")
        write("insulation 20M")
        for line in final_lines(job.presenter.session):
            write(line)
        write("carriage 3.50")
        press(Qt.Key.Key_Return)
        self.assertIsNotNone(job.presenter.session.state.handed_back)
        told = job.presenter.hand_back().html
        for words in (
            "left out, because no source here",
            "20 MΩ",
            "class II",
            "hand, off the meter",
        ):
            self.assertIn(words, told)
        label = self.path.with_name("label.svg")
        job.export(label)
        ticket = job.presenter.session.state.ticket
        drawn = QSvgRenderer(str(label))
        self.assertTrue(drawn.isValid())
        self.assertAlmostEqual(
            drawn.defaultSize().width() / drawn.defaultSize().height(), 62 / 29, 1
        )
        self.assertIn(f">{ticket}<", label.read_text())
        for name in ("report.pdf", "report.html"):
            target = self.path.with_name(name)
            job.export(target)
            self.assertGreater(target.stat().st_size, 2000)
        self.assertIn("4.99 V", self.path.with_name("report.html").read_text("utf-8"))

    def rework(self, job: JobView) -> None:
        if job.presenter.session.state.board_state.plugged:
            press(Qt.Key.Key_Return)
            self.assertFalse(job.presenter.session.state.rework_done)
            press(Qt.Key.Key_U)
            write("163")
            self.assertFalse(job.presenter.session.drained)
            self.assertEqual(focus(), job.page_of(ReworkView).bulk)
            job.page_of(ReworkView).bulk.clear()
            write("0.8")
            self.assertTrue(job.presenter.session.drained)
        for _ in range(9):
            if job.presenter.stage != "rework":
                break
            press(Qt.Key.Key_Return)
        self.assertEqual(job.presenter.stage, "power_up")
        self.assertEqual(job.presenter.session.state.fitted, ("C21",))

    def prove(self, job: JobView) -> None:
        press(Qt.Key.Key_B)
        self.assertEqual(job.page_of(PowerUpView).card.phase, "lamp")
        write("1")
        self.assertEqual(job.presenter.session.state.lamp_seen, "dark")
        write("4.99")
        pairs = job.presenter.power_up().pairs
        self.assertEqual(len(pairs), 1)
        self.assertIn("pulsing", pairs[0].before)
        self.assertEqual(pairs[0].after, "4.99 V")

    def test_the_simulated_meter_is_one_key_away(self) -> None:
        job = self.open_job()
        for _ in range(30):
            phase = job.bench.card.phase
            if phase == "nothing":
                break
            if phase == "lamp":
                write("1")
                continue
            press(Qt.Key.Key_B if phase == "state" else Qt.Key.Key_Space)
        finding = job.presenter.session.reviewed.finding
        self.assertEqual((the(finding).part, str(the(finding).standing)), ("C21", "confirmed"))
        self.assertIn("Simulated", job.presenter.session.state.live_readings[0].instrument)

    def test_it_opens_where_it_was(self) -> None:
        job = self.open_job()
        write(self.answer(job))
        state = job.presenter.session.state
        job.go("verdict")
        self.window.close()
        self.window = self.open()
        again = self.open_job()
        self.assertEqual(again.presenter.stage, "verdict")
        self.assertEqual(again.presenter.session.state.readings, state.readings)


class AtTheEntryLine(Window):
    def test_held_until_confirmed_taken_back_and_put_back(self) -> None:
        job = self.open_job()
        card = job.bench.card
        write(self.answer(job))
        self.assertEqual(len(job.presenter.session.state.live_readings), 1)
        press(Qt.Key.Key_Z)
        self.assertEqual(job.presenter.session.state.live_readings, ())
        self.assertTrue(job.presenter.bench().ledger[0].struck)
        press(
            Qt.Key.Key_Z,
            Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier,
        )
        self.assertEqual(len(job.presenter.session.state.live_readings), 1)
        while card.phase != "state":
            write(self.answer(job))
        write("5")
        self.assertIn("press B", job.notice.text())
        self.assertEqual(card.entry.text(), "")

    def test_bad_entries_stay_in_the_line_and_say_what_works(self) -> None:
        job = self.open_job()
        card = job.bench.card
        for text, words in (
            ("4..", "not"),
            ("5V", "ohms"),
            ("zork", "form that works"),
            ("-3", "negative"),
        ):
            QTest.keyClicks(card.entry, text if text != "zork" else "4zork")
            self.assertTrue(job.presenter.echo(card.entry.text()).error)
            press(Qt.Key.Key_Return)
            self.assertIn(words, job.notice.text())
            self.assertTrue(card.entry.text())
            card.entry.clear()
        self.assertEqual(job.presenter.session.state.live_readings, ())

    def test_an_absurd_value_is_asked_once_and_kept_if_confirmed(self) -> None:
        job = self.open_job()
        job.presenter.choose("live.5vs@standby/bare/lamp60")
        press(Qt.Key.Key_B)
        write("500")
        self.assertIn("First the lamp", job.notice.text())
        job.bench.card.entry.clear()
        write("2")
        write("500")
        self.assertIn("keeps it", job.notice.text())
        self.assertEqual(job.presenter.session.state.live_readings, ())
        press(Qt.Key.Key_Return)
        self.assertEqual(job.presenter.session.state.live_readings[0].observation.low, 500)

    def test_skip_and_other_probe(self) -> None:
        job = self.open_job()
        first = the(job.presenter.session.reviewed.task).candidate.key
        press(Qt.Key.Key_O)
        press(Qt.Key.Key_2)
        second = the(job.presenter.session.reviewed.task).candidate.key
        self.assertNotEqual(second, first)
        press(Qt.Key.Key_N)
        self.assertNotEqual(the(job.presenter.session.reviewed.task).candidate.key, second)
        press(Qt.Key.Key_O)
        press(Qt.Key.Key_L)
        self.assertEqual(job.bench.card.entry.text(), "OL")

    def test_a_dead_meter_never_freezes_the_window_and_keeps_what_was_typed(self) -> None:
        self.window.close()
        self.window = self.open(at_once=False)
        job = self.open_job()
        settle(lambda: job.presenter.session.engine is not None)
        the(self.window.workplace)._bench.close()  # type: ignore[attr-defined]
        QTest.keyClicks(job.bench.card.entry, "12")
        job.measure()
        beats = 0
        while job.measuring.task is not None and beats < 1500:
            QApplication.processEvents()
            QTest.qWait(5)
            beats += 1
        self.assertIn("meter", job.notice.text().lower())
        self.assertEqual(job.bench.card.entry.text(), "12")

    def test_a_locked_database_shows_a_lasting_banner_and_recovers(self) -> None:
        import sqlite3
        from contextlib import closing

        job = self.open_job()
        job.presenter.session._log._store._busy = 20  # type: ignore[attr-defined]
        with closing(sqlite3.connect(self.path, isolation_level=None)) as other:
            other.execute("BEGIN IMMEDIATE")
            job.presenter.add_note("while it was locked")
            self.assertTrue(job._banner.isVisibleTo(self.window))
            other.execute("ROLLBACK")
        job.presenter.retry_save()
        self.assertFalse(job._banner.isVisibleTo(self.window))
        store = SqliteStore(self.path)
        self.assertEqual(
            store.load(1)[-1].event, ev.NoteWritten("cold_checks", "while it was locked")
        )
        store.close()
