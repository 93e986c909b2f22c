"""Predictions on the mains that was measured at the inlet, instead of the nominal one.

What stands at the inlet's volts, or at their crest, goes up and down by the ratio, and spreads less
than while the mains was only known to be within a tenth. Nothing else is touched: what a converter
regulates does not follow the mains.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import fields, replace

import msgspec
import numpy as np

from loose_rail.boards.profile import Mains
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.jobs.state import Reading
from loose_rail.judgement.limits import limit
from loose_rail.judgement.spread import INLET_TIMES, follows_inlet
from loose_rail.kernel.observation import Form

INLET = "mains"


def inlet_volts(table: PredictionTable, readings: Sequence[Reading]) -> float | None:
    """The inlet voltage by the latest reading of it, None where none says it.

    One through the lamp counts only where the lamp drops next to nothing; one far from the nominal
    mains is a finding and no scale.
    """
    if table.board.adapter_fed:
        return None
    for reading in reversed(readings):
        candidate = table.candidates[table.index(reading.candidate)]
        seen = reading.observation
        if candidate.probe.observable != INLET or seen.form is not Form.VALUE:
            continue
        share = abs(seen.low) / table.board.mains.volts
        lamp = candidate.state.lamp_watts > 0
        least = limit("inlet_lamp_least_share" if lamp else "inlet_least_share")
        if least <= share <= limit("inlet_most_share"):
            return abs(seen.low)
    return None


def on_inlet(table: PredictionTable, volts: float) -> PredictionTable:
    """The table of the same rows and candidates with the inlet at `volts` (RMS).

    What was worked out of the untouched columns is kept.
    """
    board = table.board
    ratio = volts / board.mains.volts
    low, high, peak = table.low.copy(), table.high.copy(), table.peak.copy()
    touched: set[int] = set()
    for number, candidate in enumerate(table.candidates):
        if candidate.probe.observable not in INLET_TIMES:
            continue
        touched.add(number)
        for values in (low, high, peak):
            follows = follows_inlet(candidate.probe, values[:, number], board.mains.volts)
            values[:, number] = np.where(follows, ratio, 1.0) * values[:, number]
    measured = msgspec.structs.replace(
        board, mains=Mains(board.mains.volts, board.mains.hertz, volts)
    )
    found = replace(table, board=measured, low=low, high=high, peak=peak)
    own = {field.name for field in fields(table)} | {"prepared", "_alike", "weighed"}
    vars(found).update({name: value for name, value in vars(table).items() if name not in own})
    columns = table.prepared.items()
    found.prepared.update({number: one for number, one in columns if number not in touched})
    return found
