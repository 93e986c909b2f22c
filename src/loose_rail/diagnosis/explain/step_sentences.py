"""Why the offered step is offered, and where its reading leads, in sentences: the same for card,
file command and sheet."""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.inference.posterior import Suspect
from loose_rail.diagnosis.planning.assessment import Purpose
from loose_rail.diagnosis.planning.look_ahead import Branch
from loose_rail.diagnosis.step import Task
from loose_rail.kernel.quantities import minutes_text, percent

LEAST_NAMED = 0.08
"""A suspect is named after a reading from this share up."""
NONE_STRONG = "many, none of them strong"
LEADS = {
    Purpose.INFORM: "Next probe",
    Purpose.CONFIRM: "Next probe · confirms the best match",
    Purpose.PAIR: "Before the verdict · power board or main board?",
    Purpose.CHOSEN: "Your choice",
    Purpose.COMPANION: "Fails along with it · is it bad too?",
    Purpose.UNLOCK: "Before full power · is nothing shorted?",
    Purpose.AGAIN: "Once more · the verdict hangs on this reading",
    Purpose.RAIL: "Before the supply is called good · this too",
    Purpose.USUAL: "Before a best match stands · the commonest fault",
    Purpose.CONTRADICTS: "Once more · two readings can't both be right",
    Purpose.THIRD: "A third time · the first two don't agree",
    Purpose.ODD: "Once more · nothing foresaw this reading",
    Purpose.FUSE: "Something opened the fuse · is this it?",
    Purpose.OVER_VOLTAGE: "Too high a voltage · its divider first",
    Purpose.PROOF: "Prove the repair",
}


def header(task: Task) -> str:
    """What kind of step it is, and how long it takes."""
    lead = LEADS[task.purpose]
    if task.purpose is Purpose.INFORM:
        lead = f"{lead} · splits the suspects {percent(task.odd)} / {percent(1 - task.odd)}"
    return f"{lead} · {minutes_text(task.minutes)}"


WHY = {
    Purpose.AGAIN: "Without this one reading the leading part would not be sure: a slip there "
    "would condemn a good part. Lift the probes, look at the setting, and read it again.",
    Purpose.CONFIRM: "{part} is the best match. This reading at {part} itself confirms it or "
    "clears it: no part is condemned without one.",
    Purpose.USUAL: "No reading at the best match itself can confirm it. A dried reservoir behaves "
    "in every way and is the commonest fault: {part} takes a minute.",
    Purpose.CONTRADICTS: "Another part lies across the same two points as {part} and reads "
    "otherwise: one of the two readings is wrong, whatever has failed.",
    Purpose.THIRD: "This point was read twice and said two things: one of them was a slip of the "
    "probes or the setting. The third reading decides.",
    Purpose.ODD: "{part} reads out of its limits, though nothing read so far foresaw it. Once more "
    "the same, and it is renewed first: two things can be wrong with a set.",
    Purpose.RAIL: "What is left is no steady fault of the supply. It is called good only once each "
    "rail was read right in use, and its reservoir by ESR.",
    Purpose.COMPANION: "{part} often fails along with what is proved. N leaves it out.",
    Purpose.FUSE: "An open fuse is an effect. {part} can have opened it: no new fuse and no "
    "verdict on the fuse before it was read.",
    Purpose.OVER_VOLTAGE: "{part} sets the voltage that was too high. By itself it tells: in place "
    "a drifted divider hides behind what lies beside it.",
    Purpose.PAIR: "The standby rail with the main cable off: wrong here too, it is the power "
    "board; good here, look at the main board. No board verdict without it. N leaves it out and "
    "the sheet says so.",
}
"""Why a step is asked for beside what it tells."""
WITNESS = (
    "The best match can't be measured at the part itself. It reads here unlike most other "
    "suspects: a second witness before it may stand."
)
DARK_AGAIN = (
    "A tester the wrong way round, or a clip that does not bite, leaves good lamps dark. Switch it "
    "off, turn its leads round, press them on, and look again."
)
LOAD_PAIR = (
    "The same rail without that load: good here, the load pulls it down; wrong here too, it is the "
    "power board. No board is condemned without it."
)


def why(task: Task, names: Names) -> str:
    """Why this step."""
    probe = task.candidate.probe
    part = names.short(probe.part) if probe.part else ""
    if task.purpose is Purpose.PROOF:
        return task.proves
    if task.purpose is Purpose.CONFIRM and probe.live:
        return WITNESS
    if task.purpose is Purpose.AGAIN and probe.mode.of_lamps:
        return DARK_AGAIN
    if task.purpose is Purpose.PAIR and probe.rail != names.board.standby_rail:
        return LOAD_PAIR
    if task.purpose in WHY:
        return WHY[task.purpose].format(part=part)
    return _both_ways(task, names)


def _both_ways(task: Task, names: Names) -> str:
    parts = []
    if task.if_bad:
        wrong = leaders(task.if_bad, names)
        parts.append(f"An odd reading points to {wrong}.")  # how likely: at the ways on
    if task.if_good:
        parts.append(f"A good one leaves {leaders(task.if_good, names)}.")
    return " ".join(parts)


def leaders(suspects: Sequence[Suspect], names: Names) -> str:
    """Who leads, in a few words: C27, C31 or the main board."""
    found: list[str] = []
    for suspect in suspects:
        if suspect.probability < LEAST_NAMED:
            break
        name = suspect.title.lower()
        if suspect.part:
            short = names.short(suspect.part)
            name = short if short == suspect.part else f"the {short}"
        if name not in found:
            found.append(name)
    if len(found) < 2:
        return "".join(found) or NONE_STRONG
    return ", ".join(found[:-1]) + " or " + found[-1]


def leaders_with_shares(suspects: Sequence[Suspect], names: Names) -> str:
    """Who leads with what share: C27 dried out 61 %, the main board shorted 20 %."""
    said = [f"{names.text(s.title)} {percent(s.probability)}" for s in suspects]
    return ", ".join(said) or NONE_STRONG


def way_lines(ways: Sequence[Branch], names: Names, depth: int = 0) -> list[str]:
    """Where a good and where a bad reading lead: a line each, those that follow indented."""
    lines = []
    for way in ways:
        sign = f"{'If good' if way.good else 'If bad'} ({percent(way.probability)})"
        leader = way.leaders[0]
        if way.step is None:
            then = f"{names.title(leader.title)}, {percent(leader.probability)} sure"
        else:
            candidate = way.step.candidate
            probe = candidate.probe
            title = probe.title.removesuffix(f": {probe.what}")
            setting = "" if probe.live else f", {probe.mode.label}"
            then = f"{names.text(title)}{setting} · {candidate.state.label}"
        lines.append(f"{'  ' * depth}{sign}: {then}")
        lines += way_lines(way.ways, names, depth + 1)
    return lines
