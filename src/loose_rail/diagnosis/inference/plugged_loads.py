"""Ohms from a rail to its ground with the boards behind it still plugged: what shorts it may be one
of them. The same with the plug off, or at that board by itself, tells which."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.kinds.kind import Effect
from loose_rail.boards.probes import Probe, boards_behind
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.predicted import DRAG_MIDDLE_OHMS, DRAG_SPREAD_LOG
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.limits import limit
from loose_rail.judgement.spread import scaled, student4, student4_below
from loose_rail.kernel.observation import Form, Observation
from loose_rail.vocabulary.meter_mode import MeterMode

SHORT_OHMS = 1.0
"""What a meter beeps at, at most."""


def with_loads_clue(
    table: PredictionTable, probe: Probe, candidate: str, seen: Observation
) -> Clue:
    """The reading with its boards on: a board that drags the rail is read in place of it."""
    column = column_of(table, table.index(candidate))
    likely = column.likelihood(seen)
    loads = boards_behind(table.board, probe)
    drags = np.array(
        [any(f.ref in loads and f.effect is Effect.DRAG for f in row.faults) for row in table.rows]
    )
    gross = limit("gross_error")
    dragged = (1.0 - gross) * _of_a_drag(seen, probe.mode) + gross * column.flat(seen)
    log: NDArray[np.float64] = np.log(np.where(drags, dragged, likely))
    words = f"{probe.title}, its boards plugged: {seen.text()}"
    key = f"plugged:{candidate}"
    return Clue(key, key, words, "a board that is plugged may be what reads low", log)


def _of_a_drag(seen: Observation, mode: MeterMode) -> float:
    """Density or chance of a reading through a board that drags its rail."""
    middle = float(scaled(DRAG_MIDDLE_OHMS, mode))
    if seen.form is Form.VALUE:
        gap = (float(scaled(seen.low, mode)) - middle) / DRAG_SPREAD_LOG
        return float(student4(np.array(gap))) / DRAG_SPREAD_LOG
    if seen.form is Form.SHORT:
        gap = (float(scaled(SHORT_OHMS, mode)) - middle) / DRAG_SPREAD_LOG
        return float(student4_below(np.array(gap)))
    return limit("gross_error")
