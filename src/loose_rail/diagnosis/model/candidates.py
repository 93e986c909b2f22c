"""What can be read on a board: every probe in every state in which a step may ask for it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from loose_rail.boards.probes import Probe, probes_of
from loose_rail.boards.profile import Board
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power
from loose_rail.vocabulary.keys import is_ripple
from loose_rail.vocabulary.roles import BoardRole, load_connector

LAMP_WATTS = 60
RIPPLE_STATES = (
    BoardState(Power.STANDBY, True, 0),
    BoardState(Power.ON, True, 0),
)
"""Ripple is read under the load of the set: a rail that gives nothing has none."""


@dataclass(frozen=True, slots=True)
class Candidate:
    """A probe in a board state: one thing that can be read next."""

    probe: Probe
    state: BoardState

    @property
    def key(self) -> str:
        """Stable key, such as `live.5vs@standby/cable/lamp60`."""
        return f"{self.probe.id}@{self.state.key}"


def live_states(board: Board) -> tuple[BoardState, ...]:
    """The powered states that a step may ask for on a board.

    Switched on through a lamp is left out: the load of a whole set lets the lamp glow and the rails
    collapse. An adapter needs no lamp, and a board without a start signal is never forced.
    """
    limiters = (0,) if board.adapter_fed else (LAMP_WATTS, 0)
    found: list[BoardState] = []
    for watts in limiters:
        found += [BoardState(Power.STANDBY, cable, watts) for cable in (True, False)]
        if board.wake.sense in ("high", "low"):
            found.append(BoardState(Power.FORCED, False, watts))
    on = BoardState(Power.ON, True, 0)
    return (*found, on, *(replace(on, without=load) for load in loads_by_themselves(board)))


def loads_by_themselves(board: Board) -> list[str]:
    """Loads with a connector of their own: they can be unplugged while the main board still asks
    for their rails, which tells a dragging load from a weak supply."""
    parts = dict.fromkeys(load.part for load in board.loads)
    main = set(board.roles.get(BoardRole.MAIN_LOAD, []))
    return [part for part in parts if part not in main and load_connector(part) in board.roles]


def candidates_of(board: Board) -> tuple[Candidate, ...]:
    """Every probe in every state in which it can be read."""
    found: list[Candidate] = []
    powered = live_states(board)
    for probe in probes_of(board):
        states = powered if probe.live else (UNPLUGGED,)
        if is_ripple(probe.observable):
            states = RIPPLE_STATES
        elif not probe.rail:
            states = tuple(state for state in states if not state.without)
        found += [Candidate(probe, state) for state in states]
    return tuple(found)
