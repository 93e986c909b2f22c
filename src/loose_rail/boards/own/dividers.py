"""Dividers of an own board whose resistors become known one by one.

The label says where a loop regulates; which resistors set it there is not known until they are
read. A value that is read on one resistor moves the others, never the rail: their ratio is kept.
"""

from __future__ import annotations

from collections.abc import Collection

import msgspec

from loose_rail.boards.component_rules import value_text
from loose_rail.boards.profile import Board
from loose_rail.kernel.errors import BoardFileError
from loose_rail.kernel.quantities import component_value
from loose_rail.vocabulary.keys import job_of, stage_of
from loose_rail.vocabulary.roles import Job, role

_PAIRS = ((Job.UPPER, Job.LOWER), (Job.OVER_UPPER, Job.OVER_LOWER))
SAME_RATIO_SHARE = 0.06
"""Two read resistors that miss the label by more are of another divider, or the label is wrong."""


def with_ratios(board: Board, composed: Board, known: Collection[str]) -> Board:
    """The board with the resistors whose value nobody read at what the label asks of them; `known`
    are those that were. Raises BoardFileError where known ones can't give the label's volts."""
    for name, refs in board.roles.items():
        for over, under in _PAIRS:
            if job_of(name) == over and role(stage_of(name), under) in board.roles:
                lower = role(stage_of(name), under)
                wanted = _ohms(composed, composed.roles[name]) / _ohms(
                    composed, composed.roles[lower]
                )
                board = _with_ratio(board, refs, board.roles[lower], wanted, known)
    return board


def _with_ratio(
    board: Board, upper: list[str], lower: list[str], wanted: float, known: Collection[str]
) -> Board:
    free_upper = [ref for ref in upper if ref not in known]
    free_lower = [ref for ref in lower if ref not in known]
    if not set(known) & {*upper, *lower}:
        return board
    above, below = _ohms(board, upper), _ohms(board, lower)
    if free_lower:
        return _scaled(board, free_lower, above / wanted - _ohms(board, set(lower) & set(known)))
    if free_upper:
        return _scaled(board, free_upper, wanted * below - _ohms(board, set(upper) & set(known)))
    if abs(above / below / wanted - 1.0) > SAME_RATIO_SHARE:
        said = ", ".join(f"{ref} {board.component(ref).value}" for ref in (*upper, *lower))
        raise BoardFileError(
            f"{said}: this divider would not give the volts of its label.",
            "Read the codes again, or mend the label if the rail stands elsewhere.",
        )
    return board


def _scaled(board: Board, refs: list[str], total: float) -> Board:
    """The board with these resistors in series at a total, each by the share it had."""
    if total <= 0:
        raise BoardFileError(
            f"With this value {', '.join(refs)} would be below zero.",
            "Read the code again, or the place is another one.",
        )
    scale = total / _ohms(board, refs)
    parts = [
        msgspec.structs.replace(part, value=value_text(scale * component_value(part.value)))
        if part.ref in refs
        else part
        for part in board.components
    ]
    return msgspec.structs.replace(board, components=parts)


def _ohms(board: Board, refs: Collection[str]) -> float:
    return sum(component_value(board.component(ref).value) for ref in refs)
