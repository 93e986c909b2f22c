"""Wiring: which plugs go into which ports. Imported only after the window is on the screen."""

from __future__ import annotations

import itertools
import os
import time
from collections import Counter
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import msgspec
import platformdirs

from loose_rail.app.board_album import BoardAlbum
from loose_rail.app.board_desk import BoardDesk, BookRow
from loose_rail.app.clock import SystemClock
from loose_rail.app.following_job import Why, follow
from loose_rail.app.known_before import lessons, lessons_elsewhere
from loose_rail.app.log import JobLog
from loose_rail.app.meters import MeterDesk, MeterPlugs
from loose_rail.app.other_jobs import OtherJobs
from loose_rail.app.ports import Hands, Meter
from loose_rail.app.session import JobSession
from loose_rail.app.settings import MAINS_DETAIL, Settings
from loose_rail.app.stores.desk import StoresDesk
from loose_rail.app.stream import MakeLoop, StreamLoop
from loose_rail.app.taking_in import NewJob
from loose_rail.boards.mains import mains_in, on_mains
from loose_rail.boards.own.board import KNOWN_BY as OWN
from loose_rail.boards.own.file import USUAL_MAINS_VOLTS
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.certainty import known_of
from loose_rail.diagnosis.model.cache import table_for
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.instruments.finder import identify, ports, visa_address
from loose_rail.instruments.scpi_profile import MeterProfile, own_profiles, shipped_profiles
from loose_rail.instruments.visa_meter import VisaMeter
from loose_rail.jobs.fold import fold
from loose_rail.jobs.state import JobState
from loose_rail.judgement.replacement.electrolytic import Candidate
from loose_rail.practice.demo import demo_shop, fill_store
from loose_rail.practice.hands import BenchHands, SimulatedBenchProcess
from loose_rail.practice.meter_server import READING_SECONDS
from loose_rail.reports.content import content_of
from loose_rail.reports.html import render_html
from loose_rail.reports.label import label_svg
from loose_rail.reports.orders import orders_page
from loose_rail.screens.job.present import JobPresenter
from loose_rail.screens.shared.paper import write_pdf
from loose_rail.screens.shelf.state import ShelfState
from loose_rail.shop import Options, Shop
from loose_rail.storage.board_book import BoardBook
from loose_rail.storage.give_job import give_job, take_job
from loose_rail.storage.photos import PhotoFolder
from loose_rail.storage.places import APP, default_store, places_of, take_over
from loose_rail.storage.store import SqliteStore
from loose_rail.storage.stores import StoresFile, opened_stores

STREAM_MILLISECONDS = 3000
ENGINES_KEPT = 3
"""Boards whose engine stays in memory, some 20 MB each: the open job's and the ones before [E]."""
_ENGINES: dict[bytes, Engine] = {}
"""By everything that a board's profile says, the one that was used last at the end."""


class Workplace:
    """An open shop with what is done in it: its book of boards, its meter and, in the demo, its
    simulated bench."""

    def __init__(self, options: Options, shop: Shop | None = None) -> None:
        self.options = options
        self._bench: SimulatedBenchProcess | None = None
        self._hands: BenchHands | None = None
        self._board_on_bench = ""
        self._stock: tuple[Candidate, ...] = ()
        self._shop = shop or Shop(options)
        self.store = self._shop.store
        self.photos = PhotoFolder(self._shop.places.photos)
        self.book = BoardBook(self._shop.places.boards, self.photos)
        self.profiles = [*self._own_profiles(self._shop.places.meters), *shipped_profiles()]
        if options.demo:
            self._set_up_demo()
        self.store.hurry()

    @property
    def problem(self) -> str:
        """What is to be told of the shop, empty for nothing."""
        return self._shop.problem

    @property
    def settings(self) -> Settings:
        """What was chosen for this shop."""
        return self._shop.settings

    def check_and_back_up(self) -> str:
        """As the shop does, today."""
        return self._shop.check_and_back_up(SystemClock().now()[:10])

    def _set_up_demo(self) -> None:
        demo = demo_shop()
        self._shop.title, self._stock = demo.shop, tuple(demo.stock)
        if not self.store.jobs():
            fill_store(self.store)
        self._board_on_bench = demo.jobs[0][0][1].board_id  # type: ignore[union-attr]
        self._bench = SimulatedBenchProcess(
            self._board_on_bench,
            demo.fault,
            self.options.quick_meter,
        )
        self._hands = BenchHands(self._bench)

    def shelf(self) -> ShelfState:
        """The shelf as it is now."""
        return self._shop.shelf()

    def find(self, text: str) -> ShelfState:
        """The jobs in which words stand; the whole shelf for no words."""
        return self._shop.find(text)

    def new_job(self) -> NewJob:
        """The form for a set that comes in."""
        return NewJob(self.book, self.store, SystemClock(), self._mains_volts)

    def stores_desk(self) -> StoresDesk:
        """The shop's stores, read from its disk. A damaged file is told and kept, and they start
        afresh; over one that can't be read nothing is written."""
        desk = opened_stores(StoresFile(self._shop.places.stores))
        desk.paper = orders_page
        return desk

    def board_desk(self, board_id: str) -> BoardDesk:
        """A board of the book, to be looked at and changed."""
        jobs = (one for one in self.store.jobs() if one.board_id == board_id)
        ended = [one for one in jobs if one.teaches and one.part]
        return BoardDesk(self.book, board_id, SystemClock(), ended)

    def board_album(self, desk: BoardDesk) -> BoardAlbum:
        """The photographs of a board of the book."""
        return BoardAlbum(desk, self.photos)

    def what_is_missing(
        self, board_id: str, progress: Callable[[float, str], None]
    ) -> tuple[str, ...]:
        """How surely faults of a board show, and what it costs not to know more of it, in lines.
        Slow, on a worker thread. Raises BoardFileError."""
        return known_of(engine_for(self.book.board(board_id), progress).table).lines

    def boards(self, text: str = "") -> list[BookRow]:
        """The boards of the book in whose numbers these letters stand, our own first, with how many
        jobs each has had."""
        counted = Counter(one.board_id for one in self.store.jobs())
        return [
            BookRow(one, names, own, counted[one])
            for one, names, own in self.book.listed()
            if text.strip().lower() in f"{one} {names}".lower()
        ]

    @property
    def book_version(self) -> int:
        """Grows with every change of a board."""
        return self.book.version

    def _mains_volts(self) -> float:
        """Of this bench."""
        mains = mains_in(self.settings.mains)
        return mains.volts if mains else USUAL_MAINS_VOLTS

    def open_job(self, job: int) -> JobPresenter:
        """Open a job; its predictions are set later with `engine_for`."""
        log = JobLog(self.store, job)
        state = log.state
        earlier = [one for one in self.store.jobs() if one.job != job]
        board = self.board_of(state)
        on_bench = self.options.demo and board.id == self._board_on_bench
        hands: Hands | None = self._hands if on_bench else None
        session = JobSession(
            log=log,
            board=board,
            clock=SystemClock(),
            hands=hands,
            closed_jobs=[
                *(one for _, one in lessons(earlier, self.book.board)),
                *lessons_elsewhere(board, self.book.own_file(board.id)),
            ],
        )
        if hands is not None:
            for part in state.fitted:
                hands.fit(part)
            hands.put(state.board_state.key)
        return JobPresenter(
            session=session,
            stock=self._stock,
            render_html=lambda s, price: render_html(content_of(s, price, self.photos)),
            write_pdf=write_pdf,
            meter=self._meter_opener() if on_bench or not self.options.demo else None,
            hands=hands,
            meter_clock=self._meter_clock,
            photos=self.photos,
            others=self._others(job),
            streams=self._streams(on_bench),
            desk_of=self.board_desk,
            keep_setting=self._keep_setting,
            label=label_svg,
        )

    def _others(self, job: int) -> OtherJobs:
        """The other jobs of the shop, as this one sees them."""

        def opened(why: Why, complaint: str) -> str:
            number = follow(self.store, SystemClock(), job, why, complaint)
            return fold(self.store.load(number)).ticket

        return OtherJobs(
            summaries=lambda: [one for one in self.store.jobs() if one.job != job],
            state_of=lambda number: fold(self.store.load(number)),
            follow=opened,
            give=lambda path, sheet: give_job(self.store, self.book, self.photos, job, path, sheet),
        )

    def take_bundle(self, path: Path) -> tuple[int, str]:
        """A job of another shop: its number here and what became of it. Raises BundleError,
        BoardFileError, PhotoError and StoreError."""
        return take_job(self.store, self.book, self.photos, path, SystemClock().now())

    def came_back(self, job: int, complaint: str) -> int:
        """A set came back: the number of its new job. Raises JobError and StoreError."""
        return follow(self.store, SystemClock(), job, Why.CAME_BACK, complaint)

    def board_of(self, state: JobState) -> Board:
        """The board of a job as it stands here: on the shop's mains or the set's own, woken as was
        measured. Raises BoardFileError."""
        typed = mains_in(state.detail(MAINS_DETAIL))
        board = self.book.board(state.board_id, typed.volts if typed else None)
        own = board.known_by == OWN  # put together for its own mains
        mains = typed or (None if own else mains_in(self.settings.mains))
        return woken(on_mains(board, mains), state)

    def _keep_setting(self, setting: str, value: object) -> None:
        """A setting of the shop, for every job. Raises StoreError where it can't be kept."""
        self._shop.write_settings(self.settings.with_value(setting, value))

    def _own_profiles(self, folder: Path) -> list[MeterProfile]:
        """The shop's own meter profiles; a damaged one is told and the shop opens without it."""
        found, problems = own_profiles(folder)
        for words in problems:
            self._shop.trouble(words)
        return found

    def meter_desk(self) -> MeterDesk:
        """The page for finding and connecting meters."""
        return MeterDesk(
            MeterPlugs(
                ports=self._ports,
                identify=lambda address: identify(address, self.profiles),
                address_of=visa_address,
                read=lambda: self.settings,
                write=self._shop.write_settings,
                profiles=[profile.name for profile in self.profiles],
            )
        )

    def _ports(self) -> list[str]:
        bench = [self._bench.address, self._bench.second_address] if self._bench else []
        return [*ports(), *bench]

    def _streams(self, on_bench: bool) -> list[MakeLoop]:
        """Loops for the live meters: the one in the hands, then the one clipped on the bulk."""
        openers = [self._meter_opener()] if on_bench or not self.options.demo else []
        bench = self._bench
        if on_bench and bench is not None:
            openers.append(
                lambda: VisaMeter(bench.second_address, STREAM_MILLISECONDS, unlock=bench.unlock)
            )
        elif (self.options.second_meter or self.settings.second_meter) and not self.options.demo:
            second = self.options.second_meter or self.settings.second_meter
            openers.append(lambda: VisaMeter(second, STREAM_MILLISECONDS, self.profiles))

        def maker(opener: Callable[[], Meter]) -> MakeLoop:
            return lambda s, t, n: StreamLoop(opener, s, t, n, self._meter_clock())

        return [maker(opener) for opener in openers if opener is not None]

    def _meter_clock(self) -> Callable[[], float]:
        """A clock for one series of samples. The quick meter of tests lives in its own time, in
        which every reading takes as long as a real one."""
        if self.options.quick_meter:
            samples = itertools.count()
            return lambda: READING_SECONDS * next(samples)
        return time.monotonic

    def _meter_opener(self) -> Callable[[], Meter] | None:
        if self._bench is not None:
            bench, hands = self._bench, self._hands
            assert hands is not None

            def open_simulated() -> Meter:
                hands.settle()
                return VisaMeter(bench.address, unlock=bench.unlock)

            return open_simulated
        address = self.options.meter or self.settings.meter
        if address:
            return lambda: VisaMeter(address, STREAM_MILLISECONDS, self.profiles)
        return None

    def close(self) -> None:
        """Let go of everything; the demo's copy is thrown away."""
        if self._hands is not None:
            self._hands.close()
        if self._bench is not None:
            self._bench.close()
        self._shop.close()


def woken(board: Board, state: JobState) -> Board:
    """The board with the wake sense that was measured in this job, where its profile has none and
    a jumper would have two pins to go to."""
    if state.wake is None or board.wake.sense != "unknown" or not board.wake.pin:
        return board
    plug = next((one for one in board.connectors if one.ref == board.wake.connector), None)
    grounded = plug is not None and any(pin.net == board.cold_ground for pin in plug.pins)
    if not (board.wake.source_pin if state.wake.sense == "high" else grounded):
        return board
    wake = msgspec.structs.replace(board.wake, sense=state.wake.sense)
    return msgspec.structs.replace(board, wake=wake)


def shop_files(data: Path | None) -> tuple[SqliteStore, BoardBook]:
    """The shop's database and board book, where no window is wanted."""
    path = data or default_store()
    take_over(path)
    return SqliteStore(path), BoardBook(places_of(path).boards, PhotoFolder(places_of(path).photos))


def engine_for(board: Board, progress: Callable[[float, str], None] | None = None) -> Engine:
    """The diagnosis engine of a board: the one that was used last, from the user's cache directory,
    or worked out now (slow)."""
    key = msgspec.json.encode(board)
    found = _ENGINES.pop(key, None)
    if found is None:
        found = Engine(table_for(board, platformdirs.user_cache_path(APP), progress))
    _ENGINES[key] = found
    while len(_ENGINES) > ENGINES_KEPT:
        _ENGINES.pop(next(iter(_ENGINES)), None)
    return found
