"""The verdict: the balance of the leading suspects, and what it does not cover."""

from __future__ import annotations

from loose_rail.app.results import judged
from loose_rail.app.session import JobSession
from loose_rail.boards.co_failures import co_failures_of
from loose_rail.boards.faults import kind_words
from loose_rail.boards.profile import CoFailure
from loose_rail.diagnosis.explain.reasons import reading_weights
from loose_rail.diagnosis.inference.finding import Finding, Standing
from loose_rail.diagnosis.inference.posterior import Suspect
from loose_rail.jobs.events import VerdictAccepted
from loose_rail.judgement.judge import Verdict
from loose_rail.kernel.quantities import percent
from loose_rail.screens.verdict.decision import costs_of, level_words, route_views
from loose_rail.screens.verdict.reasoning import all_reasons, reasoning_blocks
from loose_rail.screens.verdict.state import BalanceBar, BalanceColumn, VerdictState

TELLING_LOG_ODDS = 0.7
MOST_COMPANIONS = 4


def suspect_why(session: JobSession, suspect: Suspect) -> str:
    """What speaks for a suspect, by the numbers of the readings."""
    assert session.engine is not None
    evidence = session.evidence
    weights = reading_weights(session.engine.table, suspect.key, evidence)
    speaks = [str(number) for number, weight in weights.items() if weight > TELLING_LOG_ODDS]
    against = [str(number) for number, weight in weights.items() if weight < -TELLING_LOG_ODDS]
    words = []
    if speaks:
        words.append(f"explains {', '.join(speaks)}")
    if against:
        words.append(f"{', '.join(against)} against it")
    if not words:
        part = suspect.part
        if not part:
            return "wins when nothing else explains the readings"
        component = session.board.component(part)
        return component.duty or kind_words(component.kind)
    return " · ".join(words)


def verdict_state(session: JobSession) -> VerdictState:
    """The balance of the leading suspects and what the verdict covers."""
    if session.assessment is None or session.engine is None:
        return VerdictState("Working out the predictions", "", (), (), (), "Wait", False, False)
    finding = session.assessment.finding
    names = {item.number: _bar_words(session, item.number) for item in session.evidence}
    columns = []
    for suspect in session.assessment.suspects[:3]:
        reasons = all_reasons(session, suspect, names)
        bars = tuple(BalanceBar(reason.words, reason.log_odds) for reason in reasons)
        title = suspect.title.replace("MB ", "Main board ")
        columns.append(BalanceColumn(title, percent(suspect.probability), bars))
    ready = finding is not None and finding.standing is not Standing.OPEN
    own = standing_verdict(session)
    accepted = own is not None
    if own is not None and own.reason:
        headline = f"Decided: {own.title}"
        standing = f"Against the evidence ({percent(own.probability)}), because {own.reason}."
    elif finding is None or not ready:
        headline = "No verdict yet: the evidence does not single out one part"
        standing = "More readings would tell more; the bench offers the next one."
    else:
        confirmed = finding.standing is Standing.CONFIRMED
        headline = f"{finding_title(finding)}: {percent(finding.probability)} sure"
        numbers = ", ".join(str(n) for n in finding.confirmed_by)
        standing = (
            f"Confirmed by reading {numbers} at the part itself."
            if confirmed
            else "Best match. No reading at the part itself confirms it: it can't be told in place."
        )
    action = "Go to parts" if accepted else "Accept the verdict"
    return VerdictState(
        headline,
        standing,
        tuple(columns),
        covered_words(session),
        unproved_words(session),
        action if ready or accepted else "Back to the bench",
        ready,
        accepted,
        tuple(reasoning_blocks(session, costs_of(session))),
        level_words(session),
        route_views(session),
    )


def standing_verdict(session: JobSession) -> VerdictAccepted | None:
    """The accepted verdict, None where none was or where its repair has failed."""
    verdict = session.state.verdict
    return verdict if session.state.verdict_round == session.round else None


def finding_title(finding: Finding) -> str:
    """The leading fault in words, with the parts that no reading tells from it."""
    title = finding.suspects[0].title
    return f"{title}, or {' or '.join(finding.twins)}" if finding.twins else title


def _bar_words(session: JobSession, number: int) -> str:
    reading = next(one for one in session.state.readings if one.number == number)
    probe, _ = judged(session, reading)
    return f"{number}  {probe.title}: {reading.observation.text(2)}"


def covered_words(session: JobSession) -> tuple[str, ...]:
    """Which board the evidence points to, and why."""
    words = []
    bare, loaded = _pair_verdicts(session)
    if bare is Verdict.DISAGREES:
        words.append("The standby rail is wrong with the main cable off: it is the power board.")
    elif bare is Verdict.AGREES and loaded is Verdict.DISAGREES:
        words.append("The standby rail is good with the main cable off: look at the main board.")
    return tuple(words)


def _pair_verdicts(session: JobSession) -> tuple[Verdict | None, Verdict | None]:
    """Judgement of the last rail reading with the main cable off, and with it on."""
    bare = loaded = None
    for reading in session.readings:
        probe, judgement = judged(session, reading)
        if probe.live and probe.rail == session.board.standby_rail:
            if reading.state.main_cable:
                loaded = judgement.verdict
            else:
                bare = judgement.verdict
    return bare, loaded


def unproved_words(session: JobSession) -> tuple[str, ...]:
    """What the evidence leaves open, in short sentences."""
    assert session.assessment is not None and session.engine is not None
    words = []
    bare, loaded = _pair_verdicts(session)
    if bare is None:
        words.append("The standby rail was not read with the main cable off: no board verdict.")
    elif loaded is None and bare is not Verdict.DISAGREES:
        words.append("The standby rail was not read with the main cable on.")
    finding = session.assessment.finding
    if finding is None:
        return tuple(words)
    if finding.waits_for:
        parts = ", ".join(finding.waits_for)
        words.append(f"What opened {finding.part} is not found; not read yet: {parts}.")
    if finding.twins:
        alike = " and ".join((finding.part, *finding.twins))
        words.append(f"{alike} read alike at every point: look at each, or try a known good one.")
    for link in _companions(session, finding):
        mode = link.effect_mode.replace("_", " ")
        words.append(f"{link.effect} was not read; it is {mode} too in some: {link.reason}.")
    unread = [
        rail.title
        for rail in session.board.rails
        if rail.id != session.board.standby_rail and not _rail_was_read(session, rail.id)
    ]
    if unread:
        words.append(f"Not seen running: {', '.join(unread)}.")
    if session.state.skipped:
        words.append(f"Could not be reached: {', '.join(session.state.skipped)}.")
    return tuple(words)


def _companions(session: JobSession, finding: Finding) -> list[CoFailure]:
    """Parts that often fail along and were not read, the likeliest first."""
    leader = finding.suspects[0].key if finding.suspects else ""
    links = [
        link
        for link in co_failures_of(session.board)
        if f"{link.cause}:{link.cause_mode}" == leader and not _was_read(session, link.effect)
    ]
    return sorted(links, key=lambda link: (-link.probability, link.effect))[:MOST_COMPANIONS]


def _was_read(session: JobSession, part: str) -> bool:
    return any(r.probe.split(".")[0] == part for r in session.state.live_readings)


def _rail_was_read(session: JobSession, rail: str) -> bool:
    assert session.engine is not None
    table = session.engine.table
    probes = (table.candidates[table.index(r.candidate)].probe for r in session.state.live_readings)
    return any(probe.rail == rail for probe in probes)
