"""A whole diagnosis with the hands at the probes: one key for the foot, the meters do the rest."""

import math
import tempfile
import time
import unittest
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from tests.fakes.qt_test import QTest
from tests.screens.helper import demo_job, focus, press, settle
from tests.shared import the

PATIENCE_SECONDS = 120.0
IDLE_SAMPLES = 25
"""More than the longest time that a rail needs to come up, in samples of the quick meter."""


class HandsFree(unittest.TestCase):
    def setUp(self) -> None:
        self.job = demo_job(self, "cold_checks", at_once=False)
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)
        self.session = self.job.presenter.session

    def foot(self) -> None:
        QTest.keyClick(focus(), Qt.Key.Key_F10)
        QApplication.processEvents()

    def work(self, mishap: str = "") -> None:
        """The foot confirms states and holds what reads open, nothing, or was missed in a drop-out:
        where so many samples of a point have come and none was held. The meter does the rest."""
        end = time.monotonic() + PATIENCE_SECONDS
        meter = self.job.presenter.live.meter
        count, fed = len(self.session.records), 0
        while self.job.bench.card.phase != "nothing":
            QApplication.processEvents()
            time.sleep(0.002)
            if len(self.session.records) != count:
                count, fed = len(self.session.records), len(meter.values)
                if mishap and len(self.session.state.live_readings) == 2:
                    the(self.job.presenter.entry.hands).mishap(mishap)  # type: ignore[attr-defined]
                    mishap = ""
            watched = self.job.presenter.live.asked() is None or len(meter.values) > fed + 1
            waits = watched and self.job.bench.card.phase in ("state", "lamp")
            idle = meter.phase in ("touch", "lift")
            if waits or (idle and len(meter.recent(math.inf)[0]) > IDLE_SAMPLES):
                self.foot()
            self.assertLess(
                time.monotonic(),
                end,
                (self.job.notice.text(), str(self.session.reviewed.step)),
            )

    def test_the_demo_job_needs_a_foot_and_no_hand(self) -> None:
        press(Qt.Key.Key_M)
        settle(lambda: self.job.presenter.live.name != "")
        self.work()
        finding = self.session.reviewed.finding
        assert finding is not None
        self.assertEqual(finding.part, "C21")
        readings = self.session.state.live_readings
        self.assertTrue(all("meter" in r.instrument.lower() for r in readings))
        self.assertGreaterEqual(len({r.candidate for r in readings}), len(readings) - 1)
        self.assertIn("held", self.job.live.sounds.played)
        trace = self.job.presenter.live.trace
        self.assertTrue(any("meter B" in c.name for c in trace.channels))
        power = next(m.seconds for m in trace.markers if "standby" in m.words)
        volts = next(c for c in trace.channels if c.name == "Meter A, DC volts")
        self.assertLess(volts.seconds[0], power, "the first second after power is not recorded")
        self.assertGreater(volts.seconds[-1], power)
        press(Qt.Key.Key_M)
        self.assertFalse(self.job.live._streams)
        QTest.keyClick(focus(), Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
        csv = Path(self.folder.name) / "readings.csv"
        self.job.trace.save_csv(csv)
        settle(lambda: "written" in self.job.notice.text())
        rows = sum(len(c) for c in trace.channels)
        self.assertGreater(len(csv.read_text().splitlines()), rows / 3)
        self.job.trace.read_log(csv)
        settle(lambda: self.job.trace.desk.reads_log, 60)
        self.assertIn("reading", self.job.trace._sentence.text())

    def test_a_meter_that_drops_out_and_babbles_loses_nothing(self) -> None:
        press(Qt.Key.Key_M)
        settle(lambda: len(self.session.state.live_readings) >= 1, PATIENCE_SECONDS)
        said: list[str] = []
        tell = self.job.tell
        self.job.tell = lambda notice: (said.append(notice.text), tell(notice))  # type: ignore[assignment, func-returns-value, method-assign]
        the(self.job.presenter.entry.hands).mishap("HANGUP 90")  # type: ignore[attr-defined]
        settle(lambda: self.job.presenter.live.trouble != "", 60)
        before = len(self.session.state.live_readings)
        self.assertIn("does not answer", self.job.notice.text())
        self.assertIn("lost", self.job.live.sounds.played)
        self.job.choose_probe("C21.esr@unplugged")  # a reading is asked for, whatever came first
        self.job.focus_work()
        QTest.keyClicks(focus(), "0.04")  # the window takes keys while the meter is away
        self.assertEqual(the(self.job.card).entry.text(), "0.04")
        press(Qt.Key.Key_Backspace)
        for _ in range(4):
            press(Qt.Key.Key_Backspace)
        self.assertEqual(len(self.session.state.live_readings), before)
        the(self.job.presenter.entry.hands).mishap("HANGUP 0")  # type: ignore[attr-defined]
        settle(lambda: self.job.presenter.live.trouble == "", 40)
        self.assertTrue(any("answers again" in words for words in said), said)
        self.work("BABBLE 3")
        finding = self.session.reviewed.finding
        self.assertEqual(the(finding).part, "C21")
        dropped = [m.words for m in self.job.presenter.live.trace.markers]
        self.assertIn("meter dropped out", dropped)
