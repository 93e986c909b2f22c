"""`loose-rail model-report`: what the live model does, as a table for docs/behaviours.md."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Iterator

import numpy as np

from loose_rail.boards.faults import Fault, fault_from_key
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.powered_board import CONVERTERS, plant_of
from loose_rail.boards.profile import Board, Stage
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.diagnosis.model.predictions import meter_view, predict
from loose_rail.diagnosis.model.still_faults import still_lines
from loose_rail.kernel.errors import UsageError
from loose_rail.kernel.quantities import engineering, fixed, span
from loose_rail.powered.record import LiveRecord, run
from loose_rail.vocabulary.board_state import BoardState, Power
from loose_rail.vocabulary.roles import BoardRole, Job, role

TRACE_EVERY = 10
SECONDS = 8.0
HEAD = """# What the live model does

Made by `loose-rail model-report --out docs/behaviours.md`; not written by hand. Values are those of
the shipped example boards at their nominal mains.
"""


def model_report(options: argparse.Namespace) -> int:
    """Print the table, or write it to a file. Raises UsageError."""
    if options.out is None:
        sys.stdout.write(_page())
        return 0
    partial = options.out.with_name(f"{options.out.name}.partial")
    try:
        partial.touch()  # before half a minute's work, not after
        partial.write_text(_page(), encoding="utf-8")
        partial.replace(options.out)
    except OSError as error:
        raise UsageError(f"{options.out} can't be written: {error.strerror}.") from error
    return 0


def _page() -> str:
    return "\n".join([HEAD, *_healthy(), *_stories(), *_still()]) + "\n"


def _still() -> Iterator[str]:
    yield ""
    yield "## What moves no live point, and why"
    yield ""
    yield "By twice its scatter, in any state. A fault that stands here is found on the dead board."
    yield ""
    yield "| board | faults | why it is right |"
    yield "| --- | --- | --- |"
    for board_id in shipped_ids():
        yield from still_lines(predict(shipped_board(board_id)))


def _healthy() -> Iterator[str]:
    yield "## Good boards in every state"
    yield ""
    for board_id in shipped_ids():
        board = shipped_board(board_id)
        states = live_states(board)
        records = [run(plant_of(board, (), state)) for state in states]
        yield f"### {board_id}, {board.topology}"
        yield ""
        yield "| point | " + " | ".join(state.label for state in states) + " |"
        yield "| --- |" + " --- |" * len(states)
        for point in records[0].windows:
            if point.endswith(".reservoir"):
                continue
            yield f"| {point} | " + " | ".join(_value(r, point) for r in records) + " |"
        yield ""


def _value(record: LiveRecord, point: str) -> str:
    low, high, hertz = (float(v[0]) for v in meter_view(record, point, np.array([0])))
    if hertz:
        return f"{span(low, high, 'V', 2)}, {engineering(hertz, 'Hz', 2)}"
    return engineering(low, "V")


def _stories() -> Iterator[str]:
    yield "## Faults, one line each"
    yield ""
    yield "| board | fault | state | what happens |"
    yield "| --- | --- | --- | --- |"
    for board_id in shipped_ids():
        board = shipped_board(board_id)
        for key, state, point in _cases(board):
            fault = fault_from_key(board, key)
            told = _told(board, fault, state, point)
            title = f"{fault.ref} {fault.title}, severity {fault.severity + 1}"
            yield f"| {board_id} | {title} | {state.label} | {told} |"


def _cases(board: Board) -> Iterator[tuple[str, BoardState, str]]:
    """Fault key, state and point worth a line, found by the roles that a board has."""
    lamps = 0 if board.adapter_fed else 60
    standby = BoardState(Power.STANDBY, False, lamps)
    on = BoardState(Power.ON, True, 0)
    for stage in board.stages:
        yield from _stage_cases(board, stage, standby, on)
    if not board.adapter_fed:
        yield f"{board.roles[BoardRole.BULK][0]}:short:0", standby, "lamp"
        yield f"{board.roles[BoardRole.BULK][0]}:dried:2", on, "bulk"
    for load in board.loads:
        if load.rail not in ("standby",) and load.part != board.roles[BoardRole.MAIN_LOAD][0]:
            yield f"{load.part}:drags:1", on, f"{load.rail}.out"


def _stage_cases(
    board: Board, stage: Stage, standby: BoardState, on: BoardState
) -> Iterator[tuple[str, BoardState, str]]:
    if stage.kind in CONVERTERS:
        own = board.roles.get(role(stage.id, Job.START))
        reservoir = board.roles[role(stage.id, Job.RESERVOIR)][0]
        state = BoardState(Power.STANDBY, True, standby.lamp_watts) if own else on
        yield f"{reservoir}:short:0", state, f"{stage.id}.out"
        for severity in (0, 1, 2):
            yield f"{reservoir}:dried:{severity}", state, f"{stage.id}.out"
    elif stage.kind == "led":
        yield f"{board.roles[f'{stage.id}.strip'][0]}:open:0", on, f"{stage.id}.out"
    elif stage.kind == "ccfl":
        yield f"{board.roles[f'{stage.id}.tubes'][0]}:open:0", on, f"{stage.id}.out"
    elif stage.kind == "boost":
        yield f"{board.roles[f'{stage.id}.switch'][0]}:open:0", on, "bulk"


def _told(board: Board, fault: Fault, state: BoardState, point: str) -> str:
    record = run(plant_of(board, [fault], state), SECONDS, TRACE_EVERY)
    if point == "lamp":
        glow = float(record.lamp_glow[0])
        return f"lamp at {100 * glow:.0f} % of its light, bulk {_value(record, 'bulk')}"
    volts = record.traces[point][:, 0]
    low, high, hertz = (float(v[0]) for v in meter_view(record, point, np.array([0])))
    top, end = float(volts.max()), float(volts[-1])
    at = float(record.trace_seconds[int(volts.argmax())])
    if hertz:
        return f"{point} {span(low, high, 'V', 2)}, {fixed(hertz, 2)} times a second"
    if top - end > 0.1 * max(top, 1.0):
        peak = f"{point} up to {engineering(top, 'V')} at {fixed(at, 2)} s"
        return f"{peak}, then {engineering(end, 'V')}"
    ready = record.trace_seconds[np.argmax(volts > 0.95 * end)] if end > 0.5 else 0.0
    return f"{point} {engineering(end, 'V')}" + (
        f", there at {fixed(float(ready), 2)} s" if ready else ""
    )
