"""Start-up: the window first; what runs behind it (`running`) and the shop come while the person
looks."""

from __future__ import annotations

import os
import sys
from pathlib import Path
from typing import Any

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import msgspec
from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication

from loose_rail.app.window_state import WindowState
from loose_rail.cli.display import require_display
from loose_rail.cli.start import Start
from loose_rail.screens.main_window import MainWindow
from loose_rail.screens.shared import files, theme
from loose_rail.screens.shared.desktop import (
    APPLICATION_ID,
    desktop_theme,
    kept_name,
    wear,
    when_it_changes,
)
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.storage.places import window_state_path
from loose_rail.storage.window_state import read_window_state, write_window_state

OPEN_ALREADY = "This shop is open already: its window is in front now.\n"


def make_application(chosen: str = "") -> QApplication:
    """The one QApplication, with fonts and style; in the theme of this name, else the desktop's."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        QApplication.setDesktopFileName(APPLICATION_ID)
        app = QApplication(["loose-rail"])
    app.setApplicationName("loose-rail")
    app.setApplicationDisplayName("Loose Rail")
    theme.load_fonts()
    app.setWindowIcon(QIcon(str(theme.ASSETS / "desktop" / f"{APPLICATION_ID}.svg")))
    app.setFont(theme.font("text"))
    wear(app, theme.THEMES.get(chosen) or desktop_theme())
    return app


def run(start: Start) -> int:
    """Open the window and work until it is closed; returns the exit code."""
    require_display()
    kept = Kept(window_state_path())
    app = make_application(kept.state.theme)
    shop = start.shop
    if shop is not None:
        from loose_rail.screens.shared.doorbell import ring  # a copy of the demo has no door

        if ring(shop, start.file):
            sys.stdout.write(OPEN_ALREADY)
            return 0
    files.remember(kept.state.folder, lambda folder: kept.keep(folder=folder))
    window = MainWindow(Dispatcher())
    window.restore_geometry(kept.state.geometry)
    window.leaving.connect(lambda geometry: kept.keep(geometry=geometry))
    window.theme_chosen.connect(lambda: kept.keep(theme=kept_name(theme.current())))
    when_it_changes(lambda: _follow(window, kept))
    window.show()
    behind: list[Any] = []

    def begin() -> None:
        from loose_rail.cli.running import Running  # after the first paint

        behind.append(Running(window, start))

    QTimer.singleShot(0, begin)
    app.exec()
    return behind[0].end() if behind else 0


class Kept:
    """How the window stood, and what is kept of it as it changes."""

    def __init__(self, path: Path) -> None:
        self._path = path
        self.state: WindowState = read_window_state(path)
        self.trouble = ""

    def keep(self, **changed: str) -> None:
        self.state = msgspec.structs.replace(self.state, **changed)
        try:
            write_window_state(self._path, self.state)
        except OSError as error:  # no work of anybody's: noted, not asked about
            self.trouble = str(error)


def _follow(window: MainWindow, kept: Kept) -> None:
    """The desktop went dark or light: so does the window, unless a theme was chosen by hand."""
    if not kept.state.theme:
        window.wear(desktop_theme())
