"""Pages that stand in front of a stage and go back to it: photographs, recording, guides."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtWidgets import QStackedWidget

from loose_rail.screens.guides.view import GuideView
from loose_rail.screens.own_board.view import JobBoardView
from loose_rail.screens.photos.view import PhotoView
from loose_rail.screens.recording.view import TraceView
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import FrontPage


@dataclass(frozen=True, slots=True)
class FrontEntry:
    """A page in front of the stages; `action` is that of its key in the list of keys."""

    action: str
    make: Callable[[JobHost], FrontPage]


FRONT_PAGES = {
    entry.action: entry
    for entry in (
        FrontEntry(
            "photos", lambda host: PhotoView(host.desks.album, host.dispatcher, host.desks.board)
        ),
        FrontEntry(
            "trace", lambda host: TraceView(host.desks.trace, host.dispatcher, host.desks.album)
        ),
        FrontEntry("guide", GuideView),
        FrontEntry("board", JobBoardView),
    )
}


class FrontPages:
    """Belongs to one job; Escape on any page goes back to the stage. A page is made when it is
    first asked for: charts take as long as the rest of the job."""

    def __init__(self, host: JobHost, stack: QStackedWidget, stage: Callable[[], str]) -> None:
        self._host = host
        self._stack = stack
        self._stage = stage
        self._over = ""
        self._made: dict[str, FrontPage] = {}

    def __getitem__(self, action: str) -> FrontPage:
        if action not in self._made:
            page = FRONT_PAGES[action].make(self._host)
            page.left.connect(self.leave)
            page.said.connect(self._host.tell)
            self._stack.addWidget(page)
            self._made[action] = page
        return self._made[action]

    def made(self, action: str) -> FrontPage | None:
        """A page where it has been asked for before."""
        return self._made.get(action)

    @property
    def pages(self) -> tuple[FrontPage, ...]:
        """Every page, made where it is not yet."""
        return tuple(self[action] for action in FRONT_PAGES)

    def stay(self) -> bool:
        """Whether one of them stays in front of the stage; it is drawn again then."""
        page = self._stack.currentWidget()
        if self._stage() != self._over or page not in self._made.values():
            return False
        assert isinstance(page, FrontPage)
        page.draw_again()
        return True

    def show(self, action: str) -> None:
        """Bring a page to the front."""
        page = self[action]
        self._over = self._stage()
        self._stack.setCurrentWidget(page)
        page.draw_again()
        page.focus_work()

    def show_guide(self, key: str) -> None:
        """A guide by its key."""
        page = self["guide"]
        assert isinstance(page, GuideView)
        page.open_guide(key)
        self.show("guide")

    def leave(self) -> None:
        """Back to the stage."""
        self._over = ""
        self._host.refresh()
