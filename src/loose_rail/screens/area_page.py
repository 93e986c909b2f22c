"""What every area of its own can do: take the shop, and say when it is done."""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module
from pathlib import Path

from PyQt6.QtCore import pyqtSignal

from loose_rail.app.session import JobSession
from loose_rail.screens.shared.areas import AREAS
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shared.page import SidedPage
from loose_rail.screens.workplace import Workplace


class AreaPage(SidedPage):
    """A page at the left edge; `settings_changed` tells the window to heed them at once."""

    left = pyqtSignal()
    settings_changed = pyqtSignal()

    def begin(self, workplace: Workplace) -> None:
        """The page comes to the front with the shop as it is."""
        raise NotImplementedError

    def heed(self, session: JobSession, meant: str = "") -> None:
        """The job that is open, where the page goes by it; `meant` are the words that the person
        looked at."""

    def take_file(self, path: Path) -> None:
        """A file of the kind that this area keeps."""
        raise NotImplementedError


def open_area(name: str, dispatcher: Dispatcher) -> AreaPage:
    """Make the page of an area of its own."""
    area = next(one for one in AREAS if one.name == name)
    module = import_module(f"loose_rail.screens.{name}.view")
    made: Callable[[Dispatcher], AreaPage] = getattr(module, area.page)
    return made(dispatcher)
