"""A meter reading as evidence."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from loose_rail.jobs.state import Reading
from loose_rail.kernel.observation import Observation


@dataclass(frozen=True, slots=True)
class Evidence:
    """One reading that counts: its number in the ledger, where it was taken, what was seen."""

    number: int
    candidate: str
    observation: Observation


def evidence_of(readings: Sequence[Reading]) -> tuple[Evidence, ...]:
    """Readings of the ledger as evidence."""
    return tuple(Evidence(r.number, r.candidate, r.observation) for r in readings)
