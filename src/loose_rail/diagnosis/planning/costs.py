"""What a reading costs at the bench: minutes to bring the board into its state, to reach the point,
and what its risk is worth in minutes."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.probes import LIFT_MINUTES
from loose_rail.boards.profile import Board, Side
from loose_rail.boards.reservoirs import reservoirs_beside
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.judgement.transitions import minutes_between
from loose_rail.vocabulary.board_state import BoardState, Power

Floats = NDArray[np.float64]

RISK_MINUTES_HIGH_RAIL = 6.0
"""What another powering of a supply that has lost its regulation weighs, as minutes: it may take
parts along, and its loop is read dead [E]."""
RISK_MINUTES_FIRST_POWER = 0.25
RISK_MINUTES_HOT_LIVE = 1.5
RISK_MINUTES_NO_LIMITER = 1.5
RISK_MINUTES_FORCED = 1.0
"""What each risk is worth in bench minutes; set so that a safe probe of equal worth goes first, and
a dead board is read before its first power where both tell the same [E]."""


REACH_MINUTES = {
    "fuse": -0.6,
    **dict.fromkeys(("connector", "electrolytic", "load", "cord", "adapter"), 0.0),
    **dict.fromkeys(("bridge", "transformer", "surge_suppressor", "ntc", "film", "relay"), 0.05),
    **dict.fromkeys(("mosfet_n", "mosfet_p", "igbt", "npn", "pnp", "switcher", "led_strip"), 0.1),
    **dict.fromkeys(("diode", "zener", "tvs", "inductor", "resistor", "fusible_resistor"), 0.2),
    **dict.fromkeys(("ceramic", "y_capacitor", "optocoupler", "shunt_reference"), 0.25),
}
"""What it takes to find a part and hold two probes on it, over a plug or the leads of a can: among
readings that tell the same, the easiest goes first, and a fuse before its surroundings [E]."""
REACH_OF_CHIP_MINUTES = 0.35
"""Pins of a chip lie close together: a slip joins two of them [E]."""


class Costs:
    """Minutes of every candidate of a board, prepared once: `minutes` is then a few lookups."""

    def __init__(self, table: PredictionTable) -> None:
        self._board: Board = table.board
        self.states = tuple(dict.fromkeys(c.state for c in table.candidates))
        number = {state: k for k, state in enumerate(self.states)}
        self.of_state = np.array([number[c.state] for c in table.candidates], dtype=np.intp)
        dead = [c.probe.part if c.probe.mode.needs_dead_board else "" for c in table.candidates]
        parts = tuple(dict.fromkeys(dead))
        self._beside = [
            tuple(r.part for r in reservoirs_beside(self._board, part)) if part else ()
            for part in parts
        ]
        self._of_part = np.array([parts.index(part) for part in dead], dtype=np.intp)
        self._own = np.array(
            [c.probe.minutes + _risk(c) + _reach(table.board, c) for c in table.candidates]
        )
        self._plugged = np.array([c.state.plugged for c in table.candidates])
        self._powered = frozenset(c.key for c in table.candidates if c.state.plugged)
        self._lifted = {c.key: k for k, c in enumerate(table.candidates) if c.probe.lifted}
        self._between: dict[tuple[BoardState, BoardState, int], float] = {}

    def minutes(self, facts: SafetyFacts, taken: Mapping[str, int]) -> Floats:
        """Minutes `(n_candidates,)` from the board as it is; a leg that has been lifted once is
        lifted already."""
        charged = np.array([_still_charged(beside, facts) for beside in self._beside])
        most = int(charged.max(initial=0)) + 1
        kinds, of_kind = np.unique(
            self.of_state * most + charged[self._of_part], return_inverse=True
        )
        ways = [self._way(facts.state, self.states[k // most], k % most) for k in kinds.tolist()]
        found: Floats = self._own + np.array(ways)[of_kind]
        if not self._powered & taken.keys():
            found[self._plugged] += RISK_MINUTES_FIRST_POWER
        if facts.high_rail:
            found[self._plugged] += RISK_MINUTES_HIGH_RAIL
        for key in taken:
            if key in self._lifted:
                found[self._lifted[key]] -= LIFT_MINUTES
        return found

    def _way(self, now: BoardState, target: BoardState, charged: int) -> float:
        way = (now, target, charged)
        if way not in self._between:
            self._between[way] = minutes_between(self._board, *way)
        return self._between[way]


def _still_charged(beside: tuple[str, ...], facts: SafetyFacts) -> int:
    """How many reservoirs stand between the board as it is and a dead reading beside them."""
    if facts.state.plugged or not beside:
        return len(beside)
    bulk = int(facts.bulk_volts is None)
    return bulk + sum(1 for ref in beside[1:] if ref not in facts.volts)


def _reach(board: Board, candidate: Candidate) -> float:
    if candidate.probe.live or not candidate.probe.part:
        return 0.0
    kind = board.component(candidate.probe.part).kind
    return REACH_MINUTES.get(kind, REACH_OF_CHIP_MINUTES)


def _risk(candidate: Candidate) -> float:
    if not candidate.state.plugged:
        return 0.0
    risk = RISK_MINUTES_HOT_LIVE if candidate.probe.side is Side.HOT else 0.0
    risk += 0.0 if candidate.state.lamp_watts else RISK_MINUTES_NO_LIMITER
    return risk + (RISK_MINUTES_FORCED if candidate.state.power is Power.FORCED else 0.0)
