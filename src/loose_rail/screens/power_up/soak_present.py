"""The soak on the power-up page: what it is worth, how far it is, when the next look is due."""

from __future__ import annotations

from dataclasses import replace

from loose_rail.app.session import JobSession
from loose_rail.app.soaking import NEVER_ALONE, plan_now, soak_now
from loose_rail.diagnosis.evidence.soak import clean_share, cycles_needed, left_after, rate_at_most
from loose_rail.diagnosis.proof.soaked import SoakPlan
from loose_rail.diagnosis.proof.standing import Proof, ProofStatus
from loose_rail.jobs.soak import Soak
from loose_rail.kernel.quantities import percent
from loose_rail.kernel.wall_clock import clock_words
from loose_rail.screens.power_up.state import SoakView

CURVE_POINTS = 60
SHY_START, SURE = 0.1, 0.95
"""A start that fails every tenth time, shown with this chance [E]."""
BEYOND = 1.25
"""The curve goes on a quarter beyond what is planned."""


def soak_view(session: JobSession, proved: Proof) -> SoakView | None:
    """The soak that runs or ran, or what one would be worth once everything else is shown."""
    found = soak_now(session)
    done = session.review is not None and session.review.task is None
    if found is None and not (done and proved.status is ProofStatus.SHOWN):
        return None
    plan = plan_now(session)
    most = BEYOND * max(plan.hours, plan.done, found.hours if found else 0.0)
    hours = tuple(most * k / CURVE_POINTS for k in range(CURVE_POINTS + 1))
    return SoakView(
        hours=hours,
        left=tuple(left_after(plan.chance, clean_share(one)) for one in hours),
        done=plan.done,
        aim=plan.aim,
        looks=_hours_of_looks(found) if found else (),
        words=_words(plan, found),
        running=found is not None and found.running,
    )


def _hours_of_looks(soak: Soak) -> tuple[tuple[float, bool], ...]:
    """Attended hours at each look."""
    return tuple(
        (replace(soak, looks=soak.looks[: k + 1]).attended_hours, one.good)
        for k, one in enumerate(soak.looks)
    )


def _words(plan: SoakPlan, soak: Soak | None) -> tuple[str, ...]:
    now = f"{percent(plan.left)} that a fault is left which a soak would show"
    if soak is None:
        aim = f"{plan.hours:.1f} h bring it to {percent(plan.aim)} or less"
        cycles = cycles_needed(SHY_START, SURE)
        starts = f"{cycles} times off and on show one that fails in every tenth start with 95 %."
        return (f"Soak: {now}; {aim}.", NEVER_ALONE, f"Then cold starts: {starts}")
    if soak.running:
        return (
            f"On soak: {plan.done:.1f} of {soak.hours:.1f} h attended, {now}. "
            f"Next look at {clock_words(soak.next_look())}, over at {clock_words(soak.until())}.",
            NEVER_ALONE,
        )
    if not plan.done:
        return (f"Soaked, and nobody looked: {now}.",)
    bound = f"one failure in {1.0 / rate_at_most(plan.done):.1f} h stays possible (95 %)"
    return (f"Soaked for {plan.done:.1f} h: {now}.", f"Without any model, no more than {bound}.")
