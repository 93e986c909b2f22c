"""Whether a printed label is wrong: readings that agree with each other and not with the label."""

from __future__ import annotations

from loose_rail.boards.profile import Rail
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.jobs.state import JobState
from loose_rail.kernel.observation import Form
from loose_rail.vocabulary.board_state import BoardState

USUAL_VOLTS = (3.3, 5.0, 12.0)
"""Standby rails that most boards have; another value is a fault before it is a label [P]."""
AGREE_SHARE, AWAY_SHARE = 0.02, 0.1


def label_of_readings(table: PredictionTable, job: JobState) -> tuple[Rail, float] | None:
    """The standby rail and the volts that it has in truth, None where its label stands: read still
    with the main cable on and off, the same, usual for such a rail, and not what is printed."""
    found: dict[str, dict[BoardState, float]] = {}
    for reading in job.live_readings:
        candidate = table.candidates[table.index(reading.candidate)]
        if candidate.probe.live and candidate.probe.rail and reading.state.plugged:
            if reading.observation.form is not Form.VALUE:
                return None
            found.setdefault(candidate.probe.rail, {})[reading.state] = reading.observation.low
    for rail in table.board.rails:
        values = found.get(rail.id, {})
        cables = {state.main_cable for state in values}
        if rail.kind != "regulated_standby" or len(cables) < 2:
            continue
        low, high = min(values.values()), max(values.values())
        volts = next((v for v in USUAL_VOLTS if abs(low / v - 1.0) < AGREE_SHARE), None)
        if volts is None or high > (1.0 + AGREE_SHARE) * low:
            continue
        if abs(volts / rail.volts - 1.0) > AWAY_SHARE:
            return rail, volts
    return None
