"""How far a single board is stepped at a time: while it changes evenly, from one look to the next.

A sound board spends most of a run waiting: for a reservoir that charges, for the main board to
answer, for a lamp that warms. Every stage solves its own node implicitly, so that a longer step is
no less stable, and what it is wrong by is half of what the change itself changes in it (backward
Euler, textbook). Where that grows, at a start, a trip, a switch, fine steps go on until all is even
again. tests/powered/test_strides holds it to runs in fine steps alone.
"""

from __future__ import annotations

from loose_rail.powered.simulate import Simulation

BEND_SHARE = 1e-3
"""What the change of a level may differ by from one look to the next, of the level: a step in
between is then wrong by half of it at most [D: test_strides, live_speed]."""
LEAST_VOLTS = 5.0
"""Below it the share is taken of this."""
EVEN_LOOKS = 1
"""So many looks one after the other in which nothing bent, before the steps grow."""

AHEAD_LOOKS = 1.5
"""How far ahead a start or stop is seen to come, in looks."""


class Strides:
    """The steps of one board. `look_steps` lie between two looks, also the longest stride."""

    def __init__(self, simulation: Simulation, look_steps: int, step_seconds: float) -> None:
        self._simulation = simulation
        self._look_steps = look_steps
        self._ahead = AHEAD_LOOKS * look_steps * step_seconds
        self._levels = simulation.levels()
        self._changes = [0.0] * len(self._levels)
        self._even = 0

    def next(self, number: int, n_steps: int) -> int:
        """Steps to take at once, where `number` comes next: up to the next look, or one."""
        if self._even < EVEN_LOOKS or number % self._look_steps != 1:
            return 1
        if self._simulation.switches_within(self._ahead):
            return 1
        return min(self._look_steps, n_steps - number)

    def look(self) -> None:
        """Compare what stands with the look before."""
        even = True
        changes = []
        now = self._simulation.levels()
        for level, was, before in zip(now, self._levels, self._changes, strict=True):
            change = level - was
            changes.append(change)
            most = BEND_SHARE * (level if level > LEAST_VOLTS else LEAST_VOLTS)
            if not -most <= change - before <= most:
                even = False
        self._levels, self._changes = now, changes
        self._even = self._even + 1 if even else 0
