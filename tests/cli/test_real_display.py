"""On a real X display, and across a process that is killed: what offscreen alone can't show."""

import os
import shutil
import signal
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from loose_rail.jobs import events as ev
from loose_rail.storage.store import SqliteStore

TYPES_AND_DIES = """
import os, signal, sys
from pathlib import Path
from PyQt6.QtCore import Qt
from tests.fakes.qt_test import QTest
from tests.screens.helper import focus, measured_empty, open_window, press
window = open_window(Path(sys.argv[1]))
window.shelf.rows.setFocus()
press(Qt.Key.Key_Return)
measured_empty(window.job)
QTest.keyClicks(focus(), sys.argv[2])
press(Qt.Key.Key_Return)
QTest.keyClicks(focus(), "99")
os.kill(os.getpid(), signal.SIGKILL)
"""


class Killed(unittest.TestCase):
    def test_what_was_accepted_survives_the_kill_and_what_was_half_typed_does_not(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "shop.sqlite"
            done = subprocess.run(
                [sys.executable, "-c", TYPES_AND_DIES, str(path), "18.6k"],
                env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
                capture_output=True,
                text=True,
            )
            self.assertEqual(done.returncode, -signal.SIGKILL, done.stderr)
            store = SqliteStore(path)
            self.addCleanup(store.close)
            kept = [e.event.typed for e in store.load(1) if isinstance(e.event, ev.ReadingTaken)]
            self.assertEqual(kept, ["18.6k"])


@unittest.skipUnless(shutil.which("Xvfb"), "Xvfb is not installed; bin/setup test installs it")
class OnXvfb(unittest.TestCase):
    def test_a_whole_job_on_an_x_display(self) -> None:
        reading, writing = os.pipe()
        command = ["Xvfb", "-displayfd", str(writing), "-screen", "0", "1280x800x24"]
        server = subprocess.Popen(
            [*command, "-nolisten", "tcp"], pass_fds=[writing], stderr=subprocess.DEVNULL
        )
        os.close(writing)
        self.addCleanup(server.wait)
        self.addCleanup(server.terminate)
        with os.fdopen(reading) as line:
            number = line.readline().strip()
        self.assertTrue(number.isdigit())
        name = "tests.whole_jobs.test_whole_job.WholeJob.test_the_simulated_meter_is_one_key_away"
        done = subprocess.run(
            [sys.executable, "-m", "unittest", name],
            env={**os.environ, "QT_QPA_PLATFORM": "xcb", "DISPLAY": f":{number}"},
            capture_output=True,
            text=True,
        )
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertIn("Ran 1 test", done.stderr)


if __name__ == "__main__":
    unittest.main()
