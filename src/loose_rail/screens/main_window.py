"""The window: the areas at the left edge, and the shelf or a job beside them."""

from __future__ import annotations

import sys
from collections.abc import Callable
from functools import cached_property, partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QCloseEvent, QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QStackedWidget,
    QWidget,
)

from loose_rail.app.outcome import Kind
from loose_rail.kernel.errors import LooseRailError
from loose_rail.screens.area_bar import AreaBar
from loose_rail.screens.arriving import came_back, take_bundle
from loose_rail.screens.desk_window import DeskWindow
from loose_rail.screens.live.stream import let_streams_end
from loose_rail.screens.predicting import Predicting
from loose_rail.screens.shared.areas import AREAS, BENCH, BOARDS, SHELF
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shared.keys import KEYS
from loose_rail.screens.shared.keys_page import KeysPage
from loose_rail.screens.shared.words_meant import words_meant
from loose_rail.screens.shelf.view import ShelfView

if TYPE_CHECKING:
    from loose_rail.app.outcome import Outcome
    from loose_rail.screens.area_page import AreaPage
    from loose_rail.screens.job.view import JobView
    from loose_rail.screens.new_job.view import NewJobView
    from loose_rail.screens.workplace import EngineFor, Shelved, Workplace

STREAMS_SECONDS = 1.0
PHOTO_SECONDS = 20.0
"""How long closing waits for photographs that are still being read [E]."""
HOUR_MILLISECONDS = 3_600_000


class MainWindow(DeskWindow):
    """Owns the views; the workplace comes later, when it has been imported and opened."""

    def __init__(self, dispatcher: Dispatcher, siblings: list[MainWindow] | None = None) -> None:
        super().__init__()
        self.siblings = [] if siblings is None else siblings
        self.siblings.append(self)
        self._dispatcher = dispatcher
        self.workplace: Workplace | None = None
        self._on_shelf: Shelved | None = None
        self._wanted: Callable[[], object] | None = None
        self._leaving = 0
        self._predicting = Predicting(self, dispatcher)
        self._area = SHELF
        self._pages: dict[str, AreaPage] = {}
        self._daily = QTimer(self)
        self._daily.setInterval(HOUR_MILLISECONDS)
        self._daily.timeout.connect(self._check_and_back_up)
        self.job: JobView | None = None
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self._bar = AreaBar()
        self._bar.chosen.connect(self.show_area)
        self._bar.help_asked.connect(self.show_help)
        row.addWidget(self._bar)
        self.stack = QStackedWidget()
        self.shelf = ShelfView()
        self.shelf.opened.connect(self.open_job)
        self.stack.addWidget(self.shelf)
        self.shelf.take_in_asked.connect(self.take_in)
        self.shelf.find_typed.connect(self.find_jobs)
        self.shelf.came_back.connect(self.came_back)
        row.addWidget(self.stack, 1)
        self.setCentralWidget(holder)
        self._shortcuts()

    @cached_property
    def new_job(self) -> NewJobView:
        """The form for a set that comes in, made when it is first asked for."""
        from loose_rail.screens.new_job.view import NewJobView  # the shelf is shown without it

        view = NewJobView()
        view.created.connect(self.open_job)
        view.left.connect(self.show_shelf)
        self.stack.addWidget(view)
        return view

    def area(self, name: str) -> AreaPage:
        """The page of an area of its own, made when it is first asked for."""
        if name not in self._pages:
            from loose_rail.screens.area_page import open_area  # the shelf is shown without it

            page = open_area(name, self._dispatcher)
            page.left.connect(self._leave_area)
            page.settings_changed.connect(self._use_settings)
            self.stack.addWidget(page)
            self._pages[name] = page
        return self._pages[name]

    def _shortcuts(self) -> None:
        actions: dict[str, Callable[[], object]] = {
            "help": self.show_help,
            **{area.name: partial(self.show_area, area.name) for area in AREAS},
            "take_in": self.take_in,
            "window": self.open_window,
            "full_screen": self.toggle_full_screen,
            "theme": self.toggle_theme,
            "quit": self.close,
        }
        for key in KEYS:
            if key.scope == "window":
                shortcut = QShortcut(QKeySequence(key.sequence), self)
                shortcut.activated.connect(actions[key.action])

    # ---- workplace and jobs ----------------------------------------------------------------

    def set_shop(self, shop: Shelved) -> None:
        """The shop is open; what is done in it is still being made ready."""
        self._on_shelf = shop
        self.show_shelf()

    def _ready(self, wanted: Callable[[], object]) -> bool:
        """Whether what is wanted can be done; if not yet, it is done as soon as it can."""
        if self.workplace is None and self._on_shelf is not None:
            self._wanted = wanted
            self.shelf.show_wait("One moment: the bench is being made ready.")
        return self.workplace is not None

    def set_workplace(self, workplace: Workplace, engine_for: EngineFor) -> None:
        """The shop is open and ready for work."""
        self.workplace, self._predicting.engine_for = workplace, engine_for
        self.shelf.show_wait("")
        shown, self._on_shelf = self._on_shelf is not None, workplace
        if not shown:  # else somebody may be finding words there
            self.show_shelf()
        wanted, self._wanted = self._wanted, None
        if wanted is not None:
            wanted()
        if workplace.problem:
            self.shelf.show_problem(workplace.problem)
        if self.siblings[0] is self:
            self._check_and_back_up()
            self._daily.start()

    def show_shelf(self) -> None:
        """The shelf, as it is now."""
        if self._on_shelf is None:
            return
        try:
            self.shelf.show_state(self._on_shelf.shelf())
        except LooseRailError as error:
            self.shelf.show_problem(error.one_line(), "The shop can't be read")
        self._to_front(self.shelf, SHELF)
        self.shelf.rows.setFocus()

    def find_jobs(self, text: str) -> None:
        """Only the jobs in which these words stand."""
        if self._on_shelf is None:
            return
        try:
            self.shelf.show_state(self._on_shelf.find(text))
        except LooseRailError as error:
            self.shelf.show_problem(error.one_line())

    def take_in(self) -> None:
        """F3: a set comes in."""
        if not self._ready(self.take_in) or self.workplace is None:
            return
        self.new_job.begin(self.workplace.new_job())
        self._to_front(self.new_job, SHELF)
        self.new_job.focus_work()

    def came_back(self, job: int, complaint: str) -> None:
        """A set that was handed back is here again: its new job."""
        if self._ready(lambda: self.came_back(job, complaint)) and self.workplace is not None:
            came_back(self, self.workplace, job, complaint)

    def open_window(self) -> MainWindow:
        """Ctrl+Shift+N: one more window on the same shop, so that two jobs stand open."""
        other = MainWindow(self._dispatcher, self.siblings)
        other.resize(self.size())
        other.leaving.connect(self.leaving)
        other.theme_chosen.connect(self.theme_chosen)
        other.move(self.x() + 40, self.y() + 40)
        other.show()
        if self.workplace is not None and self._predicting.engine_for is not None:
            other.set_workplace(self.workplace, self._predicting.engine_for)
        return other

    def show_area(self, name: str) -> None:
        """An area to the front."""
        if name == SHELF:
            self.show_shelf()
        elif not self._ready(lambda: self.show_area(name)) or self.workplace is None:
            return
        elif name == BENCH:
            self.show_job()
        else:
            page, meant = self.area(name), ""
            if self.job is not None and self.stack.currentWidget() is self.job:
                meant = words_meant() or self.job.words_in_front
            page.begin(self.workplace)
            if self.job is not None:
                page.heed(self.job.presenter.session, meant)
            self._to_front(page, name)

    def _to_front(self, page: QWidget, area: str) -> None:
        self.stack.setCurrentWidget(page)
        self._area = area
        self._bar.mark(area, self.job is not None)

    def _leave_area(self) -> None:
        self._use_settings()
        self.show_job() if self.job is not None else self.show_shelf()

    def _use_settings(self) -> None:
        if self.job is not None and self.workplace is not None:
            self.job.use_settings(self.workplace.settings)
            self._predicting.fit_board(self.job)

    def show_job(self) -> None:
        """The open job."""
        if self.job is not None:
            self._to_front(self.job, BENCH)
            self.job.focus_work()

    def open_job(self, number: int) -> None:
        """Open a job; its predictions are worked out off the main thread. The open one is brought
        up to what other windows wrote to it."""
        if self.job is not None and self.job.presenter.session.job == number:
            self._reload(self.job)
            self.show_job()
            return
        for other in self.siblings:
            if other is not self and other.holds(number):
                other.show_job()
                other.raise_()
                other.activateWindow()
                self.shelf.show_problem("This job is open in another window, now in front.")
                return
        if self.job is not None and not self._may_leave(self.job):
            self.show_job()
            return
        if not self._ready(lambda: self.open_job(number)) or self.workplace is None:
            return
        try:
            presenter = self.workplace.open_job(number)
        except LooseRailError as error:
            self.shelf.show_problem(error.one_line())
            return
        if self.job is not None:
            self.job.close_job()
            self.stack.removeWidget(self.job)
            self.job.deleteLater()
        from loose_rail.screens.job.view import JobView  # loaded while the shop opens

        job = JobView(presenter, self._dispatcher)
        self.job = job
        job.photos.late = self._tell_late
        job.predictions_asked.connect(lambda: self._predicting.predict(job))
        self._predicting.begin()
        presenter.session.changed.subscribe(lambda _: self._predicting.fit_board(job))
        self.stack.addWidget(job)
        self._use_settings()
        job.refresh()
        self.show_job()
        self._predicting.predict(job)

    def _reload(self, job: JobView) -> None:
        try:
            job.presenter.session.reload()
        except LooseRailError as error:
            job.say(error.one_line(), Kind.REFUSED)

    def _may_leave(self, job: JobView) -> bool:
        """Whether a job may be closed: everything is on disk, or, asked for twice, in a file beside
        the shop. Else it says what it waits for and stays."""
        session = job.presenter.session
        job.presenter.retry_save()
        if not session.unsaved:
            return True
        if self._leaving != session.job:
            self._leaving = session.job
            job.say(
                f"Not saved yet: {session.unsaved} of your last entries. {session.save_problem} It "
                "waits and tries again; once more keeps them in a file beside the shop and leaves.",
                Kind.REFUSED,
            )
            return False
        try:
            where = session.set_aside()
        except LooseRailError as error:
            job.say(error.one_line(), Kind.REFUSED)
            return False
        self._leaving = 0
        sys.stderr.write(f"loose-rail: unsaved entries of job {session.job} are kept in {where}\n")
        return True

    def say_problem(self, words: str) -> None:
        """Say a problem where the person looks: on the job in front, else on the shelf."""
        if self.job is not None and self.stack.currentWidget() is self.job:
            self.job.say(words, Kind.REFUSED)
        else:
            self.shelf.show_problem(words)

    def _tell_late(self, notice: Outcome) -> None:
        """What became of photographs whose job is no longer on the screen."""
        if self.job is not None:
            self.job.tell(notice)
        else:
            self.shelf.show_problem(notice.text)

    def _check_and_back_up(self) -> None:
        """Check the shop's file and keep the copy of the day, on a worker."""
        workplace = self.workplace
        if workplace is None:
            return

        def told(words: str) -> None:
            if words and self.workplace is workplace:
                self.shelf.show_problem(words)

        self._dispatcher.run(
            lambda task: workplace.check_and_back_up(),
            told,
            lambda error: told(
                error.one_line() if isinstance(error, LooseRailError) else repr(error)
            ),
        )

    def holds(self, number: int) -> bool:
        """Whether this window has the job open."""
        return self.job is not None and self.job.presenter.session.job == number

    # ---- window ----------------------------------------------------------------------------

    def restyle(self) -> None:
        """The theme changed."""
        self._bar.mark(self._area, self.job is not None)
        if self.job is not None:
            self.job.restyle()
        self.update()

    @property
    def dispatcher(self) -> Dispatcher:
        """Runs the work of all its windows."""
        return self._dispatcher

    def end(self) -> None:
        """The session ends (Ctrl+C, a log-out): as closing, and what is not saved goes into a file
        beside the shop without a question."""
        for window in tuple(self.siblings):
            if window.job is not None:
                window._leaving = window.job.presenter.session.job  # asked once, so to say
            window.close()
        QApplication.quit()

    def rung(self, token: str, file: str) -> None:
        """The program was started a second time on this shop, maybe with a file."""
        self.siblings[0].come_to_front(token)
        if file:
            self.siblings[0].take_file(file)

    def take_file(self, name: str) -> None:
        """A file that was given to the program: a board profile goes into the board book, a job
        bundle onto the shelf."""
        if self.workplace is None:
            return
        if Path(name).suffix.lower() == ".zip":
            self.show_shelf()
            take_bundle(self, self.workplace, Path(name))
            return
        self.show_area(BOARDS)
        self.area(BOARDS).take_file(Path(name))

    def show_help(self) -> None:
        """F1: every key."""
        KeysPage(self).open()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """What is not on disk yet is waited for; then helpers are let go."""
        assert event is not None
        if self.job is not None and not self._may_leave(self.job):
            event.ignore()
            self.show_job()
            return
        self.leaving.emit(self.geometry_kept())
        if self.job is not None:
            self.job.photos.finish(PHOTO_SECONDS)
            self.job.close_job()
        self._daily.stop()
        if self in self.siblings:
            self.siblings.remove(self)
        if self.siblings:
            self.workplace = None
            super().closeEvent(event)
            return
        let_streams_end(STREAMS_SECONDS)
        self._dispatcher.stop()
        if self.workplace is not None:
            self.workplace.close()
            self.workplace = None
        super().closeEvent(event)
