"""Run under a session bus of its own: a small desktop that answers, and the program that asks."""

import subprocess
import sys
from typing import Any

from PyQt6.QtCore import QCoreApplication, QObject, QTimer, pyqtClassInfo, pyqtSlot
from PyQt6.QtDBus import QDBusConnection
from PyQt6.QtWidgets import QApplication

from loose_rail.screens.shared.session_bus import NOTIFICATIONS, SCREEN_SAVER, Awake, note

LIVES_MILLISECONDS = 20_000
serves: Any = pyqtClassInfo


@serves("D-Bus Interface", SCREEN_SAVER[0])
class ScreenSaver(QObject):
    @pyqtSlot(str, str, result="uint")
    def Inhibit(self, name: str, why: str) -> int:
        print("Inhibit", name, why, flush=True)
        return 77

    @pyqtSlot("uint")
    def UnInhibit(self, cookie: int) -> None:
        print("UnInhibit", cookie, flush=True)


@serves("D-Bus Interface", NOTIFICATIONS[0])
class Notifications(QObject):
    @pyqtSlot(str, "uint", str, str, str, "QStringList", "QVariantMap", int, result="uint")
    def Notify(self, *told: object) -> int:
        print("Notify", *told[:5], flush=True)
        QTimer.singleShot(0, QCoreApplication.quit)
        return 5


def answer() -> None:
    app = QCoreApplication([])
    bus, every = QDBusConnection.sessionBus(), QDBusConnection.RegisterOption.ExportAllSlots
    for place, served in ((SCREEN_SAVER, ScreenSaver()), (NOTIFICATIONS, Notifications())):
        served.setParent(app)
        bus.registerService(place[0])
        bus.registerObject(place[1], served, every)
    print("ready", flush=True)
    QTimer.singleShot(LIVES_MILLISECONDS, app.quit)
    app.exec()


def ask() -> None:
    desktop = subprocess.Popen([sys.executable, __file__, "answer"], stdout=subprocess.PIPE)
    assert desktop.stdout is not None
    desktop.stdout.readline()
    app = QApplication([])
    awake = Awake()
    awake.begin("reading")
    print(desktop.stdout.readline().decode().strip())
    print("held", awake.held, flush=True)
    awake.end()
    note("Drained", "Measure it.")
    QTimer.singleShot(0, app.quit)
    app.exec()
    sys.stdout.write(desktop.stdout.read().decode())


if __name__ == "__main__":
    answer() if sys.argv[1:] else ask()
