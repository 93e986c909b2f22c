"""Whether a short on the primary side is excluded: what full power asks for first."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.diagnosis.posterior import Evidence
from loose_rail.diagnosis.predictions import PredictionTable
from loose_rail.judgement.limits import limit

Floats = NDArray[np.float64]

SEEN_DARK = ("dark", "flash_dark")
"""What a lamp in line does where nothing behind it is shorted."""


def short_excluded(
    table: PredictionTable,
    probabilities: Floats,
    evidence: Sequence[Evidence],
    lamp_seen: str = "",
) -> bool:
    """The bulk was read and is no short, or the lamp went dark, and the posterior leaves no room
    for a short."""
    proved = lamp_seen in SEEN_DARK or any(_proves(table, item) for item in evidence)
    share = float(probabilities[table.primary_short].sum())
    return proved and share < limit("short_excluded_probability")


def _proves(table: PredictionTable, item: Evidence) -> bool:
    candidate = table.candidates[table.index(item.candidate)]
    low = item.observation.low
    if candidate.probe.id == f"{table.board.roles['bulk'][0]}.ohms":
        return low > limit("bulk_sound_ohms")
    through_lamp = candidate.probe.id == "live.bulk" and candidate.state.lamp_watts > 0
    return through_lamp and low > limit("bulk_through_lamp_share") * table.board.mains.volts
