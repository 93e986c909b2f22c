"""What of a supply gives way to a good load, read before a board or a part that nothing confirms is
blamed: the current sense of the converter, and a bulk that is not boosted."""

from __future__ import annotations

from loose_rail.boards.kinds.kind import Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.powered_board import dragged_rail
from loose_rail.diagnosis.inference.finding import Finding
from loose_rail.diagnosis.planning.before_verdict import Closing
from loose_rail.vocabulary.board_state import Power
from loose_rail.vocabulary.roles import BoardRole, Job, role

BOOST = "boost"


def sense_of_the_dragged(closing: Closing, finding: Finding) -> int | None:
    """The ohms in place of the resistor that senses the current of the converter whose rail a board
    is said to pull down: one that has gone high lets the supply give up under its usual load, and a
    board by itself then reads as a sound one. None where it was read, or there is none."""
    table = closing.planner.table
    board = table.board
    probes = set()
    for rail in filter(None, (dragged_rail(board, f) for f in closing.likeliest(finding))):
        stage = board.stage(rail)
        while stage is not None:
            own = board.roles.get(role(stage.id, Job.SENSE), [])
            probes |= {f"{r}.ohms" for r in own if is_a(board.component(r), Trait.RESISTOR)}
            stage = board.stage(stage.source) if stage.source else None
    read = {table.candidates[table.index(key)].probe.id for key in closing.taken}
    free = (
        number
        for number, one in enumerate(table.candidates)
        if one.probe.id in probes - read and closing.free(number)
    )
    return next(free, None)


def bulk_of_a_boost(closing: Closing) -> int | None:
    """The volts of the bulk in use, where a stage boosts it and the set was read in use: a part
    behind it is blamed for what a bulk at the mains' own peak does. None where they were read in
    any powered state, or can't be had."""
    table = closing.planner.table
    if all(stage.kind != BOOST for stage in table.board.stages):
        return None
    read = [table.candidates[table.index(key)] for key in closing.taken]
    used = any(one.probe.live and one.state.power is Power.ON for one in read)
    if not used or any(one.probe.observable == str(BoardRole.BULK) for one in read):
        return None
    for number, one in enumerate(table.candidates):
        bulk = one.probe.observable == str(BoardRole.BULK) and one.state.power is Power.ON
        if bulk and closing.free(number):
            return number
    return None
