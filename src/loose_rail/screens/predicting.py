"""The predictions of the open job: worked out beside the window, and again where its board stands
otherwise than they were made for."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from loose_rail.app.outcome import Kind
from loose_rail.app.settings import MAINS_DETAIL
from loose_rail.kernel.errors import LooseRailError, words_of_error

if TYPE_CHECKING:  # the shelf is shown before the rooms that compute are loaded
    from loose_rail.screens.job.view import JobView
    from loose_rail.screens.shared.dispatch import Dispatcher
    from loose_rail.screens.workplace import EngineFor, Predictions, Workplace


class Window(Protocol):
    """The window, as far as this needs it."""

    @property
    def job(self) -> JobView | None: ...
    @property
    def workplace(self) -> Workplace | None: ...


class Predicting:
    """`engine_for` is None until the shop is ready."""

    def __init__(self, window: Window, dispatcher: Dispatcher) -> None:
        self._window, self._dispatcher = window, dispatcher
        self.engine_for: EngineFor | None = None
        self._fitted: tuple[object, ...] = ()

    def begin(self) -> None:
        """Another job comes: nothing is fitted to it yet."""
        self._fitted = ()

    def fit_board(self, job: JobView) -> None:
        """Work the predictions out again where the board stands otherwise than they were made for:
        on another mains, with a wake sense that has been measured since, or mended in the book."""
        session, workplace = job.presenter.session, self._window.workplace
        if workplace is None or job is not self._window.job:
            return
        wanted = (session.state.detail(MAINS_DETAIL), workplace.settings.mains)
        now = (*wanted, session.state.wake, workplace.book_version)
        if now == self._fitted:
            return
        self._fitted = now
        try:
            board = workplace.board_of(session.state)
        except LooseRailError as error:
            job.say(error.one_line(), Kind.REFUSED)
            return
        if board != session.board:
            session.use_board(board)
            self.predict(job)

    def predict(self, job: JobView) -> None:
        """Work out the predictions of a job on a worker; a failure is said, and can be repeated."""
        engine_for, board = self.engine_for, job.presenter.session.board
        assert engine_for is not None

        def failed(error: Exception) -> None:
            if job is self._window.job:
                words = words_of_error(error)
                job.presenter.predictions_failed(words)
                job.say(f"The predictions failed: {words}", Kind.REFUSED)

        self._dispatcher.run(
            lambda task: engine_for(board, task.progress),
            lambda engine: self._ready(job, engine),
            failed,
            job.show_progress,
        )

    def _ready(self, job: JobView, engine: Predictions) -> None:
        session = job.presenter.session
        if job is self._window.job and engine.table.board == session.board:
            session.set_engine(engine)
            job.focus_work()
