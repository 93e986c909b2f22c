"""What runs behind the window: the log, the ways to end, the door bell, the shop as it opens."""

from __future__ import annotations

import sys
import traceback
from collections.abc import Callable
from pathlib import Path
from types import TracebackType
from typing import Any

from PyQt6.QtWidgets import QApplication, QMessageBox

from loose_rail.cli.log_file import LOG, about, start_log, stop_log
from loose_rail.cli.signals import Endings
from loose_rail.cli.start import Start
from loose_rail.kernel.errors import LooseRailError
from loose_rail.screens.main_window import MainWindow
from loose_rail.screens.shared.doorbell import Doorbell
from loose_rail.screens.shared.unexpected import UnexpectedError
from loose_rail.storage.places import log_path

EXIT_BAD = 2


class Running:
    """Begins when the window has been shown; `end` when it is closed."""

    def __init__(self, window: MainWindow, start: Start) -> None:
        self._window, self._start = window, start
        self._code = 0
        self._opened: list[Any] = []
        sys.excepthook = said_in(window, start_log(log_path()))
        self._endings = Endings(window.end)
        shop = start.shop
        self._bell = Doorbell(shop, window.rung) if shop is not None else None
        self._dispatcher = window.dispatcher
        self._dispatcher.run(lambda task: _open(start, self._opened), self._shop_open, self._failed)

    def _shop_open(self, shop: Any) -> None:
        if not self._start.demo:  # the demo's jobs are laid on its shelf with the rest
            self._window.set_shop(shop)
        self._dispatcher.run(
            lambda task: _furnish(shop, self._opened), self._furnished, self._failed
        )

    def _furnished(self, found: tuple[Any, Any]) -> None:
        self._window.set_workplace(*found)
        if self._start.file:
            self._window.take_file(self._start.file)

    def _failed(self, error: Exception) -> None:
        """The shop can't be opened: one clear line here and on standard error, exit code 2."""
        if isinstance(error, LooseRailError):
            self._code = EXIT_BAD
            words = error.one_line()
            sys.stderr.write(f"loose-rail: {words}\n")
        else:
            self._code = 1
            LOG.critical("%s\n%s", about(), _trace(type(error), error, error.__traceback__))
            words = f"{type(error).__name__}: {error}"
        if sys.stderr.isatty() or QApplication.platformName() == "offscreen":
            self._window.close()
            QApplication.quit()
            return
        # from a launcher nobody reads standard error: the window would only flash up
        box = QMessageBox(QMessageBox.Icon.Warning, "Loose Rail", "The shop can't be opened.")
        box.setParent(self._window, box.windowFlags())
        box.setInformativeText(words)
        box.finished.connect(lambda _: QApplication.quit())
        box.open()

    def end(self) -> int:
        """Let go of everything; the exit code."""
        self._dispatcher.stop()
        for place in self._opened:
            place.close()
        self._endings.let_go()
        if self._bell is not None:
            self._bell.take_down()
        stop_log()
        return self._code


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
