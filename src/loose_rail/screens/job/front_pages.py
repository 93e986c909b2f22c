"""Pages that stand in front of a stage and go back to it: photographs, recording, guides."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from loose_rail.screens.guides.view import GuideView
from loose_rail.screens.photos.view import PhotoView
from loose_rail.screens.recording.view import TraceView
from loose_rail.screens.shared.dispatch import Dispatcher

if TYPE_CHECKING:
    from loose_rail.screens.job.view import JobView


class FrontPages(QObject):
    """Belongs to one `JobView`; Escape on any of them goes back to the stage."""

    def __init__(self, view: JobView, dispatcher: Dispatcher) -> None:
        super().__init__(view)
        self._view = view
        self._over = ""
        self.photos = PhotoView(view.presenter.album, dispatcher)
        self.guide = GuideView()
        self.trace = TraceView(view.presenter.trace, dispatcher)
        self.guide.chosen.connect(self.draw_guide)
        for page in (self.photos, self.guide, self.trace):
            page.left.connect(self.leave)
            page.said.connect(view.tell)
            view.pages.addWidget(page)

    def stay(self, stage: str) -> bool:
        """Whether one of them stays in front of this stage; it is drawn again then."""
        page = self._view.pages.currentWidget()
        if stage != self._over or page not in (self.photos, self.trace, self.guide):
            return False
        if page is self.photos:
            self.photos.show_album()
        return True

    def _show(self, page: QWidget) -> None:
        self._over = self._view.presenter.stage
        self._view.pages.setCurrentWidget(page)

    def show_guide(self, letter: str) -> None:
        """A guide by its name."""
        self.guide.guide = self._view.presenter.guide(letter)
        self.draw_guide()
        self._show(self.guide)
        self.guide.focus_work()

    def draw_guide(self) -> None:
        """The guide as it stands now."""
        self.guide.show_guide(self.guide.guide, self._view.presenter.suspects())

    def show_trace(self) -> None:
        """The recording of the meters."""
        self._show(self.trace)
        self.trace.show_trace()
        self.trace.focus_work()

    def show_photos(self) -> None:
        """The album."""
        self._show(self.photos)
        self.photos.show_album()
        self.photos.focus_work()

    def leave(self) -> None:
        """Back to the stage."""
        self._over = ""
        self._view.refresh()
