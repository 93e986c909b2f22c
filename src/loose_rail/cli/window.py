"""Start-up: the window first, then the shop, then the heavy rooms, while the person looks."""

from __future__ import annotations

import os
import sys
import traceback
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from types import TracebackType
from typing import Any

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import msgspec
from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication, QMessageBox

from loose_rail.cli.display import require_display
from loose_rail.cli.log_file import LOG, about, start_log, stop_log
from loose_rail.cli.signals import Endings
from loose_rail.kernel.errors import LooseRailError
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
from loose_rail.screens.shared.doorbell import Doorbell, ring
from loose_rail.screens.shared.unexpected import UnexpectedError
from loose_rail.storage.places import default_store, log_path, window_state_path
from loose_rail.storage.window_state import read_window_state, write_window_state

EXIT_BAD = 2
OPEN_ALREADY = "This shop is open already: its window is in front now.\n"


@dataclass(frozen=True, slots=True)
class Start:
    """How the window was asked for: `file` is one to be taken in once the shop is open."""

    demo: bool = False
    data: Path | None = None
    meter: str = ""
    second_meter: str = ""
    file: str = ""

    @property
    def shop(self) -> Path | None:
        """The database that is opened, None for a copy that is thrown away."""
        return self.data or (None if self.demo else default_store())


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
    kept = _Kept(window_state_path())
    app = make_application(kept.state.theme)
    shop = start.shop
    if shop is not None and ring(shop, start.file):
        sys.stdout.write(OPEN_ALREADY)
        return 0
    log = start_log(log_path())
    files.remember(kept.state.folder, lambda folder: kept.keep(folder=folder))
    dispatcher = Dispatcher()
    window = MainWindow(dispatcher)
    window.restore_geometry(kept.state.geometry)
    sys.excepthook = said_in(window, log)
    window.leaving.connect(lambda geometry: kept.keep(geometry=geometry))
    window.theme_chosen.connect(lambda: kept.keep(theme=kept_name(theme.current())))
    when_it_changes(lambda: _follow(window, kept))
    endings = Endings(window.end)
    bell = Doorbell(shop, window.rung) if shop is not None else None
    window.show()
    failure: list[int] = []
    opened: list[Any] = []

    def failed(error: Exception) -> None:
        _refuse(app, window, error, failure)

    def open_shop() -> None:
        dispatcher.run(lambda task: _open(start, opened), shop_open, failed)

    def shop_open(shop: Any) -> None:
        if not start.demo:  # the demo's jobs are laid on its shelf with the rest
            window.set_shop(shop)
        dispatcher.run(lambda task: _furnish(shop, opened), furnished, failed)

    def furnished(found: tuple[Any, Any]) -> None:
        window.set_workplace(*found)
        if start.file:
            window.take_file(start.file)

    QTimer.singleShot(0, open_shop)
    app.exec()
    dispatcher.stop()
    for place in opened:
        place.close()
    endings.let_go()
    if bell is not None:
        bell.take_down()
    stop_log()
    return failure[0] if failure else 0


class _Kept:
    """How the window stood, and what is kept of it as it changes."""

    def __init__(self, path: Path) -> None:
        self._path = path
        self.state = read_window_state(path)

    def keep(self, **changed: str) -> None:
        self.state = msgspec.structs.replace(self.state, **changed)
        try:
            write_window_state(self._path, self.state)
        except OSError as error:  # no work of anybody's: noted, not asked about
            LOG.warning("The window's state can't be kept: %s", error)


def _follow(window: MainWindow, kept: _Kept) -> None:
    """The desktop went dark or light: so does the window, unless a theme was chosen by hand."""
    if not kept.state.theme:
        window.wear(desktop_theme())


def _open(start: Start, opened: list[Any]) -> Any:
    """Open the shop, for its shelf; runs on a worker thread."""
    from loose_rail.shop import Options, Shop

    options = Options(start.demo, start.data, start.meter, second_meter=start.second_meter)
    opened.append(Shop(options))
    return opened[0]


def _furnish(shop: Any, opened: list[Any]) -> tuple[Any, Any]:
    """Import the heavy rooms while the person looks at the shelf; runs on a worker thread."""
    import loose_rail.screens.job.view  # noqa: F401 - loaded here so that opening a job is quick
    from loose_rail.bootstrap import Workplace, engine_for

    place = Workplace(shop.options, shop)
    opened[:] = [place]
    return place, engine_for


def _refuse(app: QApplication, window: MainWindow, error: Exception, failure: list[int]) -> None:
    """The shop can't be opened: one clear line here and on standard error, exit code 2."""
    if isinstance(error, LooseRailError):
        failure.append(EXIT_BAD)
        sys.stderr.write(f"loose-rail: {error.one_line()}\n")
        words = error.one_line()
    else:
        failure.append(1)
        LOG.critical("%s\n%s", about(), _trace(type(error), error, error.__traceback__))
        words = f"{type(error).__name__}: {error}"
    if sys.stderr.isatty() or app.platformName() == "offscreen":
        window.close()
        app.quit()
        return
    # from a launcher nobody reads standard error: the window would only flash up
    box = QMessageBox(QMessageBox.Icon.Warning, "Loose Rail", "The shop can't be opened.")
    box.setParent(window, box.windowFlags())
    box.setInformativeText(words)
    box.finished.connect(lambda _: app.quit())
    box.open()


Hook = Callable[[type[BaseException], BaseException, TracebackType | None], None]


def said_in(window: MainWindow, log: Path | None = None) -> Hook:
    """What becomes of an error that a command raises to the event loop: one of the world's own, a
    refusal or a conflict with another window, is said in the window that is in front, where what
    was typed still stands; a bug goes into the log and is shown with what to send."""
    shown: list[UnexpectedError] = []

    def said(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        active = next((one for one in window.siblings if one.isActiveWindow()), window)
        if isinstance(error, LooseRailError):
            active.say_problem(error.one_line())
            return
        text = f"{about()}\n{_trace(kind, error, trace)}"
        LOG.critical("%s", text)
        if not shown:
            shown.append(UnexpectedError(active, log))
        shown[0].tell(text)

    return said


def _trace(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> str:
    """Places in the program, and what went wrong there; the words of the error may quote what was
    typed, so they stand last and can be struck before it is sent."""
    return "".join(traceback.format_exception(kind, error, trace))
