"""Start-up: the window first, then the shop, then the heavy rooms, while the person looks."""

from __future__ import annotations

import os
import sys
from collections.abc import Callable
from pathlib import Path
from types import TracebackType
from typing import Any

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from loose_rail.kernel.errors import LooseRailError, UsageError
from loose_rail.screens.main_window import MainWindow
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.dispatch import Dispatcher, Task

EXIT_BAD = 2
DISPLAY_NAMES = ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")


def make_application() -> QApplication:
    """The one QApplication, with fonts and style."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(sys.argv[:1])
    app.setApplicationName("loose-rail")
    app.setApplicationDisplayName("Loose Rail")
    theme.load_fonts()
    app.setFont(theme.font("text"))
    app.setStyleSheet(theme.style_sheet())
    return app


def run(demo: bool, data: Path | None, meter: str, second_meter: str = "") -> int:
    """Open the window and work until it is closed; returns the exit code."""
    _require_display()
    app = make_application()
    dispatcher = Dispatcher()
    window = MainWindow(dispatcher)
    window.fit_screen()
    sys.excepthook = said_in(window)
    window.show()
    failure: list[int] = []

    def open_shop() -> None:
        dispatcher.run(
            lambda task: _open(task, demo, data, meter, second_meter),
            lambda found: window.set_workplace(*found),
            lambda error: _refuse(app, error, failure),
        )

    QTimer.singleShot(0, open_shop)
    app.exec()
    dispatcher.stop()
    return failure[0] if failure else 0


def _require_display() -> None:
    """Qt would end the process where there is no display. Raises UsageError instead."""
    if not any(os.environ.get(name) for name in DISPLAY_NAMES):
        raise UsageError(
            "There is no display to open a window on.",
            "Start it from a desktop session, or set DISPLAY.",
        )


def _open(
    task: Task, demo: bool, data: Path | None, meter: str, second_meter: str
) -> tuple[Any, Any]:
    """Import the heavy rooms and open the shop; runs on a worker thread."""
    import loose_rail.screens.job.view  # noqa: F401 - loaded here so that opening a job is quick
    from loose_rail.bootstrap import Options, Workplace, engine_for

    options = Options(demo, data, meter, second_meter=second_meter)
    return Workplace(options), engine_for


def _refuse(app: QApplication, error: Exception, failure: list[int]) -> None:
    """The shop can't be opened: one clear line, exit code 2."""
    if not isinstance(error, LooseRailError):
        sys.__excepthook__(type(error), error, error.__traceback__)
        failure.append(1)
    else:
        sys.stderr.write(f"loose-rail: {error.one_line()}\n")
        failure.append(EXIT_BAD)
    app.quit()


Hook = Callable[[type[BaseException], BaseException, TracebackType | None], None]


def said_in(window: MainWindow) -> Hook:
    """What becomes of an error that a command raises to the event loop: one of the world's own, a
    refusal or a conflict with another window, is said in the window that is in front, where what
    was typed still stands; a bug goes to standard error instead of ending the process."""

    def said(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if not isinstance(error, LooseRailError):
            sys.__excepthook__(kind, error, trace)
            return
        active = (one for one in window.siblings if one.isActiveWindow())
        next(active, window).say_problem(error.one_line())

    return said
