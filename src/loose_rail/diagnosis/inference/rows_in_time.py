"""What each row's rail does in time at one candidate: where it comes from, how far it gets."""

from __future__ import annotations

from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Effect
from loose_rail.boards.powered_board import dragged_rail
from loose_rail.diagnosis.inference.course import ANSWERS, STANDS_SHARE, WITHDRAWN, Courses
from loose_rail.diagnosis.inference.predicted import Predicted
from loose_rail.judgement.spread import unknown_volts_share
from loose_rail.vocabulary.keys import stage_of
from loose_rail.vocabulary.roles import BoardRole

Floats = NDArray[np.float64]

WEAKENING = frozenset({"dried", "joint", "weak", "weak_drive"})
"""Modes of a part in the way of the power that leave less of it."""
COMES_UP_SHARE = 0.3
"""A rail that gets this far towards its highest in any state comes up in this one [E]."""
ON_THE_WAY_TO_BULK = (BoardRole.BULK, BoardRole.INPUT_PATH, BoardRole.CORD, BoardRole.BRIDGE)
HUNGRY_SHARE = 0.9
"""A bulk below this share of its own volts is low [P]."""
OF_THE_DISPLAY = ("sustain", "address")
"""Rails of a plasma panel that its main board watches [P]."""


TOO_FULL_SHARE = 1.06
"""Of a sound bulk: from here on a sense of its own may stop the boost, and all behind it [E]."""


class RowsInTime:
    """The rows `(n_rows,)` of a candidate in time."""

    def __init__(self, at: Predicted) -> None:
        self._at = at

    @cached_property
    def peaks(self) -> Floats:
        """The most that each row's rail reaches in any state, `(n_rows,)` volts."""
        own = [
            k for k, c in enumerate(self._at.table.candidates) if c.probe.id == self._at.probe.id
        ]
        return np.asarray(np.nan_to_num(self._at.table.peak[:, own]).max(axis=1))

    @cached_property
    def courses(self) -> Courses:
        """Where each row's rail comes from and goes to; one that comes and goes, from the sound
        value to the faulty one."""
        goes = self._at.table.shares < 1.0
        there = self._at.table.index_when_present
        bottom = np.where(goes, np.minimum(self._at.low, self._at.low[there]), self._at.low)
        top = np.where(goes, np.maximum(self._at.peak, self._at.peak[there]), self._at.peak)
        composed = self._at.board.known_by == "own"
        unlike = (
            self._at.unlike | self._at.unlike[there]
        )  # and what comes and goes, while it is there
        own = unknown_volts_share(self._at.board, self._at.probe) if composed else 0.0
        if composed:
            top = np.maximum(top, self.runs_up_to)
        return Courses(
            bottom=bottom,
            top=top,
            high=self._at.high,
            range=self._at.range,
            withdrawn=self._withdrawn,
            stops=(unlike | self._hungry | self._watched) & ~self._at.outside & composed,
            weak=self._weak,
            pulled=self._pulled,
            held=self._pulled & self._drags,
            kin=self._kin & composed,
            late=self._late,
            unknown_share=own,
            empties=self._empties,
        )

    @cached_property
    def _empties(self) -> NDArray[np.bool_] | None:
        """Rows `(n_rows,)` whose bulk stands and has too little to start on: its can has dried, or
        a contact on its way lets too little through. None at any other point."""
        if self._at.probe.observable != str(BoardRole.BULK):
            return None
        roles = self._at.board.roles
        own = {ref for job in ON_THE_WAY_TO_BULK for ref in roles.get(job, [])}
        stages = {s.id for s in self._at.board.stages if s.kind == "relay"}  # across the limiter
        relays = {ref for job, refs in roles.items() if stage_of(job) in stages for ref in refs}
        causes = [row.faults[0] if row.faults else None for row in self._at.table.rows]
        return np.array(
            [
                c is not None and ((c.ref in own and c.mode in WEAKENING) or c.ref in relays)
                for c in causes
            ]
        )

    @cached_property
    def _withdrawn(self) -> Floats:
        """Share of main boards that take back what they ask for, `(n_rows,)`: for a trouble of
        their own, or for one elsewhere that they see."""
        if not self._at.asked:
            return np.zeros(len(self._at.low))
        trouble = np.array([bool(row.faults) for row in self._at.table.rows])
        return np.where(self._at.table.elsewhere_main, WITHDRAWN, ANSWERS * trouble)

    @cached_property
    def _late(self) -> Floats:
        """How much later than on a sound board each row's rail stands, `(n_rows,)` seconds; what
        pulses, or came up and fell, stands for nothing."""
        late = np.nan_to_num(self._at.late)
        stays = np.nan_to_num(self._at.high) > STANDS_SHARE * np.nan_to_num(self._at.peak)
        return np.where(self._at.ticks | ~stays, 0.0, late - late[0])

    @cached_property
    def _hungry(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` whose bulk is too low in this state, or so high that its over-voltage
        sense may stop all: at which volts a converter gives up is known of few boards."""
        state = self._at.table.candidates[self._at.number].state
        key = f"live.{BoardRole.BULK}@{state.key}"
        asked = self._at.asked and self._at.probe.rail
        if not asked or all(candidate.key != key for candidate in self._at.table.candidates):
            return np.zeros(len(self._at.low), dtype=bool)
        bulk = np.nan_to_num(self._at.table.low[:, self._at.table.index(key)])
        return np.asarray((bulk < HUNGRY_SHARE * bulk[0]) | (bulk > TOO_FULL_SHARE * bulk[0]))

    @cached_property
    def _watched(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` of a plasma set in which a rail of the display fails in this state: the
        main board then takes its request back, and every rail goes."""
        found = np.zeros(len(self._at.low), dtype=bool)
        if self._at.board.stage("sustain") is None or not (self._at.asked and self._at.probe.rail):
            return found
        state = self._at.table.candidates[self._at.number].state
        for number, one in enumerate(self._at.table.candidates):
            of_display = stage_of(one.probe.observable) in OF_THE_DISPLAY
            if of_display and one.probe.rail and one.state == state:
                volts = np.nan_to_num(self._at.table.low[:, number])
                found |= volts < HUNGRY_SHARE * float(volts[0])
        return found

    @cached_property
    def _weak(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` whose cause makes this rail's own source weak: it holds a meter's load
        and gives way to more."""
        return self._at.of_own_stage(WEAKENING)

    @cached_property
    def _kin(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` of one load that drags a rail of the converter which makes this one."""
        board = self._at.board
        made_by = {s.id: s.source if s.kind == "winding" else s.id for s in board.stages}
        own = made_by.get(stage_of(self._at.probe.observable))
        rails = {rail for rail, converter in made_by.items() if converter == own}
        rows = self._at.table.rows
        return np.array([any(dragged_rail(board, f) in rails for f in row.faults) for row in rows])

    @cached_property
    def _pulled(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` of one load of this rail that draws too much."""
        stage = stage_of(self._at.probe.observable)
        fed = {load.part for load in self._at.board.loads if load.rail == stage}
        return np.array(
            [
                len(row.faults) == 1 and row.faults[0].loads_a_rail and row.part in fed
                for row in self._at.table.rows
            ]
        )

    @cached_property
    def _drags(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` of a board that loads its rail down from the start."""
        return np.array(
            [any(f.effect is Effect.DRAG for f in row.faults) for row in self._at.table.rows]
        )

    @cached_property
    def runs_up_to(self) -> Floats:
        """How far each row's rail may get here, `(n_rows,)` volts, on a composed board: as in
        any state, where it comes up in this one at all. How far a rail that lost its regulation
        runs up before a load brings it down is not known."""
        highest = self.peaks
        peak = np.nan_to_num(self._at.peak)
        comes_up = (peak > COMES_UP_SHARE * highest) | self._dragged_elsewhere
        return np.asarray(np.where(comes_up, highest, peak))

    @cached_property
    def _dragged_elsewhere(self) -> NDArray[np.bool_]:
        """Rows `(n_rows,)` of one load that drags another rail than this one: this one may stand
        until the supply gives up."""
        stage = stage_of(self._at.probe.observable)
        rails = {load.part: load.rail for load in reversed(self._at.board.loads)}
        return np.array(
            [
                len(row.faults) == 1
                and row.faults[0].loads_a_rail
                and rails.get(row.part, stage) != stage
                for row in self._at.table.rows
            ]
        )
