"""The next probes of an answer, with reasons, minutes and cautions, and the plan as a branch."""

from __future__ import annotations

from typing import Any

import numpy as np

from loose_rail.boards.probe_ends import ends_of
from loose_rail.boards.probes import Probe
from loose_rail.diagnosis.explain.locate_words import locate_words
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.explain.reasons import predicted_words
from loose_rail.diagnosis.explain.step_sentences import (
    NONE_STRONG,
    leaders_with_shares,
    way_lines,
    why,
)
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.posterior import Suspect, leading
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.planning.engine import counts_of_readings
from loose_rail.diagnosis.planning.look_ahead import Moment, look_ahead
from loose_rail.diagnosis.planning.planner import Offer
from loose_rail.diagnosis.proof.plan import SWITCHED_ON, proof_plan
from loose_rail.diagnosis.review import Review
from loose_rail.diagnosis.settled_facts import for_planning
from loose_rail.diagnosis.step import LEAST_LEADER, MOST_LEADERS
from loose_rail.judgement.safety import to_measure
from loose_rail.judgement.transitions import caution_at, instructions
from loose_rail.vocabulary.keys import stage_of

DEPTH = 2
"""Readings that the plan looks ahead."""
AS_WELL = "tells much as well"
AFTER_A_CURE = "It runs: its rails with their load, then hours."


def steps_of(review: Review, number: int, named: Names, ran: bool = False) -> list[dict[str, Any]]:
    """The offered probe first, then the best others, each point once. `ran`: the set is told to
    have run since the repair, so its rails with their load come first."""
    step = review.assessment.next_step
    if step is None or review.task is None:
        return []
    offer = step.offer
    if review.proving:
        loaded = _in_the_running_set(review) if ran else None
        column = loaded if loaded is not None else review.table.index(review.task.candidate.key)
        taken = counts_of_readings(review.dossier.evidence)
        chances = review.assessment.probabilities
        offer = review.engine.planner.offer(
            column, chances, for_planning(review.facts, review.job), taken
        )
    reason = f"{why(review.task, named)} {locate_words(review, named)}".rstrip()
    if review.proving and offer.candidate.key != review.task.candidate.key:
        reason = AFTER_A_CURE
    shown = [_step(review, offer, reason, named)]
    done = {offer.candidate.probe.id}
    for offer in review.assessment.others:
        if len(shown) >= number:
            break
        if offer.candidate.probe.id not in done:
            done.add(offer.candidate.probe.id)
            shown.append(_step(review, offer, AS_WELL, named))
    return shown[:number]


def _in_the_running_set(review: Review) -> int | None:
    """A rail of the set that runs, that of the renewed part first; None where all were read."""
    table, job = review.table, review.job
    taken = {reading.candidate for reading in job.proof_readings}
    fitted = {one.part for one in job.fits}
    stages = {stage_of(role) for role, refs in table.board.roles.items() if fitted & set(refs)}
    left = [
        point.candidate
        for point in proof_plan(table, job)
        if point.candidate.state == SWITCHED_ON and point.candidate.key not in taken
    ]
    kinds = {stage.id: stage.kind for stage in table.board.stages}

    def order(one: Candidate) -> tuple[bool, bool]:
        stage = stage_of(one.probe.observable)
        return stage not in stages, kinds.get(stage) in ("led", "ccfl")  # light is seen anyway

    left.sort(key=order)
    return table.index(left[0].key) if left else None


def _step(review: Review, offer: Offer, reason: str, named: Names) -> dict[str, Any]:
    probe, state = offer.candidate.probe, offer.candidate.state
    table, facts = review.table, review.facts
    dead = probe.mode.needs_dead_board
    charged = to_measure(table.board, probe.part, facts) if dead else ()
    todo = instructions(table.board, facts.state, state, charged)
    good, bad = _both(review, offer.column)
    ends = {} if named.by_duty else _ends(review, probe)
    return {
        "probe": None if named.by_duty else probe.id,
        "title": named.text(probe.title),
        "state": state.key,
        "state_words": state.label,
        "setting": probe.mode.label,
        "red": named.text(probe.plus_words),
        "black": named.text(probe.minus_words),
        **ends,
        "expected_sound": predicted_words(table, 0, offer.column),
        "why": named.text(reason),
        "if_good": leaders_with_shares(good, named) if good else NONE_STRONG,
        "if_bad": leaders_with_shares(bad, named) if bad else NONE_STRONG,
        "information_nats": round(offer.information, 3),
        "minutes": round(offer.minutes, 1),
        "before": [named.text(one.text) for one in todo],
        "cautions": [
            *(named.text(one.caution) for one in todo if one.caution),
            *filter(None, [named.text(caution_at(table.board, probe))]),
        ],
    }


def _ends(review: Review, probe: Probe) -> dict[str, Any]:
    """Where red and black go, as data."""
    red, black = ends_of(review.table.board, probe)
    return {"red_at": red.as_json(), "black_at": black.as_json()}


def _both(review: Review, number: int) -> tuple[tuple[Suspect, ...], tuple[Suspect, ...]]:
    """Who leads after a good reading, and after an odd one."""
    column, chances = column_of(review.table, number), review.assessment.probabilities
    found = (
        leading(review.table, np.where(mask, chances, 0.0), MOST_LEADERS, LEAST_LEADER)
        for mask in (column.good, column.odd)
    )
    good, bad = found
    return good, bad


def plan_lines(review: Review, named: Names) -> list[str]:
    """The branch after the next probe as indented lines; empty where nothing is left to read."""
    step = review.assessment.next_step
    if step is None:
        return []
    taken = counts_of_readings(review.dossier.evidence)
    moment = Moment(for_planning(review.facts, review.job), taken, review.out_of_reach)
    chances = review.assessment.probabilities
    ways = look_ahead(review.engine.planner, chances, step.offer, moment, DEPTH)
    return way_lines(ways, named)
