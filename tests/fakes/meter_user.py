"""A job as its meters see it."""

from __future__ import annotations

from loose_rail.app.metered_entry import Wanted
from loose_rail.app.outcome import Outcome
from loose_rail.kernel.observation import Observation
from loose_rail.vocabulary.meter_mode import MeterMode


class FakeBench:
    """A job's presenter as the desk sees it: one point after another."""

    def __init__(self, points: list[Wanted]) -> None:
        self.points = points
        self.taken: list[tuple[str, Observation, str]] = []
        self.drained_asked = False
        self.refuses = ""

    def wanted_reading(self) -> Wanted | None:
        return self.points[0] if self.points else None

    def coming_reading(self) -> MeterMode | None:
        return None

    def needs_drained(self) -> bool:
        return self.drained_asked

    def bulk_farads(self) -> float:
        return 150e-6

    def meter_reading(
        self, key: str, seen: Observation, name: str, proved: bool = False
    ) -> Outcome:
        if self.refuses:
            return Outcome.refused(self.refuses)
        self.taken.append((key, seen, name))
        if key == "bulk":
            self.drained_asked = False
        else:
            self.points.pop(0)
        return Outcome("taken")
