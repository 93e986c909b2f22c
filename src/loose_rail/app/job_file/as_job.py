"""A job file as a folded job and a bench, so that it is reviewed like a job of the window."""

from __future__ import annotations

from dataclasses import replace

from loose_rail.app.job_file.read import Case
from loose_rail.diagnosis.dossier import Beside
from loose_rail.diagnosis.evidence.soft_evidence import Clue
from loose_rail.diagnosis.review import Review, review
from loose_rail.diagnosis.settled_facts import Bench
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import fold
from loose_rail.jobs.state import JobState, Noted, Reading

INSTRUMENT = "job file"


def review_of(case: Case) -> Review:
    """What the file says now."""
    if case.records:
        bench = Bench(closed_jobs=case.closed_jobs, beside=case.besides)
        return review(case.engine, fold(case.records), bench)
    clues = tuple(clue for clue in case.clues.clues if not _is_lamp(clue))
    bench = Bench(closed_jobs=case.closed_jobs, beside=tuple(Beside(clue) for clue in clues))
    return review(case.engine, job_of(case), bench)


def job_of(case: Case) -> JobState:
    """The file as a job of one sitting, unplugged: its readings keep their numbers in the file."""
    table = case.engine.table
    readings = []
    for item in case.evidence:
        candidate = table.candidates[table.index(item.candidate)]
        readings.append(
            Reading(
                number=item.number,
                sequence=item.number,
                at="",
                probe=candidate.probe.id,
                state=candidate.state,
                observation=item.observation,
                instrument=INSTRUMENT,
                round=0,
                voided=False,
            )
        )
    lamps = (
        Noted(ev.ClueNoted("lamp", clue.key.removeprefix("lamp:"), clue.says), 0)
        for clue in case.clues.clues
        if _is_lamp(clue)
    )
    symptoms = (ev.SymptomNoted(one.kind, "", one.hertz) for one in case.clues.symptoms)
    return replace(
        JobState(board_id=table.board.id),
        readings=tuple(readings),
        symptoms=tuple(symptoms),
        noted=tuple(lamps),
        skipped=case.clues.skipped,
    )


def _is_lamp(clue: Clue) -> bool:
    return clue.family == "lamp"
