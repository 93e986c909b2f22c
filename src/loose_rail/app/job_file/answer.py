"""The answer to a job file: suspects at three levels, what to do next, what is not proved."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from loose_rail.app.job_file.as_job import review_of
from loose_rail.app.job_file.plan import plan_lines, steps_of
from loose_rail.app.job_file.read import Case
from loose_rail.app.job_file.words import words
from loose_rail.diagnosis.evidence.unlisted_clues import HOW_IT_SHOWED, opened_by_another, title_of
from loose_rail.diagnosis.explain.differ import differ
from loose_rail.diagnosis.explain.levels import (
    OUTSIDE_MODEL,
    POWER_BOARD,
    board_level_of,
    board_shares,
    boards_named,
    section_shares,
)
from loose_rail.diagnosis.explain.measurement_errors import slips_of
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.explain.reasons import Reason, leading_row, reasons_for
from loose_rail.diagnosis.explain.supply_words import at_work_words, supply_words
from loose_rail.diagnosis.explain.unproved import unproved
from loose_rail.diagnosis.inference.contradictions import contradictions
from loose_rail.diagnosis.inference.finding import Finding, Standing
from loose_rail.diagnosis.inference.outside import SHOWN_BY_A_PART
from loose_rail.diagnosis.inference.posterior import bad_probabilities
from loose_rail.diagnosis.inference.shop_history import counts_of
from loose_rail.diagnosis.model.hypotheses import OUTSIDE
from loose_rail.diagnosis.planning.assessment import Assessment
from loose_rail.diagnosis.planning.intermittent import soak_plan
from loose_rail.diagnosis.review import Review
from loose_rail.judgement.limits import limit

SCHEMA = "loose-rail/answer/1"
MOST_SUSPECTS = 8
MOST_REASONS = 4
LEAST_SHOWN = 0.01
STANDINGS = {
    Standing.UNDECIDED: "no part is sure enough yet",
    Standing.BEST_MATCH: "best match, not confirmed by a reading at the part itself",
    Standing.CONFIRMED: "confirmed by a reading at the part itself",
}


ALONE = "measured bad by itself, off the set"
EXCHANGED = "the set runs with a good one in its place; let it run, then hand it back"


def answer(case: Case, steps: int) -> dict[str, Any]:
    """Everything that the evidence says now, with the next `steps` probes."""
    table = case.engine.table
    now = review_of(case)
    found, clues = now.assessment, now.dossier.clues
    offer = found.next_step.offer if found.next_step else None
    advice = now.stop_advice(case.costs)
    told = clues[now.dossier.of_symptoms :]
    new = frozenset[str]().union(*(c.found for c in told if c.family.startswith("replaced:")))
    fitted = {one.part for one in now.job.fits}
    soak = soak_plan(table, found.probabilities)
    named = Names(table.board, case.case_board.generic)
    return {
        "schema": SCHEMA,
        "board": {
            "id": table.board.id,
            "title": table.board.title,
            "topology": table.board.topology,
            "known_by": "topology" if case.case_board.generic else table.board.known_by,
        },
        "suspects": {
            "boards": _boards(case, now),
            "sections": [
                {"section": share.name, "probability": _p(share.probability)}
                for share in section_shares(table, found.probabilities, now.unlisted[0])
                if share.probability >= LEAST_SHOWN
            ],
            "parts": _parts(case, now, named),
        },
        "finding": _unlisted(now, named) or _finding(case, found, named),
        "supply_good": _supply(case, found, named),
        "at_work": at_work_words(float(found.probabilities[0])) if found.at_work else None,
        "differ": differ(now, named),
        "next": steps_of(now, steps, named, ran=bool(new)),
        "plan": plan_lines(now, named),
        "contradictions": [
            {
                "readings": [pair.low.number, pair.high.number],
                "words": named.text(pair.words),
            }
            for pair in contradictions(table, now.dossier.evidence)
        ],
        "read_again": [
            {"reading": slip.number, "probability": _p(slip.probability), "likely": slip.words}
            for slip in slips_of(table, now.dossier.evidence, clues)
        ],
        "stop": _stop_unlisted(case, now)
        or (
            None
            if advice is None
            else {
                "part": named.part(advice.part),
                "repair_now": advice.repair_now and advice.part not in new | fitted,
                "loss_now": round(advice.now, 1),
                "loss_after_next": None if offer is None else round(advice.after_reading, 1),
            }
        ),
        "soak": None if soak is None else {"probability": _p(soak.probability), "do": soak.words},
        "known_on_this_board": [
            {"suspect": count.suspect, "words": count.words}
            for count in counts_of(table.board, case.closed_jobs)
        ],
        "warnings": [*_warnings(case, found, now.unlisted[0]), *case.notes.warnings],
        "unproved": _unproved(case, unproved(now, named)),
        "understood": {
            "words": case.notes.understood,
            "symptoms": [symptom.symptom for symptom in now.job.symptoms],
            "clues": [{"words": clue.words, "reason": clue.reason} for clue in told],
            "readings": [{"number": told.number, "words": told.words} for told in case.told],
        },
        "not_used": [{"what": one.what, "why": one.why} for one in case.notes.not_used],
    }


def _p(probability: float) -> float:
    return round(float(probability), 4)


def _boards(case: Case, now: Review) -> list[dict[str, Any]]:
    known = words().levels
    sums: dict[str, float] = {}
    table, chances = case.engine.table, now.assessment.probabilities
    for share in board_shares(table, chances, now.unlisted[0]):
        fixed = ("nothing wrong with the supply", OUTSIDE_MODEL)
        level = share.name if share.name in fixed else known.get(share.name, "other")
        sums[level] = sums.get(level, 0.0) + share.probability
    ordered = sorted(sums.items(), key=lambda item: -item[1])
    return [{"board": level, "probability": _p(share)} for level, share in ordered]


def _parts(case: Case, now: Review, named: Names) -> list[dict[str, Any]]:
    table, found = now.table, now.assessment
    bad = bad_probabilities(table, found.probabilities)
    told = {one.number: named.text(one.words) for one in case.told}
    shown: list[dict[str, Any]] = []
    for suspect in found.suspects[:MOST_SUSPECTS]:
        if suspect.probability < LEAST_SHOWN and shown:
            break
        reasons = reasons_for(table, suspect.key, now.dossier.evidence, now.dossier.clues, told)
        row = table.rows[leading_row(table, suspect.key, found.probabilities)]
        shown.append(
            {
                "suspect": suspect.key if not case.case_board.generic else None,
                "part": named.part(suspect.part) if suspect.part else "",
                "title": named.suspect(suspect.part, suspect.title),
                "board": board_level_of(table.board, row),
                **(_of_no_list(now) if row.suspect == OUTSIDE else {}),
                "probability": _p(suspect.probability),
                "part_bad": _p(bad.get(suspect.part, 0.0)),
                "for": _reasons(reasons, named, True),
                "against": _reasons(reasons, named, False),
            }
        )
    return shown


def _of_no_list(now: Review) -> dict[str, Any]:
    """The part of no list that the row outside it stands for, where one showed itself."""
    name, how = now.unlisted
    if not name:
        return {}
    title = f"{title_of(name, how)}; this model does not have it"
    return {"part": name, "title": title, "board": POWER_BOARD}


def _unlisted(now: Review, named: Names) -> dict[str, Any] | None:
    """The finding where a part of no list read bad by itself, or cured the set: it is bad, listed
    or not, and so is what is confirmed beside it."""
    name, how = now.unlisted
    if how not in SHOWN_BY_A_PART:
        return None
    beside = now.assessment.finding
    confirmed = beside is not None and beside.standing is Standing.CONFIRMED
    return {
        "part": name,
        "probability": _p(now.assessment.probabilities[-1]),
        "standing": str(Standing.CONFIRMED),
        "words": f"{HOW_IT_SHOWED[how]}; this model does not have it",
        "confirmed_by": [],
        "not_told_apart_from": [],
        "may_be_bad_as_well": [
            {"part": named.part(beside.part), "probability": _p(beside.probability)}
        ]
        if confirmed and beside is not None
        else [],
    }


def _stop_unlisted(case: Case, now: Review) -> dict[str, Any] | None:
    """What a part of no list that is the finding asks for: to be renewed where it read bad by
    itself; one that was renewed already asks for nothing."""
    name, how = now.unlisted
    beside = now.assessment.finding
    if how not in SHOWN_BY_A_PART or (beside and beside.standing is Standing.CONFIRMED):
        return None
    chance = float(now.assessment.probabilities[-1])
    return {
        "part": name,
        "repair_now": how == "bad"
        and chance >= limit("verdict_probability")
        and not opened_by_another(name),
        "loss_now": round((1.0 - chance) * case.costs.wrong_repair, 1),
        "loss_after_next": None,
    }


def _reasons(reasons: Sequence[Reason], named: Names, speaks_for: bool) -> list[dict[str, Any]]:
    chosen = [r for r in reasons if (r.log_odds > 0) == speaks_for][:MOST_REASONS]
    return [
        {"words": named.text(r.words), "strength": r.strength, "log_odds": round(r.log_odds, 2)}
        for r in chosen
    ]


def _finding(case: Case, found: Assessment, named: Names) -> dict[str, Any] | None:
    finding = found.finding
    if finding is None:
        return None
    return {
        "part": named.part(finding.part),
        "probability": _p(finding.probability),
        "standing": str(finding.standing),
        "words": _standing_words(finding, named),
        "confirmed_by": list(finding.confirmed_by),
        "not_told_apart_from": [named.part(ref) for ref in finding.twins],
        "may_be_bad_as_well": [
            {"part": named.part(ref), "probability": _p(share)} for ref, share in finding.companions
        ],
    }


def _supply(case: Case, found: Assessment, named: Names) -> dict[str, Any] | None:
    if found.supply is None:
        return None
    board = case.engine.table.board
    return {
        "probability": _p(found.supply.probability),
        "look_at": boards_named(board, [ref for ref, _ in found.supply.elsewhere]),
        "words": named.text(supply_words(board, found.supply)),
    }


def _standing_words(finding: Finding, named: Names) -> str:
    if finding.waits_for:
        parts = ", ".join(named.part(ref) for ref in finding.waits_for)
        return f"no verdict: what opened it is not found; not read yet: {parts}"
    if finding.exchanged:
        return EXCHANGED
    if finding.alone:
        return ALONE
    return STANDINGS[finding.standing]


def _warnings(case: Case, found: Assessment, unlisted: str) -> list[str]:
    table = case.engine.table
    said = []
    if float(found.probabilities[table.primary_short].sum()) > 0.05 and not table.board.adapter_fed:
        said.append(
            "A short on the primary side is not excluded: no mains without a lamp or resistor in "
            "line, and no new fuse before the short is found."
        )
    if float(found.probabilities[-1]) > 0.3 and not unlisted:
        said.append(
            "Nothing on the list explains these readings well: the fault may lie outside the model."
        )
    if table.board.stage("sustain") is not None:
        said.append("The sustain supply stores deadly energy for minutes: measure, then touch.")
    if not table.board.adapter_fed:
        said.append(
            "The hot side is live with the mains: isolation or a residual-current device, one "
            "hand. Before ohms the bulk is measured, not assumed empty. Local rules come first."
        )
    return said


def _unproved(case: Case, said: Sequence[str]) -> list[str]:
    if case.case_board.generic:
        return [
            *said,
            "The board is known by its topology only: values are typical, not its own.",
        ]
    return list(said)
