"""What a job says of its board in one repair round: readings, symptoms, and what is known beside
them, all as evidence."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from loose_rail.boards.whole_board import renewed
from loose_rail.diagnosis.evidence.readings import Evidence, evidence_of
from loose_rail.diagnosis.evidence.soft_evidence import (
    BAD_WAYS,
    Clue,
    cleared_clue,
    disconnected_clue,
    finding_clue,
    history_clue,
    lamp_clue,
    symptom_clue,
)
from loose_rail.diagnosis.evidence.symptoms import OF_A_DEAD_SET, Symptom
from loose_rail.diagnosis.inference.shop_history import ClosedJob, learned_clue
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.jobs import events as ev
from loose_rail.jobs.state import JobState, Reading
from loose_rail.vocabulary.light import Light


@dataclass(frozen=True)
class Beside:
    """A clue that no event of the window tells, and the repair round that it belongs to: None where
    it holds for every one."""

    clue: Clue
    round: int | None = None


@dataclass(frozen=True)
class Dossier:
    """One repair round of a job. `clues` holds the symptoms too, and comes first; the first
    `of_symptoms` of them."""

    round: int
    readings: tuple[Reading, ...]
    evidence: tuple[Evidence, ...]
    clues: tuple[Clue, ...]
    of_symptoms: int = 0


def dossier_of(
    table: PredictionTable,
    job: JobState,
    number: int,
    closed_jobs: Sequence[ClosedJob] = (),
    beside: Sequence[Beside] = (),
) -> Dossier:
    """What counts in round `number`; `beside` is what a job file tells in no event."""
    readings = job.readings_in(number)
    noted = symptoms_in(job, number)
    symptoms = [symptom_clue(table, Symptom(s.symptom, s.hertz)) for s in noted]
    clues = (*symptoms, *clues_in(table, job, number, closed_jobs))
    clues += tuple(one.clue for one in beside if one.round in (None, number))
    return Dossier(number, readings, evidence_of(readings), clues, len(symptoms))


def symptoms_in(job: JobState, number: int) -> tuple[ev.SymptomNoted, ...]:
    """What the set does in a round: where eyes saw it run since the last repair, and not as it
    should, what only a dead one does was that repair's."""
    light = Light(job.light) if job.light else None
    if light is None or number != job.round or not (light.runs and light.is_bad):
        return job.symptoms
    return tuple(one for one in job.symptoms if one.symptom not in OF_A_DEAD_SET)


def clues_in(
    table: PredictionTable, job: JobState, number: int, closed_jobs: Sequence[ClosedJob]
) -> tuple[Clue, ...]:
    """History, findings, what was seen beside the meter in a repair round, and the shop's own jobs.
    A part that was fitted for this round or an earlier one counts as good, on an exchanged board
    every one."""
    parts = [one.part for one in job.fits if one.round <= number]
    fitted = renewed(table.board, parts)
    found = [history_clue(table, one.fact) for one in job.history]
    seen = [one for one in job.findings if one.part not in fitted]
    found += [finding_clue(table, one.part, one.seen) for one in seen]
    for one in job.noted:
        of_part = one.event.clue == "removed" and one.round <= number
        if (one.round == number or of_part) and one.event.subject not in fitted:
            found.append(noted_clue(table, one.event))
    known = {part.ref for part in table.board.components}
    found += [cleared_clue(table, part, good=True, fresh=True) for part in sorted(fitted & known)]
    learned = learned_clue(table, closed_jobs)
    return (*found, learned) if learned is not None else tuple(found)


def noted_clue(table: PredictionTable, one: ev.ClueNoted) -> Clue:
    """What was seen beside the meter, as a clue."""
    if one.clue == "lamp":
        return lamp_clue(table, one.subject, one.answer)
    if one.clue == "removed":
        way = one.answer if one.answer in BAD_WAYS else BAD_WAYS[0]
        return cleared_clue(table, one.subject, one.answer == "good", way=way)
    return disconnected_clue(table, one.subject, one.answer == "helped")
