"""Jobs that come to the shelf otherwise than by taking a set in: a set that came back, a bundle of
another shop."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Protocol

from loose_rail.app.outcome import Outcome
from loose_rail.kernel.errors import LooseRailError

if TYPE_CHECKING:  # the shelf is shown before the rooms that compute are loaded
    from loose_rail.screens.shelf.view import ShelfView
    from loose_rail.screens.workplace import Workplace


class OpenJob(Protocol):
    """The job in front."""

    def tell(self, outcome: Outcome) -> None: ...


class Window(Protocol):
    """The window, as far as this needs it."""

    @property
    def shelf(self) -> ShelfView: ...
    @property
    def job(self) -> OpenJob | None: ...
    def open_job(self, number: int) -> None: ...


def came_back(window: Window, workplace: Workplace, job: int, complaint: str) -> None:
    """Open the new job of a set that came back, or say on the shelf why not."""
    try:
        number = workplace.came_back(job, complaint)
    except LooseRailError as error:
        window.shelf.show_problem(error.one_line())
        return
    window.open_job(number)


def take_bundle(window: Window, workplace: Workplace, path: Path) -> None:
    """Take a job bundle in and open its job, or say on the shelf why not."""
    try:
        number, words = workplace.take_bundle(path)
    except LooseRailError as error:
        window.shelf.show_problem(error.one_line())
        return
    window.open_job(number)
    if window.job is not None:
        window.job.tell(Outcome(f"{words}."))
