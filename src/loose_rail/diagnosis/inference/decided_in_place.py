"""Readings in place that nothing makes but a fault of the part at which they are taken."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.found_first import rows_with
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.observation import Form
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]

OF_JUNCTIONS = (MeterMode.OHMS, MeterMode.DIODE)
"""An ESR is read once more before it is believed (odd_parts)."""
DECIDES_NATS = 3.0
"""So much likelier a reading is under some fault of its part than under any other: those are left
to a slip [E]."""


def decided_in_place(table: PredictionTable, evidence: Sequence[Evidence]) -> frozenset[str]:
    """Parts whose last reading in place decides; a number only: OL may be a lead that does not
    touch, and a beep one that touches another."""
    last: dict[str, tuple[str, bool]] = {}
    for item in evidence:
        number = table.index(item.candidate)
        probe = table.candidates[number].probe
        if probe.live or probe.lifted or not probe.part or probe.mode not in OF_JUNCTIONS:
            continue
        decides = item.observation.form is Form.VALUE and _decides(table, number, item)
        last[probe.id] = (probe.part, decides)
    return frozenset(part for part, decides in last.values() if decides)


def _decides(table: PredictionTable, number: int, item: Evidence) -> bool:
    column = column_of(table, number)
    part = column.probe.part
    own = np.zeros(len(table.rows), dtype=bool)
    own[rows_with(table).get(part, [])] = True
    others = ~own & ~column.outside
    if not own.any() or not others.any():
        return False
    likely = column.log_likelihood(item.observation)
    return float(likely[own].max() - likely[others].max()) >= DECIDES_NATS
