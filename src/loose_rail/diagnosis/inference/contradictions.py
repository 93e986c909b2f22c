"""Physics before statistics: two readings across the same two nets can't say short and not short.

Whatever is wrong with a board, parts that lie side by side share what is between them. Such a pair
is named at once, before any of it is laid to a fault outside the model.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.meter_mode import MeterMode

SHORT_OHMS, CLEAR_OHMS, CLEAR_TIMES = 4.0, 20.0, 8.0
"""A short reads less than the first, ohms; what reads more than the second, and so many times the
other reading, is none: leads and contacts explain no such gap [P]."""
SHORT_VOLTS, CLEAR_VOLTS = 0.01, 0.1
"""The same of a diode test, volts at about a milliampere."""


@dataclass(frozen=True, slots=True)
class Contradiction:
    """Two readings, by number and candidate, that can't both be right: `low` says a short."""

    low: Evidence
    high: Evidence
    low_title: str
    high_title: str

    @property
    def words(self) -> str:
        """What is wrong, and what to do."""
        return (
            f"{self.low_title}, {self.low.observation.text(2)}, and {self.high_title}, "
            f"{self.high.observation.text(2)}, lie across the same two points: both can't be. "
            "Read them again."
        )


def contradictions(
    table: PredictionTable, evidence: Sequence[Evidence]
) -> tuple[Contradiction, ...]:
    """Every such pair among the last readings at the points of the dead board, in their order."""
    last: dict[str, Evidence] = {}
    for item in evidence:
        probe = table.candidates[table.index(item.candidate)].probe
        if probe.in_place:
            last[item.candidate] = item
    places: dict[frozenset[str], list[Evidence]] = {}
    for item in last.values():
        probe = table.candidates[table.index(item.candidate)].probe
        places.setdefault(frozenset((probe.plus, probe.minus)), []).append(item)
    found = []
    for same in places.values():
        for low in same:
            for high in same:
                a, b = (table.candidates[table.index(x.candidate)].probe for x in (low, high))
                if _short(a.mode, low.observation) and _clear(b.mode, high, low):
                    found.append(Contradiction(low, high, a.title, b.title))
    return tuple(found)


def _short(mode: MeterMode, seen: Observation) -> bool:
    if seen.form is Form.SHORT:
        return True
    if seen.form is not Form.VALUE:
        return False
    if mode is MeterMode.DIODE:
        return seen.low < SHORT_VOLTS
    return mode in (MeterMode.OHMS, MeterMode.CONTINUITY) and seen.low < SHORT_OHMS


def _clear(mode: MeterMode, high: Evidence, low: Evidence) -> bool:
    seen = high.observation
    if seen.form is Form.OPEN:
        return mode in (MeterMode.OHMS, MeterMode.DIODE)
    if seen.form is not Form.VALUE:
        return False
    if mode is MeterMode.DIODE:
        return seen.low > CLEAR_VOLTS
    ohms = low.observation.low if low.observation.unit == "Ω" else 0.0
    return mode is MeterMode.OHMS and seen.low > max(CLEAR_OHMS, CLEAR_TIMES * ohms)
