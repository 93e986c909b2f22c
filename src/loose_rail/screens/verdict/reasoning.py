"""What the engine thinks beyond the next probe, in short sentences: the branch, what two suspects
differ in, readings to take again, whether to stop, and what comes and goes."""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.app.session import JobSession
from loose_rail.diagnosis.explain.measurement_errors import slips_of
from loose_rail.diagnosis.explain.reasons import (
    Reason,
    contrast,
    leading_row,
    reasons_for,
    would_clear,
)
from loose_rail.diagnosis.inference.finding import Standing
from loose_rail.diagnosis.inference.posterior import Suspect
from loose_rail.diagnosis.inference.shop_history import counts_of
from loose_rail.diagnosis.planning.engine import NextStep
from loose_rail.diagnosis.planning.intermittent import soak_plan
from loose_rail.diagnosis.planning.look_ahead import Branch, branches
from loose_rail.diagnosis.planning.stopping import ShopCosts, stop_advice
from loose_rail.kernel.quantities import percent

MOST_SLIPS = 2
LEAST_RISK = 0.05


def branch_words(session: JobSession, step: NextStep | None) -> tuple[str, ...]:
    """Where a good and where a bad reading lead: one line each."""
    if step is None or session.engine is None or session.assessment is None:
        return ()
    taken: dict[str, int] = {}
    for item in session.evidence:
        taken[item.candidate] = taken.get(item.candidate, 0) + 1
    ways = branches(
        session.engine.planner,
        session.assessment.probabilities,
        step.offer,
        session.facts,
        taken,
        session.out_of_reach,
        depth=1,
    )
    return tuple(_way_words(way) for way in ways)


def _way_words(way: Branch) -> str:
    sign = "Good" if way.good else "Bad"
    share = percent(way.probability)
    if way.step is None:
        leader = way.leaders[0]
        return f"{sign} ({share}): {board_words(leader.title)}, {percent(leader.probability)} sure"
    candidate = way.step.candidate
    title = candidate.probe.title.split(":")[0] if not candidate.probe.live else ""
    words = f"{title}, {candidate.probe.mode.words}" if title else candidate.probe.title
    return f"{sign} ({share}): then {words} · {candidate.state.words}"


def board_words(title: str) -> str:
    """A suspect's title with the main board spelled out."""
    return title.replace("MB ", "Main board ")


def all_reasons(session: JobSession, suspect: Suspect, names: dict[int, str]) -> list[Reason]:
    """What speaks for and against a suspect: readings, symptoms, history, findings."""
    assert session.engine is not None
    return reasons_for(
        session.engine.table, suspect.key, session.evidence, session.all_clues, names
    )


def differ_words(session: JobSession) -> str:
    """What the two best suspects differ in, and what would clear the first."""
    if session.engine is None or session.assessment is None:
        return ""
    table, found = session.engine.table, session.assessment
    usable = [offer.column for offer in found.others]
    first, second = found.suspects[:2]
    row = leading_row(table, first.key, found.probabilities)
    clear = would_clear(table, row, usable)
    said = ""
    if second.probability > 0.01:
        other = leading_row(table, second.key, found.probabilities)
        apart = contrast(table, row, other, usable)
        if apart is not None:
            said = (
                f"{apart.candidate.probe.title}, {apart.candidate.state.words}: {apart.first} if "
                f"{board_words(first.title)}, {apart.second} if {board_words(second.title)}."
            )
    if said or clear is None:
        return said
    return (
        f"{clear.candidate.probe.title}, {clear.candidate.state.words}: {clear.second} would clear "
        f"it, {clear.first} is expected."
    )


def slip_words(session: JobSession) -> tuple[str, ...]:
    """Readings that contradict the rest, with the likely slip."""
    if session.engine is None:
        return ()
    found = slips_of(session.engine.table, session.evidence, session.all_clues)
    return tuple(
        f"Reading {slip.number} contradicts the rest: {slip.words}." for slip in found[:MOST_SLIPS]
    )


def stop_words(session: JobSession, costs: ShopCosts) -> str:
    """Whether repairing now is cheaper than the next reading, in money and its reason."""
    found = session.assessment
    if session.engine is None or found is None or found.finding is None:
        return ""
    offer = found.next_step.offer if found.next_step else None
    advice = stop_advice(session.engine.planner, found.probabilities, offer, costs, found.finding)
    if advice is None or found.finding.standing is Standing.OPEN:
        return ""
    risk = f"{advice.now:.2f} {session.state.currency}".rstrip()
    if advice.now < LEAST_RISK:
        return f"Acting on {advice.part} now risks next to nothing."
    if offer is None:
        return f"Acting on {advice.part} now risks {risk} on average: part, rework and trial."
    after = f"{advice.after_reading:.2f} {session.state.currency}".rstrip()
    if advice.repair_now:
        return f"Acting on {advice.part} now risks {risk}; one more reading first, {after}."
    return f"One more reading pays: {after} with it, {risk} when acting on {advice.part} now."


def known_words(session: JobSession) -> tuple[str, ...]:
    """The shop's own counts on this board, with their denominators."""
    counts = counts_of(session.board, session.closed_jobs)
    return tuple(
        f"{count.suspect.replace(':', ' ')} {count.words}." for count in counts[:MOST_SLIPS]
    )


def soak_words(session: JobSession) -> str:
    """What to watch where a contact that comes and goes is suspected."""
    if session.engine is None or session.assessment is None:
        return ""
    plan = soak_plan(session.engine.table, session.assessment.probabilities)
    return plan.words if plan else ""


def reasoning_blocks(session: JobSession, costs: ShopCosts) -> Sequence[tuple[str, str]]:
    """Blocks for the side of the verdict: (role, text)."""
    blocks: list[tuple[str, str]] = []
    for title, texts in (
        ("Read again", slip_words(session)),
        ("What would change the mind", _if_any(differ_words(session))),
        ("Stop or go on", _if_any(stop_words(session, costs))),
        ("Comes and goes", _if_any(soak_words(session))),
        ("Known on this board", known_words(session)),
    ):
        if texts:
            blocks.append(("strong", title))
            blocks += [("", text) for text in texts]
    return blocks


def _if_any(text: str) -> tuple[str, ...]:
    return (text,) if text else ()
