"""What a job's log tells the engine: readings, and what is known beside them, of a repair round."""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.diagnosis.evidence.soft_evidence import (
    Clue,
    cleared_clue,
    disconnected_clue,
    finding_clue,
    history_clue,
    lamp_clue,
)
from loose_rail.diagnosis.inference.posterior import Evidence
from loose_rail.diagnosis.inference.shop_history import ClosedJob, learned_clue
from loose_rail.diagnosis.model.predictions import PredictionTable
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import JobState, Reading


def evidence_of(readings: Sequence[Reading]) -> list[Evidence]:
    """Readings of the ledger as evidence for the engine."""
    return [Evidence(r.number, r.candidate, r.observation) for r in readings]


def noted_clue(table: PredictionTable, one: ev.ClueNoted) -> Clue:
    """What was seen beside the meter, as a clue."""
    if one.clue == "lamp":
        return lamp_clue(table, one.subject, one.answer)
    if one.clue == "removed":
        return cleared_clue(table, one.subject, one.answer == "good")
    return disconnected_clue(table, one.subject, one.answer == "helped")


def clues_in(
    table: PredictionTable, state: JobState, number: int, closed_jobs: Sequence[ClosedJob]
) -> tuple[Clue, ...]:
    """History, findings, what was seen beside the meter in a repair round, and the shop's own jobs.
    A part that was fitted for this round or an earlier one counts as good."""
    fitted = {one.part for one in state.fits if one.round <= number}
    found = [history_clue(table, one.fact) for one in state.history]
    seen = [one for one in state.findings if one.part not in fitted]
    found += [finding_clue(table, one.part, one.seen) for one in seen]
    for one in state.noted:
        of_part = one.event.clue == "removed" and one.round <= number
        if (one.round == number or of_part) and one.event.subject not in fitted:
            found.append(noted_clue(table, one.event))
    known = {part.ref for part in table.board.components}
    found += [cleared_clue(table, part, good=True) for part in sorted(fitted & known)]
    learned = learned_clue(table, closed_jobs)
    return (*found, learned) if learned is not None else tuple(found)
