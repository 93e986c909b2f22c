"""The answer to a job file: suspects at three levels, what to do next, what is not proved."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from loose_rail.app.job_file.names import Names
from loose_rail.app.job_file.plan import plan_words, steps_of
from loose_rail.app.job_file.read import Case
from loose_rail.app.job_file.words import words
from loose_rail.diagnosis.explain.levels import board_level_of, board_shares, section_shares
from loose_rail.diagnosis.explain.measurement_errors import slips_of
from loose_rail.diagnosis.explain.reasons import Reason, contrast, leading_row, reasons_for
from loose_rail.diagnosis.inference.finding import Finding, Standing
from loose_rail.diagnosis.inference.posterior import bad_probabilities, posterior
from loose_rail.diagnosis.inference.shop_history import counts_of, learned_clue
from loose_rail.diagnosis.inference.short_excluded import bright_unexplained, short_excluded
from loose_rail.diagnosis.planning.engine import Assessment
from loose_rail.diagnosis.planning.intermittent import soak_plan
from loose_rail.diagnosis.planning.stopping import stop_advice
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.vocabulary.board_state import UNPLUGGED, Power

SCHEMA = "loose-rail/answer/1"
MOST_SUSPECTS = 8
MOST_REASONS = 4
LEAST_SHOWN = 0.01
STANDINGS = {
    Standing.OPEN: "no part is sure enough yet",
    Standing.BEST_MATCH: "best match, not confirmed by a reading at the part itself",
    Standing.CONFIRMED: "confirmed by a reading at the part itself",
}


def answer(case: Case, steps: int) -> dict[str, Any]:
    """Everything that the evidence says now, with the next `steps` probes."""
    table, engine = case.engine.table, case.engine
    clues = [*case.clues.clues]
    learned = learned_clue(table, case.closed_jobs)
    if learned is not None:
        clues.append(learned)
    symptoms = case.clues.symptoms
    probabilities = posterior(table, case.evidence, symptoms, clues)
    lamps = [clue.says for clue in clues if clue.family == "lamp"]
    excluded = short_excluded(table, probabilities, case.evidence, lamps)
    bright = bright_unexplained(table, case.evidence, lamps)
    facts = SafetyFacts(UNPLUGGED, None, excluded, bright_lamp=bright)
    found = engine.assess(case.evidence, symptoms, facts, case.clues.skipped, clues=tuple(clues))
    offer = found.next_step.offer if found.next_step else None
    advice = stop_advice(engine.planner, found.probabilities, offer, case.costs, found.finding)
    soak = soak_plan(table, found.probabilities)
    named = Names(case.case_board)
    return {
        "schema": SCHEMA,
        "board": {
            "id": table.board.id,
            "title": table.board.title,
            "topology": table.board.topology,
            "known_by": "topology" if case.case_board.generic else "profile",
        },
        "suspects": {
            "boards": _boards(case, found),
            "sections": [
                {"section": share.name, "probability": _p(share.probability)}
                for share in section_shares(table, found.probabilities)
                if share.probability >= LEAST_SHOWN
            ],
            "parts": _parts(case, found, named),
        },
        "finding": _finding(case, found, named),
        "differ": _differ(case, found, named),
        "next": steps_of(case, found, facts, steps, named),
        "plan": plan_words(case, found, facts, named),
        "read_again": [
            {"reading": slip.number, "probability": _p(slip.probability), "likely": slip.words}
            for slip in slips_of(table, case.evidence, clues)
        ],
        "stop": None
        if advice is None
        else {
            "part": named(advice.part),
            "repair_now": advice.repair_now,
            "loss_now": round(advice.now, 1),
            "loss_after_next": None if offer is None else round(advice.after_reading, 1),
        },
        "soak": None if soak is None else {"probability": _p(soak.probability), "do": soak.words},
        "known_on_this_board": [
            {"suspect": count.suspect, "words": count.words}
            for count in counts_of(table.board, case.closed_jobs)
        ],
        "warnings": [*_warnings(case, found), *case.notes.warnings],
        "unproved": _unproved(case, found, named),
        "understood": {
            "words": case.notes.understood,
            "symptoms": [symptom.kind for symptom in symptoms],
            "clues": [{"words": clue.words, "reason": clue.reason} for clue in clues],
            "readings": [{"number": told.number, "words": told.words} for told in case.told],
        },
        "not_used": [{"what": one.what, "why": one.why} for one in case.notes.not_used],
    }


def _p(probability: float) -> float:
    return round(float(probability), 4)


def _boards(case: Case, found: Assessment) -> list[dict[str, Any]]:
    known = words()["levels"]
    sums: dict[str, float] = {}
    for share in board_shares(case.engine.table, found.probabilities):
        fixed = ("nothing wrong with the supply", "outside the model")
        level = share.name if share.name in fixed else known.get(share.name, "other")
        sums[level] = sums.get(level, 0.0) + share.probability
    ordered = sorted(sums.items(), key=lambda item: -item[1])
    return [{"board": level, "probability": _p(share)} for level, share in ordered]


def _parts(case: Case, found: Assessment, named: Names) -> list[dict[str, Any]]:
    table = case.engine.table
    bad = bad_probabilities(table, found.probabilities)
    told = {one.number: named.text(one.words) for one in case.told}
    shown: list[dict[str, Any]] = []
    for suspect in found.suspects[:MOST_SUSPECTS]:
        if suspect.probability < LEAST_SHOWN and shown:
            break
        reasons = reasons_for(table, suspect.key, case.evidence, case.clues.clues, told)
        row = table.rows[leading_row(table, suspect.key, found.probabilities)]
        shown.append(
            {
                "suspect": suspect.key if not case.case_board.generic else None,
                "part": named(suspect.part) if suspect.part else "",
                "title": named.text(suspect.title),
                "board": board_level_of(table.board, row),
                "probability": _p(suspect.probability),
                "part_bad": _p(bad.get(suspect.part, 0.0)),
                "for": _reasons(reasons, named, True),
                "against": _reasons(reasons, named, False),
            }
        )
    return shown


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
        "part": named(finding.part),
        "probability": _p(finding.probability),
        "standing": str(finding.standing),
        "words": _standing_words(finding, named),
        "confirmed_by": list(finding.confirmed_by),
        "not_told_apart_from": [named(ref) for ref in finding.twins],
        "may_be_bad_as_well": [
            {"part": named(ref), "probability": _p(share)} for ref, share in finding.companions
        ],
    }


def _standing_words(finding: Finding, named: Names) -> str:
    if finding.waits_for:
        parts = ", ".join(named(ref) for ref in finding.waits_for)
        return f"no verdict: what opened it is not found; not read yet: {parts}"
    return STANDINGS[finding.standing]


def _differ(case: Case, found: Assessment, named: Names) -> str:
    """What the two best suspects differ in, in one sentence."""
    if len(found.suspects) < 2:
        return ""
    table = case.engine.table
    first, second = found.suspects[:2]
    rows = [leading_row(table, one.key, found.probabilities) for one in (first, second)]
    usable = [offer.column for offer in found.others]
    apart = contrast(table, rows[0], rows[1], usable)
    titles = [named.text(one.title) for one in (first, second)]
    if apart is None:
        return f"No reading on offer tells “{titles[0]}” from “{titles[1]}”."
    where = f"{named.text(apart.candidate.probe.title)}, {apart.candidate.state.words}"
    return f"{where}: {apart.first} if “{titles[0]}”, {apart.second} if “{titles[1]}”."


def _warnings(case: Case, found: Assessment) -> list[str]:
    table = case.engine.table
    said = []
    if float(found.probabilities[table.primary_short].sum()) > 0.05 and not table.board.adapter_fed:
        said.append(
            "A short on the primary side is not excluded: no mains without a lamp or resistor in "
            "line, and no new fuse before the short is found."
        )
    outside = float(found.probabilities[-1])
    if outside > 0.3:
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


def _unproved(case: Case, found: Assessment, named: Names) -> list[str]:
    table = case.engine.table
    said: list[str] = []
    if not case.evidence:
        said.append("Nothing has been measured yet: this ranking is from words and rates alone.")
    live = [table.candidates[table.index(item.candidate)] for item in case.evidence]
    cables = {c.state.main_cable for c in live if c.probe.rail and c.state.power is Power.STANDBY}
    if cables != {True, False}:
        said.append(
            "Power board or main board: the standby rail has not been read with the main cable on "
            "and off."
        )
    finding = found.finding
    if finding is not None and finding.standing is Standing.BEST_MATCH:
        said.append(f"{named(finding.part)}: no reading at the part itself has confirmed it.")
    if finding is not None and finding.waits_for:
        parts = ", ".join(named(ref) for ref in finding.waits_for)
        said.append(f"What opened {named(finding.part)} is not found; not read yet: {parts}.")
    if finding is not None and finding.twins:
        together = ", ".join(named(ref) for ref in finding.twins)
        said.append(f"No safe reading tells it from {together}.")
    for ref, share in finding.companions if finding is not None else ():
        if share < 0.95 and finding is not None and finding.standing is not Standing.OPEN:
            said.append(f"{named(ref)} may be bad as well ({100 * share:.0f} %).")
    if case.case_board.generic:
        said.append("The board is known by its topology only: values are typical, not its own.")
    return said
