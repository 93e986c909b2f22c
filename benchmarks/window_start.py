"""Window shown from process start: the application against a bare PyQt6 window, same run.

Each is started as a process of its own, in turn, and ends itself at its window's first paint; the
ratio of the medians is what counts, not the milliseconds. Aim: 3 or less. Beside it, the processor
time of the application until the shelf of an own shop is on the screen. Aim: under 1.0 s.
Run: .venv/bin/python benchmarks/window_start.py
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time

ROUNDS = 9
AIM, AIM_SHELF_SECONDS = 3.0, 1.0
WATCH = """
import os, sys, time
from PyQt6.QtCore import QEvent, QObject
class Watch(QObject):
    def eventFilter(self, widget, event):
        if event.type() == QEvent.Type.Paint and widget.isWidgetType() and widget.isWindow():
            sys.stdout.write(f"shown {time.monotonic()}\\n")
            sys.stdout.flush()
            os._exit(0)
        return False
watch = Watch()
"""
BARE = f"""{WATCH}
from PyQt6.QtWidgets import QApplication, QLabel
app = QApplication(sys.argv)
app.installEventFilter(watch)
window = QLabel("bare")
window.resize(1280, 800)
window.show()
app.exec()
"""
OURS = f"""{WATCH}
import loose_rail.cli.window as application
kept = application.make_application
def watched(*theme):
    app = kept(*theme)
    app.installEventFilter(watch)
    return app
application.make_application = watched
from loose_rail.__main__ import main
sys.argv[1:] = ["demo"]
sys.exit(main())
"""


SHELF = """
import os, sys
from PyQt6.QtCore import QTimer
from loose_rail.screens.main_window import MainWindow
kept = MainWindow.set_shop
def shown(self, shop):
    kept(self, shop)
    self.repaint()
    times = os.times()
    sys.stdout.write(f"shown {times.user + times.system}\\n")
    sys.stdout.flush()
    os._exit(0)
MainWindow.set_shop = shown
from loose_rail.__main__ import main
sys.argv[1:] = []
sys.exit(main())
"""


def shelf_seconds(folder: str) -> float:
    """Processor time of one start to the shelf of an own shop."""
    names = {f"XDG_{one}_HOME": folder for one in ("DATA", "CACHE", "STATE", "CONFIG")}
    env = {**os.environ, "QT_QPA_PLATFORM": "offscreen", **names}
    command = [sys.executable, "-c", SHELF]
    done = subprocess.run(command, env=env, check=True, capture_output=True, text=True)
    return float(done.stdout.rsplit("shown ", 1)[1])


def seconds(script: str, folder: str) -> float:
    """One start, from launching the process to the first paint of its window."""
    env = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "XDG_DATA_HOME": folder}
    env["XDG_CACHE_HOME"] = folder
    start = time.monotonic()
    command = [sys.executable, "-c", script]
    done = subprocess.run(command, env=env, check=True, capture_output=True, text=True)
    return float(done.stdout.rsplit("shown ", 1)[1]) - start


def main() -> int:
    """Print both medians and their ratio; exit code 1 above the aim."""
    with tempfile.TemporaryDirectory() as folder:
        for script in (BARE, OURS):  # warm the disk
            seconds(script, folder)
        pairs = [(seconds(BARE, folder), seconds(OURS, folder)) for _ in range(ROUNDS)]
    bare, ours = (statistics.median(column) for column in zip(*pairs, strict=True))
    print(f"bare window {bare:.2f} s, application {ours:.2f} s: ratio {ours / bare:.2f}, aim {AIM}")
    with tempfile.TemporaryDirectory() as folder:
        shelf_seconds(folder)
        shelf = [shelf_seconds(folder) for _ in range(ROUNDS)]
    middle = statistics.median(shelf)
    print(
        f"to the shelf: {middle:.2f} s of processor time, {min(shelf):.2f} to {max(shelf):.2f}, "
        f"aim {AIM_SHELF_SECONDS}"
    )
    return 0 if ours / bare <= AIM and middle <= AIM_SHELF_SECONDS else 1


if __name__ == "__main__":
    sys.exit(main())
