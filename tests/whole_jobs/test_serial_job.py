"""A job in the user's own shop with a serial meter, from the meters page to the verdict."""

import math
import tempfile
import time
import unittest
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from loose_rail.bootstrap import Workplace, engine_for
from loose_rail.screens.job.view import JobView
from loose_rail.screens.main_window import MainWindow
from loose_rail.screens.meters.view import MetersView
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.shop import Options
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.fakes.qt_test import QTest
from tests.fakes.serial_line import SerialLine
from tests.screens.helper import application, close_window, focus, press, settle, write
from tests.shared import the
from tests.whole_jobs.test_other_boards import shop

JOB = (("0701", "PB-2408-1", "Wickfield 24L", "Dead since last night.", "Q201:short:0"),)
READING_SECONDS = 0.03
AIR_SECONDS = 0.75
PATIENCE_SECONDS = 90.0


class SerialBench(SerialLine):
    """A meter at the end of a pseudo-terminal that shows what a faulty board would."""

    def __init__(self) -> None:
        self.shown = math.inf
        self.touches_at = 0.0
        self.silent = False
        self.settings: list[str] = []
        super().__init__(lambda line: self.say(line.strip()))

    def reach(self, value: float) -> None:
        """The probes leave the board and touch the next point a moment later."""
        self.touches_at = time.monotonic() + AIR_SECONDS
        self.shown = value

    def say(self, line: str) -> str | None:
        if line == "*IDN?":
            return "OWN,SERIAL 4,7,1"
        if line.startswith("CONF:"):
            self.settings.append(line)
            return None
        if line != "READ?" or self.silent:
            return None
        time.sleep(READING_SECONDS)
        volts = bool(self.settings) and "VOLT" in self.settings[-1]
        if time.monotonic() < self.touches_at:
            return "0.0001" if volts else "9.9E37"
        return "9.9E37" if math.isinf(self.shown) else f"{self.shown:.6E}"


class SerialJob(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / "shop.sqlite"
        shop(path, JOB)
        self.folder = Path(folder.name)
        self.bench = SerialBench()
        application()
        self.window = MainWindow(Dispatcher())
        self.window.show()
        self.window.set_workplace(Workplace(Options(False, path)), engine_for)
        self.window.activateWindow()
        settle(self.window.isActiveWindow)
        self.addCleanup(close_window, self.window)

    @property
    def meters(self) -> MetersView:
        page = self.window.area("meters")
        assert isinstance(page, MetersView)
        return page

    def connect(self) -> None:
        """Ctrl+M, the device's name, F7: it is meter A; and the foot switch is another key."""
        QTest.keyClick(self.window, Qt.Key.Key_M, Qt.KeyboardModifier.ControlModifier)
        QApplication.processEvents()
        stood = {name: made.text() for name, made in self.meters._buttons.items()}
        typed = "abcdefghijklmnopqrstuvwxyz:"
        for letter in typed:  # an address is typed: none of it turns a setting
            QTest.keyClick(focus(), letter)
        self.assertEqual(self.meters.entry.text(), typed)
        self.assertEqual({n: made.text() for n, made in self.meters._buttons.items()}, stood)
        self.meters.entry.clear()
        write(self.bench.path)
        settle(lambda: self.meters.rows.count() == 1)
        self.assertIn("SERIAL 4", the(self.meters.rows.item(0)).text())
        press(Qt.Key.Key_F7)
        self.assertIn("meter A", self.meters._notice.text())
        self.meters.learn_foot()
        press(Qt.Key.Key_A)
        self.assertIn("needed for typing", self.meters._notice.text())
        self.meters.learn_foot()
        press(Qt.Key.Key_Pause)
        self.assertIn("Pause", self.meters._foot.text())
        press(Qt.Key.Key_Escape)
        self.assertIn("Pause", (self.folder / "shop.sqlite.d" / "settings.json").read_text())

    def value_of(self, job: JobView, key: str) -> float:
        """What the faulty board shows at the point that is asked for now."""
        session = job.presenter.session
        if job.bench.card.phase == "bulk":
            return 1.1
        table = the(session.engine).table
        row = next(k for k, r in enumerate(table.rows) if r.key == JOB[0][4])
        return float(table.low[row, table.index(key)])

    def test_from_the_meters_page_to_the_verdict(self) -> None:
        self.connect()
        self.window.open_job(1)
        job = self.window.job
        assert job is not None
        settle(lambda: job.presenter.session.review is not None, 90)
        job.go("cold_checks")
        job.focus_work()
        press(Qt.Key.Key_M)
        settle(lambda: job.presenter.live.name == "SERIAL 4", 10)
        asked, still = "", time.monotonic()
        end = time.monotonic() + PATIENCE_SECONDS
        while job.bench.card.phase != "nothing":
            QApplication.processEvents()
            time.sleep(0.002)
            self.assertLess(time.monotonic(), end, job.notice.text())
            wanted = job.presenter.live.wanted
            key = f"{wanted.key} {len(job.presenter.session.records)}" if wanted else ""
            if key != asked:
                asked, still = key, time.monotonic()
                if wanted is not None:
                    self.bench.reach(self.value_of(job, wanted.key))
            quiet = time.monotonic() - still
            if wanted is not None and wanted.mode is MeterMode.ESR:  # this meter has none: typed
                before = len(job.presenter.session.records)
                QTest.keyClick(focus(), Qt.Key.Key_Pause)
                self.assertEqual(len(job.presenter.session.records), before)
                write(f"{self.value_of(job, wanted.key):.4g}")
                continue
            if job.bench.card.phase == "state" or quiet > 2.5:
                QTest.keyClick(focus(), Qt.Key.Key_Pause)
                still = time.monotonic()
        self.bench.silent = True
        start = time.monotonic()
        press(Qt.Key.Key_M)  # off again: the window does not wait for the meter
        self.assertLess(time.monotonic() - start, 1.0)
        session = job.presenter.session
        finding = session.reviewed.finding
        self.assertIn("Q201", {the(finding).part, *the(finding).twins})
        readings = session.state.live_readings
        own = [r for r in readings if "esr" not in r.probe]
        self.assertTrue(own and all(r.instrument == "SERIAL 4" for r in own))
        unsettled = [s for s in self.bench.settings if s not in ("CONF:VOLT:DC", "CONF:RES")]
        self.assertTrue(set(unsettled) <= {"CONF:DIOD", "CONF:CAP", "CONF:VOLT:AC", "CONF:CONT"})
