"""The next probes of an answer, with reasons, minutes and cautions, and the plan as a branch."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from loose_rail.app.job_file.names import Names
from loose_rail.app.job_file.read import Case
from loose_rail.diagnosis.explain.reasons import predicted_words
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.posterior import suspects_of
from loose_rail.diagnosis.planning.engine import Assessment, Purpose
from loose_rail.diagnosis.planning.look_ahead import Branch, branches
from loose_rail.diagnosis.planning.planner import Offer
from loose_rail.judgement.safety import SafetyFacts, to_measure
from loose_rail.judgement.transitions import instructions

PURPOSES = {
    Purpose.INFORM: "tells most for its minutes",
    Purpose.CONFIRM: "confirms the best match or clears it",
    Purpose.PAIR: "tells power board from main board before any board is blamed",
    Purpose.CHOSEN: "chosen",
    Purpose.UNLOCK: "proves that nothing is shorted before full power",
    Purpose.COMPANION: "often fails along with what is proved",
    Purpose.AGAIN: "the verdict hangs on this one reading: take it again",
    Purpose.FUSE: "a fuse is opened by something: this is read before it is renewed",
    Purpose.OVER_VOLTAGE: "the voltage was too high: what sets it is read before any power",
}
LEAST_NAMED = 0.03
MOST_NAMED = 3


def steps_of(
    case: Case, found: Assessment, facts: SafetyFacts, number: int, named: Names
) -> list[dict[str, Any]]:
    """The offered probe first, then the best others, each point once."""
    if found.next_step is None:
        return []
    step = found.next_step
    shown = [_step(case, found, step.offer, facts, PURPOSES[step.purpose], named)]
    done = {step.offer.candidate.probe.id}
    for offer in found.others:
        if len(shown) >= number:
            break
        if offer.candidate.probe.id not in done:
            done.add(offer.candidate.probe.id)
            shown.append(_step(case, found, offer, facts, "tells much as well", named))
    return shown[:number]


def _step(
    case: Case,
    found: Assessment,
    offer: Offer,
    facts: SafetyFacts,
    purpose: str,
    named: Names,
) -> dict[str, Any]:
    probe, state = offer.candidate.probe, offer.candidate.state
    table = case.engine.table
    dead = probe.mode.needs_dead_board
    charged = to_measure(table.board, probe.part, facts) if dead else ()
    todo = instructions(table.board, facts.state, state, charged)
    good, bad = _leaders(case, found, offer.column, named)
    return {
        "probe": probe.id if not case.case_board.generic else None,
        "title": named.text(probe.title),
        "state": state.key,
        "state_words": state.words,
        "setting": probe.mode.words,
        "red": named.text(probe.plus_words),
        "black": named.text(probe.minus_words),
        "expected_sound": predicted_words(table, 0, offer.column),
        "why": purpose,
        "if_good": good,
        "if_bad": bad,
        "information_nats": round(offer.information, 3),
        "minutes": round(offer.minutes, 1),
        "before": [named.text(one.text) for one in todo],
        "cautions": [named.text(one.caution) for one in todo if one.caution],
    }


def _leaders(case: Case, found: Assessment, number: int, named: Names) -> tuple[str, str]:
    """Who leads after a sound reading, and after an odd one."""
    table = case.engine.table
    column = column_of(table, number)
    gap = np.abs(column.y - column.y[0]) / column.sigma[0]
    odd = (column.ticks != column.ticks[0]) | (column.open != column.open[0])
    odd |= column.steady & (gap > 3.0)
    told = []
    for mask in (~odd & ~column.outside, odd & ~column.outside):
        weights = np.where(mask, found.probabilities, 0.0)
        total = float(weights.sum())
        told.append(_names_of(case, weights / total, named) if total > 0 else "")
    return told[0], told[1]


def _names_of(case: Case, weights: np.ndarray, named: Names) -> str:
    leaders = [
        f"{named.text(s.title)} {100 * s.probability:.0f} %"
        for s in suspects_of(case.engine.table, weights)[:MOST_NAMED]
        if s.probability >= LEAST_NAMED
    ]
    return ", ".join(leaders) or "many, none of them strong"


def plan_words(case: Case, found: Assessment, facts: SafetyFacts, named: Names) -> list[str]:
    """The branch after the next probe as indented lines; empty where nothing is left to read."""
    if found.next_step is None:
        return []
    taken: dict[str, int] = {}
    for item in case.evidence:
        taken[item.candidate] = taken.get(item.candidate, 0) + 1
    offer = found.next_step.offer
    ways = branches(
        case.engine.planner, found.probabilities, offer, facts, taken, case.clues.skipped
    )
    return _lines(case, ways, 0, named)


def _lines(case: Case, ways: Sequence[Branch], depth: int, named: Names) -> list[str]:
    lines = []
    for way in ways:
        sign = "good" if way.good else "bad"
        leader = named.text(way.leaders[0].title)
        share = f"{100 * way.leaders[0].probability:.0f} %"
        if way.step is None:
            then = f"{leader} ({share}): enough for a verdict"
        else:
            probe = way.step.candidate
            then = f"{named.text(probe.probe.title)}, {probe.state.words} ({leader} leads, {share})"
        indent = "  " * depth
        lines.append(f"{indent}if {sign} ({100 * way.probability:.0f} %): {then}")
        lines += _lines(case, way.ways, depth + 1, named)
    return lines
