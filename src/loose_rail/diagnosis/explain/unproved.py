"""What the evidence leaves open, and which board it points to, in sentences: the same for window,
file command and sheet."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.boards.co_failures import co_failures_of
from loose_rail.boards.profile import CoFailure
from loose_rail.boards.whole_board import renewed
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.inference.finding import Finding, Standing
from loose_rail.diagnosis.inference.judged import judged
from loose_rail.diagnosis.proof.standing import shows_life
from loose_rail.diagnosis.review import Review
from loose_rail.judgement.judge import Verdict
from loose_rail.kernel.quantities import percent

MOST_LINKS = 4
SURE_ANYWAY = 0.95
"""A part that is so likely bad as well is no open question."""


@dataclass(frozen=True, slots=True)
class StandbyPair:
    """Judgements of the last reading of the standby rail with the main cable off and on."""

    bare: Verdict | None
    loaded: Verdict | None


def standby_pair(review: Review) -> StandbyPair:
    """The pair that tells power board from main board, as far as it was read."""
    bare = loaded = None
    for reading in review.readings:
        probe, judgement = judged(review.table, reading)
        if probe.live and probe.rail == review.table.board.standby_rail:
            if reading.state.main_cable:
                loaded = judgement.verdict
            else:
                bare = judgement.verdict
    return StandbyPair(bare, loaded)


def covered(review: Review) -> tuple[str, ...]:
    """Which board the pair, or an exchange, points to; nothing where neither tells."""
    finding = review.assessment.finding
    if finding is not None and finding.exchanged:
        return ("What was exchanged cured the set: it is that.",)
    pair = standby_pair(review)
    if pair.bare is Verdict.DISAGREES:
        return ("The standby rail is wrong with the main cable off: it is the power board.",)
    if pair.bare is Verdict.AGREES and pair.loaded is Verdict.DISAGREES:
        return ("The standby rail is good with the main cable off: look at the main board.",)
    return ()


def unproved(review: Review, names: Names) -> tuple[str, ...]:
    """What is not proved, in short sentences."""
    said = []
    if not review.readings:
        said.append("Nothing has been measured yet: this ranking is from words and rates alone.")
    pair = standby_pair(review)
    if pair.bare is None:
        finding = review.assessment.finding
        known = finding is not None and (finding.exchanged or finding.alone)
        verdict = "." if known else ": no board verdict."
        said.append(f"The standby rail was not read with the main cable off{verdict}")
    elif pair.loaded is None and pair.bare is not Verdict.DISAGREES:
        said.append("The standby rail was not read with the main cable on.")
    if review.assessment.finding is not None:
        said += _of_the_finding(review, review.assessment.finding, names)
    if review.job.skipped:
        points = ", ".join(names.text(probe) for probe in review.job.skipped)
        said.append(f"Could not be reached: {points}.")
    return tuple(said)


def left_open(review: Review, names: Names) -> tuple[str, ...]:
    """What is open as things stand now: before a repair what the verdict does not cover, after it
    what no reading has shown since."""
    job, table = review.job, review.table
    if not job.fits:
        return unproved(review, names)
    board, said = table.board, []
    since = [reading for reading in job.proof_readings if not reading.voided]
    seen = {judged(table, r)[0].rail for r in since if r.state.plugged and shows_life(table, r)}
    unseen = [rail.title for rail in board.rails if rail.id not in seen]
    if unseen:
        said.append(f"Not seen running since the repair: {', '.join(unseen)}.")
    for reading in since:
        probe, judgement = judged(table, reading)
        if judgement.verdict is Verdict.DOUBTFUL:
            said.append(
                f"Reading {reading.number}, {probe.title}: {reading.observation.text()}, at the "
                f"edge of {judgement.expected}; it neither proves nor fails the repair."
            )
    said += _unread_with_the_fitted(review, names)
    if job.skipped:
        points = ", ".join(names.text(probe) for probe in job.skipped)
        said.append(f"Could not be reached: {points}.")
    return tuple(said)


def _unread_with_the_fitted(review: Review, names: Names) -> list[str]:
    """Parts that often fail with what was replaced, and were neither renewed nor read."""
    table, job = review.table, review.job
    new = renewed(table.board, (one.part for one in job.fits))
    read = {table.candidates[table.index(r.candidate)].probe.part for r in job.live_readings}
    mode = job.verdict.suspect.partition(":")[2].partition(":")[0] if job.verdict else ""
    links = []
    for link in co_failures_of(table.board):
        other = job.verdict is not None and link.cause == job.verdict.part
        if link.cause not in new or link.effect in new or link.effect in read:
            continue
        if not (other and mode and link.cause_mode != mode):
            links.append(link)
    links.sort(key=lambda link: (-link.probability, link.effect))
    best = list({link.effect: link for link in reversed(links)}.values())[::-1][:MOST_LINKS]
    modes = dict.fromkeys(link.effect_mode for link in best)
    return [_along(mode, [one for one in best if one.effect_mode == mode], names) for mode in modes]


def _of_the_finding(review: Review, finding: Finding, names: Names) -> list[str]:
    said = []
    part = names.part(finding.part)
    if finding.exchanged:
        said.append("That it keeps running: soak it with the good one in its place.")
    elif finding.standing is Standing.BEST_MATCH and not (finding.twins or finding.alone):
        said.append(f"{part}: no reading at the part itself has confirmed it.")
    if finding.waits_for:
        waits = ", ".join(names.part(ref) for ref in finding.waits_for)
        said.append(f"What opened {part} is not found; not read yet: {waits}.")
    if finding.twins:
        alike = " and ".join(names.part(ref) for ref in (finding.part, *finding.twins))
        said.append(f"{alike} read alike at every point: look at each, or try a known good one.")
    links = _unread_links(review, finding)
    for mode in dict.fromkeys(link.effect_mode for link in links):
        said.append(_along(mode, [link for link in links if link.effect_mode == mode], names))
    said += _may_be_bad(finding, {link.effect for link in links}, names)
    unread = _unread_rails(review)
    if unread:
        said.append(f"Not read in use: {', '.join(unread)}.")
    return said


def _along(mode: str, links: list[CoFailure], names: Names) -> str:
    """Parts that often fail along in one way, in one sentence with the reason of the likeliest."""
    parts = [names.part(link.effect) for link in links]
    said = mode.replace("_", " ")
    reason = names.text(links[0].reason)
    if len(parts) == 1:
        return f"{parts[0]} was not measured; it is often {said} as well: {reason}."
    listed = f"{', '.join(parts[:-1])} and {parts[-1]}"
    return f"{listed} were not measured; they are often {said} as well: {reason}."


def _may_be_bad(finding: Finding, told: set[str], names: Names) -> list[str]:
    if finding.standing is Standing.UNDECIDED:
        return []
    return [
        f"{names.part(ref)} may be bad as well ({percent(share)})."
        for ref, share in finding.companions
        if share < SURE_ANYWAY and ref not in told
    ]


def _unread_links(review: Review, finding: Finding) -> list[CoFailure]:
    """Parts that often fail along and were not read, the likeliest first."""
    leader = finding.suspects[0].key if finding.suspects else ""
    table = review.table
    read = {table.candidates[table.index(r.candidate)].probe.part for r in review.job.live_readings}
    links = [
        link
        for link in co_failures_of(table.board)
        if f"{link.cause}:{link.cause_mode}" == leader and link.effect not in read
    ]
    return sorted(links, key=lambda link: (-link.probability, link.effect))[:MOST_LINKS]


def _unread_rails(review: Review) -> list[str]:
    table = review.table
    read = {table.candidates[table.index(r.candidate)].probe.rail for r in review.job.live_readings}
    return [
        rail.title
        for rail in table.board.rails
        if rail.id != table.board.standby_rail and rail.id not in read
    ]
