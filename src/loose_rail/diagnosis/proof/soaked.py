"""The soak of a repaired set: looks by eye and readings in one course, what it has shown, and what
chance of a come-back it leaves."""

from __future__ import annotations

from dataclasses import dataclass, replace

from loose_rail.diagnosis.evidence.soak import clean_share, hours_to_leave, left_after
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.jobs.soak import Look, Soak
from loose_rail.jobs.state import JobState
from loose_rail.judgement.economics import comeback_risk
from loose_rail.judgement.judge import Verdict

AIM = 0.05
"""Chance of a come-back that a soak is planned down to [E]: one in twenty."""
LEAST_HOURS, MOST_HOURS = 1.0, 24.0
LOOK_MINUTES = 30.0
"""How often somebody looks at a set on soak: never unattended [P]."""
COUNTS_FROM_HOURS = 0.5
"""A shorter one is a long look."""
EARLY_SHARE = 0.6
"""Of the come-backs, those that a soak could have shown: the rest are of other causes or of months
[E]."""

COMES_AND_GOES = ("comes_and_goes", "tapping_helps", "dies_warm", "starts_then_stops")
"""Symptoms of a fault that is not there all the time."""
CURED_FOR_NOW = 0.2
"""How often the cure of such a fault was none, though the set runs [E]."""


@dataclass(frozen=True, slots=True)
class SoakPlan:
    """`chance` that a fault is left that a soak would show, the hours that bring it down to `aim`,
    and what is left after `done` attended hours."""

    chance: float
    hours: float
    aim: float
    done: float
    left: float


def soak_with_readings(table: PredictionTable, state: JobState) -> Soak | None:
    """The last soak of the board as it is, readings taken meanwhile among its looks."""
    soak = state.soak
    if soak is None:
        return None
    looks = list(soak.looks)
    for reading in state.proof_readings:
        outside = reading.at < soak.started_at or (soak.ended_at and reading.at > soak.ended_at)
        if outside or not reading.state.plugged or reading.voided:
            continue
        column = column_of(table, table.index(reading.candidate))
        good = column.judged(reading.observation).verdict is not Verdict.DISAGREES
        words = f"{column.probe.title}: {reading.observation.text()}"
        looks.append(Look(reading.at, good, words))
    return replace(soak, looks=tuple(sorted(looks, key=lambda one: one.at)))


def soak_plan(state: JobState, soak: Soak | None, aged_left: bool) -> SoakPlan:
    """What a soak is worth after this repair: the come-back risk of what was left undone, the share
    of it that shows within hours, and what clean hours leave of that."""
    sure = state.verdict is not None and state.verdict.standing == "confirmed"
    risk = comeback_risk(sure, False, aged_left, False)
    chance = EARLY_SHARE * risk + _came_and_went(state)
    hours = hours_to_leave(chance, AIM)
    done = soak.attended_hours if soak is not None else 0.0
    planned = min(max(hours, LEAST_HOURS), MOST_HOURS)
    return SoakPlan(chance, planned, AIM, done, left_after(chance, clean_share(done)))


def _came_and_went(state: JobState) -> float:
    """A fault that was not there all the time may not be there now and yet be left: it weighs in
    with its share [E]."""
    goes = any(one.symptom in COMES_AND_GOES for one in state.symptoms)
    return CURED_FOR_NOW if goes else 0.0
