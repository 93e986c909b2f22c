"""A profile from elsewhere is put to use once before it is taken.

What has no sentence of its own in `validate` is found here, and not in the middle of a job.

A fault of the program would look the same, so this is asked of foreign files only.
"""

from __future__ import annotations

from collections.abc import Callable

from loose_rail.boards.cold_network import cold_network
from loose_rail.boards.faults import faults_of
from loose_rail.boards.powered_board import simulation_of
from loose_rail.boards.probes import probes_of
from loose_rail.boards.profile import Board
from loose_rail.kernel.errors import CircuitError
from loose_rail.vocabulary.board_state import BoardState, Power

MISSHAPEN = (
    ArithmeticError,
    AssertionError,
    AttributeError,
    CircuitError,
    LookupError,
    RecursionError,
    StopIteration,
    TypeError,
    ValueError,
)
"""What the models raise for values of a kind or in a place that they do not know."""


def why(error: BaseException) -> str:
    """An error of this kind in words."""
    if isinstance(error, KeyError):
        return f"“{error.args[0] if error.args else ''}” is missing or not known"
    if isinstance(error, RecursionError):
        return "it is nested too deep"
    return f"{error}" or type(error).__name__


def trouble_in_use(board: Board) -> str:
    """Why a profile can't be used, empty where it can."""
    standby = BoardState(Power.STANDBY, main_cable=False)
    uses: tuple[tuple[str, Callable[[], object]], ...] = (
        ("its points of measuring", lambda: probes_of(board)),
        ("its faults", lambda: [faults_of(part) for part in board.components]),
        ("its drained circuit", lambda: cold_network(board)),
        ("its powered stages", lambda: simulation_of(board, [], standby)),
    )
    for what, use in uses:
        try:
            use()
        except MISSHAPEN as error:
            return f"{what} can't be made of it: {why(error)}"
    return ""
