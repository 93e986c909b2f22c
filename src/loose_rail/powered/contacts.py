"""A contact that comes and goes while the board runs: the plant alternates, the state goes on.

A joint that is being tapped or is warming: dwell times are drawn around a mean good and a mean bad
time (gamma law of shape 2: neither moments nor ages); the seed makes the sequence repeatable. Law
and times are estimates [E].
"""

from __future__ import annotations

import numpy as np

from loose_rail.powered.plant import Plant
from loose_rail.powered.simulate import Simulation
from loose_rail.powered.stages.mains import AdapterSide, HotSide

GOOD_SECONDS = 0.84
BAD_SECONDS = 0.36
SHAPE = 2.0
"""Mean times; 0.3 of the time is bad, as the table of kinds has it."""


class Intermittent(Simulation):
    """One board whose joint opens and closes; starts with a good contact."""

    EVEN = False

    def __init__(
        self, good: Plant, bad: Plant, seed: int = 1, hot: HotSide | AdapterSide | None = None
    ) -> None:
        super().__init__(good, hot)
        self._plants = (good, bad)
        self._rng = np.random.default_rng(seed)
        self._is_bad = False
        self._left = self._dwell(GOOD_SECONDS)
        self.turns = 0

    def step(self, dt: float) -> None:
        """Advance by `dt`, and turn the contact over when its time has come."""
        self._left -= dt
        if self._left <= 0.0:
            self._is_bad = not self._is_bad
            self.turns += 1
            self.adopt(self._plants[self._is_bad])
            self._left = self._dwell(BAD_SECONDS if self._is_bad else GOOD_SECONDS)
        super().step(dt)

    def _dwell(self, mean_seconds: float) -> float:
        return float(self._rng.gamma(SHAPE, mean_seconds / SHAPE))
