"""The recording on its page, the desk behind it, and the sounds, with what breaks in each."""

import math
import os
import stat
import tempfile
import unittest
import wave
from pathlib import Path
from unittest import mock

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage

from loose_rail.app.album import Album
from loose_rail.app.live_reading import WATCH_KEY, LiveDesk
from loose_rail.app.metered_entry import Wanted
from loose_rail.app.outcome import Outcome
from loose_rail.app.recording import TraceDesk
from loose_rail.screens.live.present import live_state
from loose_rail.screens.recording.present import stretch_sentence
from loose_rail.screens.recording.view import TraceView
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shared.sounds import Sounds
from loose_rail.screens.shared.strip_chart import StripChart
from loose_rail.vocabulary.meter_mode import MeterMode
from tests.fakes.meter_user import FakeBench
from tests.fakes.qt_test import QTest
from tests.screens.helper import application

PERIOD = 0.2


def volts(key: str, nominal: float) -> Wanted:
    return Wanted(key, MeterMode.DC_VOLTS, True, nominal, (0.95 * nominal, 1.05 * nominal))


class Desk(unittest.TestCase):
    def setUp(self) -> None:
        self.lifts = 0

        def lift() -> None:
            self.lifts += 1

        self.bench = FakeBench([volts("a", 5.0), volts("b", 12.0)])
        self.desk = LiveDesk(self.bench, lift, has_second=True)
        self.at = 0.0

    def play(self, value: float, count: int, key: str = "") -> None:
        """Samples at five a second for whatever is asked, or for a key."""
        for _ in range(count):
            asked = self.desk.asked()
            self.at += PERIOD
            self.desk.sample(key or (asked[0] if asked else "?"), self.at, value)

    def test_two_points_are_taken_in_turn_and_late_samples_dropped(self) -> None:
        self.assertIsNone(self.desk.asked())
        self.desk.turn()
        self.play(5.01, 12)
        self.assertEqual([key for key, _, _ in self.bench.taken], ["a"])
        self.play(5.01, 30)  # the probes are still on the first point
        self.assertEqual(len(self.bench.taken), 1)
        self.desk.sample("a", self.at, 99.0)  # a late one
        self.assertNotIn(99.0, self.desk.meter.values)
        self.play(0.0, 10)
        self.play(12.02, 12)
        self.assertEqual([key for key, _, _ in self.bench.taken], ["a", "b"])
        self.assertEqual(self.lifts, 2)
        self.assertIsNone(self.desk.asked())

    def test_a_refused_reading_is_not_lost_in_a_loop(self) -> None:
        self.desk.turn()
        self.bench.refuses = "not in this state"
        self.play(5.0, 12)
        self.assertEqual(self.bench.taken, [])
        self.bench.refuses = ""
        self.play(0.0, 10)
        self.play(5.0, 12)
        self.assertEqual(len(self.bench.taken), 1)

    def test_the_second_meter_answers_for_the_bulk_only_when_asked_and_still(self) -> None:
        self.desk.turn()
        self.play(1.2, 20, WATCH_KEY)
        self.assertEqual(self.bench.taken, [])
        self.bench.drained_asked = True
        self.play(160.0, 20, WATCH_KEY)
        self.assertEqual(self.bench.taken, [])
        for volts_left in (110.0, 76.0, 52.0, 36.0, 25.0, 17.0, 12.0, 8.2, 5.6):
            self.play(volts_left, 1, WATCH_KEY)
        self.play(4.0, 12, WATCH_KEY)
        self.assertEqual([(k, n) for k, _, n in self.bench.taken], [("bulk", "Meter B")])
        self.assertIn("4.000 V (meter B)", live_state(self.desk).watched)

    def test_the_panel_says_what_the_stream_does(self) -> None:
        self.desk.turn()
        self.desk.asked()
        for number in range(24):
            self.at += PERIOD
            self.desk.sample("a", self.at, 4.6 if (number * PERIOD * 1.1) % 1 < 0.5 else 3.0)
        state = live_state(self.desk)
        self.assertIn("pulsing, 1.1 a second", state.character)
        self.assertIn("min 3.000 V · max 4.600 V", state.statistics)
        self.desk.troubled("gone")
        self.assertEqual(live_state(self.desk).trouble, "gone")
        self.assertEqual([m.words for m in self.desk.trace.markers], ["meter dropped out"])

    def test_what_is_said_of_a_stretch_begins_at_its_last_marker_with_the_probes_on(self) -> None:
        recording, line = TraceDesk(self.desk), self.desk.trace.channel("Meter A, DC volts", "V")

        def show(*values: float) -> None:
            for value in values:
                self.at += PERIOD
                line.add(self.at, value)

        show(*[1.4] * 8, *[0.0] * 9)
        self.desk.mark("cable off")
        ticks = [4.6 if (number * PERIOD * 0.98) % 1 < 0.5 else 3.0 for number in range(26)]
        show(*[0.0] * 6, *ticks)
        said = stretch_sentence(recording, (0.0, self.at))
        self.assertIn("since “cable off”: pulsing", said)
        self.assertIn("26 readings", said)
        self.assertIn("what is seen", stretch_sentence(recording, (0.0, 3.2)))
        self.desk.mark("probes off")
        show(*[0.0] * 14)
        self.assertIn("15 readings", stretch_sentence(recording, (0.0, self.at + 0.1)))


class Recording(unittest.TestCase):
    def setUp(self) -> None:
        application()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.live = LiveDesk(FakeBench([volts("a", 5.0)]), lambda: None, True)
        self.live.turn()
        rail = self.live.trace.channel("Meter A, DC volts", "V")
        for number in range(200):
            rail.add(0.1 * number, 4.9 + 0.001 * (number % 3))
            self.live.sample(WATCH_KEY, 10 + 0.1 * number, 320.0)
        self.album = mock.Mock(spec=Album)
        self.view = TraceView(TraceDesk(self.live), Dispatcher(at_once=True), self.album)
        self.said: list[Outcome] = []
        self.view.said.connect(self.said.append)
        self.view.resize(1200, 640)
        self.view.show()
        self.addCleanup(self.view.deleteLater)
        self.view.draw_again()

    def test_zoom_pan_marker_and_files(self) -> None:
        entry = self.view.entry
        before = self.view.chart.viewRange()[0]
        QTest.keyClicks(entry, "+")
        closer = self.view.chart.viewRange()[0]
        self.assertLess(closer[1] - closer[0], before[1] - before[0])
        QTest.keyClick(entry, Qt.Key.Key_Left)
        self.assertLess(self.view.chart.viewRange()[0][0], closer[0])
        self.assertFalse(self.view.chart.follows)
        QTest.keyClick(entry, Qt.Key.Key_F5)
        self.assertTrue(self.view.chart.follows)
        QTest.keyClicks(entry, "tapped C21")
        QTest.keyClick(entry, Qt.Key.Key_Return)
        self.assertEqual(self.live.trace.markers[-1].words, "tapped C21")
        self.assertEqual(len(self.view.chart._markers), 1)
        self.assertTrue(self.view.below.isVisible())  # 320 V beside 5 V: a scale of its own
        self.assertIn("steady", self.view._sentence.text())
        picture = self.folder / "seen.png"
        self.view.save_png(picture)
        self.assertGreater(QImage(str(picture)).width(), 300)
        self.view.save_png(self.folder / "no" / "where.png")
        self.assertEqual(self.said[-1].kind, "problem")
        self.view.save_csv(self.folder / "seen.csv")
        self.assertIn("written", self.said[-1].text)
        self.view.save_csv(self.folder)
        self.assertEqual(self.said[-1].kind, "problem")

    def test_what_is_seen_goes_to_the_album_in_the_colours_of_paper(self) -> None:
        self.addCleanup(theme.use, theme.current())
        theme.use(theme.NIGHT)
        self.view.restyle()
        self.album.keep_bytes.return_value = ([("digest", "readings")], [])
        self.album.record_plot.return_value = Outcome("On the sheet")
        QTest.keyClick(self.view.entry, Qt.Key.Key_F9)
        drawn = QImage.fromData(self.album.keep_bytes.call_args.args[0])
        self.assertGreater(drawn.pixelColor(3, 3).lightness(), 200)  # paper, at night too
        self.assertIs(theme.current(), theme.NIGHT)
        self.assertIn("mean 4.901 V", self.album.record_plot.call_args.args[1])
        self.live.trace.channels.clear()
        QTest.keyClick(self.view.entry, Qt.Key.Key_F9)
        self.assertEqual(self.said[-1].kind, "problem")

    def test_a_foreign_log_takes_the_place_and_goes_again(self) -> None:
        path = self.folder / "other.csv"
        path.write_text("Time;Volt [V];Temp [°C]\n0;5,0;20\n1;4,0;21\n2;3,0;22\n")
        self.view.read_log(path)
        self.assertTrue(self.view.desk.reads_log)
        self.assertIn("3.000 V to 5.000 V", self.view._sentence.text())
        QTest.keyClicks(self.view.entry, "9")
        QTest.keyClick(self.view.entry, Qt.Key.Key_Return)
        self.assertIn("from 1 to 3", self.said[-1].text)
        QTest.keyClicks(self.view.entry, "3")
        QTest.keyClick(self.view.entry, Qt.Key.Key_Return)
        self.assertIn("Temp", self.said[-1].text)
        path.write_text("words only\nand more\n")
        self.view.read_log(path)
        self.assertEqual(self.said[-1].kind, "problem")
        self.view.read_log(self.folder / "missing.csv")
        self.assertIn("can't be read", self.said[-1].text)
        QTest.keyClick(self.view.entry, Qt.Key.Key_F5)
        self.assertFalse(self.view.desk.reads_log)

    def test_open_readings_leave_a_gap_and_markers_go_with_the_trace(self) -> None:
        chart = StripChart()
        self.addCleanup(chart.deleteLater)
        seconds = np.arange(10.0)
        values = np.where(seconds == 5, math.inf, 5.0)
        chart.show_trace([("A", "V", seconds, values)])
        drawn = chart._curves[0].getOriginalDataset()[1]
        self.assertTrue(np.isnan(drawn[5]) and np.isfinite(np.delete(drawn, 5)).all())
        chart.show_markers([(1.0, "one"), (2.0, "two")])
        chart.show_markers([(1.0, "one")])
        self.assertEqual(len(chart._markers), 1)
        chart.show_band(None)
        self.assertFalse(chart._band.isVisible())


class Tones(unittest.TestCase):
    def test_tones_and_speech_go_to_what_the_system_has(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            told = Path(folder) / "told"
            for name in ("paplay", "spd-say"):
                script = Path(folder) / name
                script.write_text(f'#!/bin/sh\necho {name} "$@" >> {told}\ncat "$1" > {told}.wav\n')
                script.chmod(script.stat().st_mode | stat.S_IXUSR)
            with mock.patch.dict(os.environ, {"PATH": f"{folder}:{os.environ['PATH']}"}):
                sounds = Sounds(speech=True)
                self.assertTrue(sounds.can_speak)
                sounds.play("held")
                for one in sounds._running:
                    one.wait(10)
                sounds.say("C21, red on plus")
                for one in sounds._running:
                    one.wait(10)
            lines = told.read_text().splitlines()
            self.assertTrue(lines[0].startswith("paplay") and lines[0].endswith("held.wav"))
            self.assertIn("spd-say C21, red on plus", lines)
            sounds.tones = sounds.speech = False
            sounds.play("held")
            sounds.say("nothing")
            self.assertEqual(len(told.read_text().splitlines()), len(lines))
            with wave.open(str(sounds._file("lost"))) as tone:
                self.assertEqual((tone.getnchannels(), tone.getsampwidth()), (1, 2))
                self.assertGreater(tone.getnframes() / tone.getframerate(), 0.2)
            sounds.close()
