"""What many tests share: the board, its predictions (worked out once), a job on it."""

from __future__ import annotations

from functools import cache
from typing import TypeVar
from unittest import mock

from loose_rail.app.handing_over import final_points
from loose_rail.app.log import JobLog
from loose_rail.app.ports import Store
from loose_rail.app.session import JobSession
from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.load import shipped_board
from loose_rail.boards.own.file import SCHEMA, OwnBoardFile
from loose_rail.boards.profile import Board
from loose_rail.bootstrap import engine_for
from loose_rail.diagnosis.model.symptom_predicates import features_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.jobs.events import Record
from loose_rail.powered import strides
from loose_rail.powered.plant import Plant
from loose_rail.powered.record import LiveRecord, run
from loose_rail.practice.demo import demo_shop
from loose_rail.vocabulary.light import Light
from tests.fakes.clock import FakeClock
from tests.fakes.store import MemoryStore

T = TypeVar("T")


def the(value: T | None) -> T:
    """What must be there."""
    assert value is not None
    return value


def in_fine_steps(plant: Plant, seconds: float | None = None) -> LiveRecord:
    """A run of one board without long strides."""
    with mock.patch.object(strides.Strides, "next", lambda *_: 1):
        return run(plant, seconds)


@cache
def board() -> Board:
    """The demo board."""
    return shipped_board("PB-4310-2")


@cache
def table() -> PredictionTable:
    """Its predictions."""
    return engine().table


@cache
def engine() -> Engine:
    """Its engine, through the same cache as the program's."""
    return engine_for(board())


def lamp_pattern(of: PredictionTable, row: int, state: str) -> str:
    """What a person would say of the lamp in line on a set with the faults of a row."""
    if of.ticking_hertz[state][row] > 0:
        return "pulses"
    glow = float(of.lamp_glow[state][row])
    return "bright" if glow > 0.35 else "glows" if glow > 0.03 else "flash_dark"


def light_seen(of: PredictionTable, row: int) -> Light:
    """What eyes see of a set that is switched on, with the faults of a row."""
    masks, faults = features_of(of).masks, of.rows[row].faults
    parts = [of.board.component(fault.ref) for fault in faults]
    if any(is_a(part, Trait.BACKLIGHT) for part in parts):
        return Light.DARK if masks["lamps_out"][row] else Light.DIM
    if masks["lamps_pulse"][row]:
        return Light.FLICKERS
    if masks["lamps_itself"][row] or masks["lamps_never"][row] or masks["dark"][row]:
        return Light.DARK
    if masks["lamps_out"][row]:
        return Light.MOMENT
    if masks["lamps_weak"][row]:
        return Light.DIM
    if masks["timing"][row] or masks["panel_off"][row]:
        return Light.NO_PICTURE
    return Light.DARK if masks["outputs_missing"][row] else Light.RIGHT


def demo_records() -> list[Record]:
    """The log of the demo job."""
    return [
        Record(number, at, "bench 1", event)
        for number, (at, event) in enumerate(demo_shop().jobs[0], start=1)
    ]


def demo_session(store: Store | None = None) -> JobSession:
    """The demo job with its engine."""
    session = JobSession(JobLog(store or MemoryStore(demo_records()), 1), board(), FakeClock())
    session.set_engine(engine())
    return session


def final_lines(session: JobSession) -> list[str]:
    """What is typed to settle the final list of a set that is as it should be."""
    figures = {"earth": "earth none", "insulation": "insulation 20M", "start": "start 8"}
    said = [
        "rungs skip because it was not taken apart here"
        if one.item.counted
        else figures.get(one.item.key, one.item.key)
        for one in final_points(session)
        if not one.settled
    ]
    return said


OWN_BOARD = OwnBoardFile(
    SCHEMA,
    "QX-1",
    kind="standby flyback, main flyback",
    wake="high",
    connectors=["CN8/2: 12V, 12V, 5VSB, GND, PS-ON, BL-ON"],
)
