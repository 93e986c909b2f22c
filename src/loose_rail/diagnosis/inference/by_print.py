"""A resistor in place against what is printed on it.

What lies beside a resistor only lowers its reading: one that reads more than its bands say has
drifted or is open, whatever else is on the board, and one that reads just that is good and has
nothing beside it. A reading below tells no more than one without its print.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.judgement.judge import Judgement, Verdict
from loose_rail.judgement.limits import limit
from loose_rail.judgement.spread import PRINT_TIMES, reads_a_resistor
from loose_rail.kernel.observation import Form, Observation
from loose_rail.kernel.quantities import component_value, engineering
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]

NEAR_SHARE = 0.9
"""From this share of what is printed nothing lies beside it [P]."""
LISTED_TIMES = 3.0
"""The same where nobody told the print but the board's list has the value: other makes of a board
have up to twice of it there [E]."""
HIGH_LOG = 8.0
"""Natural logarithm of the range in which a resistor that has gone high reads in place, from three
times its ohms to the end of a meter's range [P]."""
SURELY, HARDLY, OUTSIDE = 0.97, 0.003, 0.02
"""Chance of such a reading where the part is bad so, where it is not, and where the fault is none
of the list, as of a part by itself [E]."""


def share_of_print(observation: Observation) -> float | None:
    """A reading as a share of what is printed, leads and all; infinite where it is open, None where
    nothing is printed or no number was read."""
    if observation.printed is None:
        return None
    if observation.form is Form.OPEN:
        return float("inf")
    if observation.form not in (Form.VALUE, Form.ABOVE):
        return None
    leads = limit("lead_ohms")
    return (observation.low + leads) / (observation.printed + leads)


def held_to_print(board: Board, probe: Probe, observation: Observation) -> Observation:
    """The reading with what is listed for the part as its print, where a resistor whose value is
    known reads far more in place than it or that of another make can; else as it is."""
    if observation.printed is not None or probe.lifted or probe.mode is not MeterMode.OHMS:
        return observation
    text = board.component(probe.part).value if board.is_read(probe.part) else ""
    if not text:
        return observation
    held = replace(observation, printed=component_value(text))
    share = share_of_print(held)
    return held if share is not None and share > LISTED_TIMES else observation


def above_listed(
    table: PredictionTable, part: str, observation: Observation, gross: float
) -> Floats:
    """Likelihood under every row `(n_rows,)` of a reading far above what is listed for a resistor:
    its own fault, or a gross error, of which `gross` is the density or chance."""
    own = np.array([any(f.ref == part for f in row.faults) for row in table.rows])
    wide = SURELY / HIGH_LOG if observation.form is Form.VALUE else SURELY
    return np.where(own, wide, gross)


def by_print(table: PredictionTable, part: str, observation: Observation) -> Floats | None:
    """Likelihood under every row `(n_rows,)`; None where the print tells nothing."""
    share = share_of_print(observation)
    if share is None or share <= NEAR_SHARE:
        return None
    own = np.array([any(f.ref == part for f in row.faults) for row in table.rows])
    outside = np.isnan(table.low[:, 0])
    if share > PRINT_TIMES:
        likely = np.where(own, SURELY, np.where(outside, OUTSIDE, HARDLY))
    else:
        likely = np.where(own, HARDLY, SURELY)
    return np.asarray(likely)


def above_print(table: PredictionTable, evidence: Sequence[Evidence]) -> frozenset[str]:
    """Resistors whose last reading in place is more than the print that was told with it: nothing
    beside one does that, so they are bad whatever else is. OL may be a lead that does not touch."""
    last: dict[str, tuple[str, float]] = {}
    for item in evidence:
        probe = table.candidates[table.index(item.candidate)].probe
        if probe.live or not reads_a_resistor(table.board, probe):
            continue
        share = share_of_print(item.observation)
        last[probe.id] = (probe.part, 0.0 if share is None else share)
    return frozenset(part for part, share in last.values() if PRINT_TIMES < share < np.inf)


def judged_by_print(observation: Observation, judgement: Judgement) -> Judgement:
    """The judgement of a reading, by the print where that decides."""
    share = share_of_print(observation)
    if share is None or share <= NEAR_SHARE:
        return judgement
    printed = engineering(observation.printed or 0.0, "Ω")
    if share > PRINT_TIMES:
        reason = f"more than its {printed}: what lies beside a resistor only lowers it"
        return Judgement(Verdict.DISAGREES, reason, f"< {printed}")
    return Judgement(Verdict.AGREES, f"just what is printed on it, {printed}", f"< {printed}")
