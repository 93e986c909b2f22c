"""Whether a printed label is wrong: readings that agree with each other and not with the label, of
one job, or of sound boards of this number."""

from __future__ import annotations

from loose_rail.boards.profile import Board, Rail
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.jobs.state import JobState
from loose_rail.kernel.observation import Form
from loose_rail.vocabulary.board_state import BoardState, Power

USUAL_VOLTS = (3.3, 3.5, 5.0, 12.0)
"""Standby rails that most boards have; another value is a fault before it is a label [P]."""
AGREE_SHARE, AWAY_SHARE = 0.02, 0.1
USUAL_SHARE = 0.05
"""A standby rail that carries little stands this much off the volts it is known by [P]."""
AWAY_WHEN_SOUND = 0.04
"""From this share on a rail of a sound board stands elsewhere than its label, which names it to the
volt [E]."""


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
        volts = next((v for v in USUAL_VOLTS if abs(low / v - 1.0) < USUAL_SHARE), None)
        if volts is None or high > (1.0 + AGREE_SHARE) * low:
            continue
        if abs(volts / rail.volts - 1.0) > AWAY_SHARE:
            return rail, volts
    return None


def words_for_job(table: PredictionTable, job: JobState) -> str:
    """What is proposed at the bench, empty where every label stands."""
    found = label_of_readings(table, job)
    if found is None or table.board.known_by != "own":
        return ""
    rail, volts = found
    last = table.candidates[table.index(job.live_readings[-1].candidate)].probe
    if last.rail != rail.id:
        return ""
    return (
        f"The {rail.title.lower()} reads {volts:g} V, still, with the cable on and off: its label "
        f"may be wrong. Ctrl+B, then {rail.volts:g}V stands at {volts:g}."
    )


def words_for_board(board: Board) -> list[str]:
    """What sound boards of this number say of its labels, a line each with what to type."""
    found: dict[str, list[float]] = {}
    points = {f"live.{point.id}": point for point in board.live_points if point.rail}
    awake = {one.key for one in live_states(board) if one.power in (Power.ON, Power.FORCED)}
    for key, values in board.norms.items():
        probe, _, state = key.partition("@")
        if probe in points and state in awake:
            found.setdefault(points[probe].rail, []).extend(values)
    said = []
    for rail in board.rails:
        values = sorted(found.get(rail.id, ()))
        if not values or values[-1] > (1.0 + AGREE_SHARE) * values[0]:
            continue
        volts = sum(values) / len(values)
        if rail.volts > 0 and abs(volts / rail.volts - 1.0) > AWAY_WHEN_SOUND:
            said.append(
                f"sound boards read {volts:.3g} V at the {rail.title}: type "
                f"{rail.volts:g}V stands at {volts:.3g}"
            )
    return said
