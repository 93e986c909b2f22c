"""The open shop as the window sees it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Protocol

from loose_rail.app.board_desk import BoardDesk, BookRow
from loose_rail.app.meters import MeterDesk
from loose_rail.app.settings import Settings
from loose_rail.app.taking_in import NewJob
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.jobs.state import JobState
from loose_rail.screens.job.present import JobPresenter
from loose_rail.screens.shelf.state import ShelfState

Predictions = Engine
EngineFor = Callable[[Board, Callable[[float, str], None]], Engine]
"""Works out the predictions of a board (slow), telling how far it is."""


class Shelved(Protocol):
    """A shop as its shelf shows it. Methods raise LooseRailErrors."""

    def shelf(self) -> ShelfState: ...
    def find(self, text: str) -> ShelfState: ...


class Workplace(Shelved, Protocol):
    """A shop with its jobs, its meters and its settings. Methods raise LooseRailErrors."""

    @property
    def problem(self) -> str: ...
    @property
    def settings(self) -> Settings: ...
    def new_job(self) -> NewJob: ...
    def open_job(self, job: int) -> JobPresenter: ...
    def came_back(self, job: int, complaint: str) -> int: ...
    def board_of(self, state: JobState) -> Board: ...
    def meter_desk(self) -> MeterDesk: ...
    def board_desk(self, board_id: str) -> BoardDesk: ...
    def boards(self, text: str = ...) -> list[BookRow]: ...
    @property
    def book_version(self) -> int: ...
    def check_and_back_up(self) -> str: ...
    def close(self) -> None: ...
