"""The next-probe card: what to do with which hand, and what the entry line takes now.

The entry is held until the board's state is confirmed and, for a dead board, the bulk is measured.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from loose_rail.app.results import proof
from loose_rail.app.session import JobSession
from loose_rail.boards.effective_parts import Health
from loose_rail.boards.probes import Probe
from loose_rail.boards.reservoirs import Reservoir, bulk_of, reservoirs_of
from loose_rail.diagnosis.inference.finding import Standing
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.predictions import Candidate
from loose_rail.diagnosis.planning.engine import NextStep, Purpose
from loose_rail.jobs.events import StateConfirmed
from loose_rail.judgement.judge import Sound, esr_limits, expected_text, sound_reading
from loose_rail.judgement.limits import limit
from loose_rail.judgement.safety import BRIGHT_INSTEAD, BRIGHT_LAMP
from loose_rail.judgement.transitions import UNPLUG, by_way_of
from loose_rail.kernel.quantities import engineering, minutes_text, percent
from loose_rail.screens.card.state import CardState
from loose_rail.screens.shared.sentences import why_text
from loose_rail.screens.verdict.present import finding_title
from loose_rail.screens.verdict.reasoning import branch_words
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState
from loose_rail.vocabulary.meter_mode import MeterMode

READING, BULK, STATE, LAMP = "reading", "bulk", "state", "lamp"
NOTHING, WAITING, ACKNOWLEDGE, FAILED = "nothing", "waiting", "acknowledge", "failed"
PATTERNS = (
    ("dark", "stays dark"),
    ("flash_dark", "flashes, then dark"),
    ("glows", "glows steadily"),
    ("pulses", "pulses"),
    ("bright", "full bright"),
)
"""What a lamp in line can do, in the order of the keys 1 to 5."""


@dataclass(frozen=True, slots=True)
class Task:
    """What the card is about: a candidate to read, and why."""

    candidate: Candidate
    header: str
    why: str
    branch: tuple[str, ...] = ()


def waiting_card(words: str) -> CardState:
    """While the predictions are being worked out."""
    return CardState(WAITING, "One moment", "Working out what each fault would read", why=words)


def without_predictions_card(why: str) -> CardState:
    """The predictions failed: why, once more, or on by hand."""
    return CardState(
        FAILED,
        "The predictions failed",
        "This board can't be computed now",
        caution=why,
        why="Enter works them out again. By hand it goes on as well: readings as notes on any "
        "page, the verdict page takes your own decision (C27 because …), parts, rework and "
        "photographs work as ever. Nothing that was entered is lost.",
        action="Work them out again",
    )


def task_of_step(session: JobSession, step: NextStep) -> Task:
    """The offered step as a task."""
    assert session.engine is not None and session.assessment is not None
    sure = percent(step.split)
    lead = {
        Purpose.INFORM: f"Next probe · splits the suspects {sure} / {percent(1 - step.split)}",
        Purpose.CONFIRM: "Next probe · confirms the best match",
        Purpose.PAIR: "Before the verdict · power board or main board?",
        Purpose.CHOSEN: "Your choice",
        Purpose.COMPANION: "Fails along with it · is it bad too?",
        Purpose.UNLOCK: "Before full power · is nothing shorted?",
        Purpose.AGAIN: "Once more · the verdict hangs on this reading",
        Purpose.FUSE: "Something opened the fuse · is this it?",
        Purpose.OVER_VOLTAGE: "Too high a voltage · its divider first",
    }[step.purpose]
    header = f"{lead} · {minutes_text(step.offer.minutes)}"
    why = why_text(session.engine, step, session.assessment.probabilities)
    return Task(step.offer.candidate, header, why, branch_words(session, step))


def card_for(session: JobSession, task: Task | None) -> CardState:
    """The card for a task, or for the moment when nothing is left to read."""
    if session.prediction_problem:
        return without_predictions_card(session.prediction_problem)
    if session.engine is None:
        return waiting_card("The first time a board is opened this takes a quarter of a minute.")
    if not session.acknowledged:
        return acknowledge_card(session)
    if task is None:
        return _finished_card(session)
    if asks_for_lamp(session):
        return lamp_card(session)
    probe, target = task.candidate.probe, task.candidate.state
    todo = session.pending(target, probe)
    phase = READING
    if not session.state.state_known or session.state.board_state != target:
        phase = STATE
    elif todo and todo[0].measure:
        phase = BULK
    caution = next((step.caution for step in todo if step.caution), "")
    caution = _stop_words(session) or caution
    setting = f"{probe.mode.words}, {probe.side} side"
    if phase == BULK:
        return _reservoir_card(session, task, session.to_measure(probe.part)[0], caution)
    if phase == STATE and state_to_confirm(session, target) != target:
        todo = (UNPLUG,)
    expect, replace = _expectation(session, probe, task.candidate)
    if probe.lifted:
        caution = caution or "Hot iron. Lift the leg clear of its pad, and note which one it was."
    return CardState(
        phase,
        task.header,
        probe.title,
        f"red on {probe.plus_words}",
        f"black on {probe.minus_words}",
        setting,
        _in_one_sentence([step.text for step in todo if not (step.measure and phase == STATE)]),
        caution,
        probe.unit,
        expect,
        replace,
        task.why,
        "Take reading" if phase == READING else "Done, it is so",
        branch=task.branch,
    )


def _stop_words(session: JobSession) -> str:
    """What forbids power now, empty where nothing does."""
    stop = session.over_volts
    if stop is not None:
        return f"{stop.sentence} {stop.instead}"
    if session.bright_lamp and session.state.board_state.plugged:
        return f"{BRIGHT_LAMP} {BRIGHT_INSTEAD}"
    return ""


def _in_one_sentence(texts: Sequence[str]) -> tuple[str, ...]:
    """All but the first begin small: they follow a semicolon."""
    return tuple(t if k == 0 else t[:1].lower() + t[1:] for k, t in enumerate(texts))


def state_to_confirm(session: JobSession, target: BoardState) -> BoardState:
    """What B confirms now on the way to a state: unplugged first, where nothing is known of the
    board or a jumper is about to be fitted or taken off."""
    if not session.state.state_known:
        return UNPLUGGED
    return by_way_of(session.state.board_state, target)


def asks_for_lamp(session: JobSession) -> bool:
    """Whether the lamp comes before any meter: it is in line, and what it does with the board as it
    is now was not told yet."""
    state = session.state
    return state.state_known and state.board_state.lamp_watts > 0 and not state.lamp_last


AS_IT_SHOULD = "flash_dark"
"""What the foot switch confirms of the lamp: a flash or nothing, then dark."""


def lamp_card(session: JobSession) -> CardState:
    """Right after plugging in through the lamp: the lamp before the meter."""
    keys = [f"{number}   {words}" for number, (_, words) in enumerate(PATTERNS, start=1)]
    return CardState(
        LAMP,
        "Through the lamp · watch it",
        "What does the lamp do?",
        todo=tuple(keys),
        caution="Hand on the plug. Full bright: pull it at once.",
        expect="1 to 5, then Enter",
        why="The foot switch says 2. The lamp tells a short before any meter "
        "does: with one bridge diode shorted the bulk still reads well behind it. A lamp that "
        "glows, pulses or is bright keeps full mains refused, whatever is read.",
        action="That is what it does",
    )


def lamp_words(pattern: str) -> str:
    """What a lamp pattern means."""
    return _LAMP_WORDS[pattern]


_LAMP_WORDS = {
    "dark": "Dark: the board takes little current. Where no flash was predicted that is right; "
    "read the rail to be sure that it is alive.",
    "flash_dark": "A flash, then dark: the bulk has charged and nothing draws heavily. Sound.",
    "glows": "A steady glow: something draws 20 to 30 W, a load, a leaky part or a shorted bridge "
    "diode. Pull the plug and read the rails and the bridge for shorts. No full mains.",
    "pulses": "Pulsing: the supply starts and collapses, or is overloaded. No full mains.",
    "bright": "Full bright: a short behind the lamp. Pull the plug now. No full mains.",
}


def acknowledge_card(session: JobSession) -> CardState:
    """Once a job, on a board that stores a deadly charge: what it is, and who may go on."""
    stored = [
        f"{one.part} up to {engineering(one.most_volts, 'V')}, {one.joules:.2g} J"
        for one in reservoirs_of(session.board)
    ]
    return CardState(
        ACKNOWLEDGE,
        "Before anything else on a plasma set",
        "This board stores energy that kills",
        todo=("; ".join(stored),),
        caution="For people who are trained and allowed to do this, never alone. Local rules come "
        "first. Big glass: two people.",
        why="It stays for minutes after the plug is out, on several rails, also with a dead supply "
        "and after a forced start. Each of these reservoirs is measured at its own leads before "
        "hands, ohms, diode test or ESR go near it.",
        action="Read and understood",
    )


def failed_card(session: JobSession) -> CardState:
    """The repair has failed: what says so, and the way back."""
    found = proof(session)
    fitted = ", ".join(session.state.fitted)
    return CardState(
        NOTHING,
        "Not repaired",
        "The repair has failed",
        caution=" ".join(found.failures),
        why=f"The diagnosis goes on from here with {fitted} as known good: what was read since the "
        "repair counts, what was read before it does not.",
        action="Back to the checks",
        alarm=True,
    )


def _finished_card(session: JobSession) -> CardState:
    finding = session.assessment.finding if session.assessment else None
    if finding is not None and finding.standing is not Standing.OPEN:
        confirmed = finding.standing is Standing.CONFIRMED
        words = "confirmed at the part" if confirmed else "best match, not confirmed at the part"
        return CardState(
            NOTHING,
            "Sure enough to repair",
            finding_title(finding),
            why=f"{percent(finding.probability)} sure, {words}. The verdict shows what speaks for "
            "it and what is still unproved.",
            action="Go to the verdict",
        )
    return CardState(
        NOTHING,
        "No probe is left that would tell more",
        "Several suspects remain",
        why="They read alike in place. Lift or remove the leading part and test it, or choose "
        "another probe with O. The verdict shows how they differ.",
        action="Go to the verdict",
    )


def _reservoir_card(
    session: JobSession, task: Task, reservoir: Reservoir, caution: str
) -> CardState:
    part = session.board.component(reservoir.part)
    seconds, words = drain_wait(session, reservoir)
    what = reservoir_title(session, reservoir)
    return CardState(
        BULK,
        f"First: drained? · then {task.candidate.probe.title}",
        f"{what}: volts across it",
        f"red on {part.ref} +",
        f"black on {part.ref} − (striped side)",
        MeterMode.DC_VOLTS.words,
        ("Wait for the drain timer, or drain it through 2.2 kΩ, 10 W", "then measure"),
        caution,
        "V",
        f"below {limit('drained_volts'):.0f} V to go on",
        "",
        f"Before {task.candidate.probe.mode.words} it is measured at its own leads, never assumed "
        "empty. " + words,
        "Enter volts",
        seconds,
        words,
    )


def reservoir_title(session: JobSession, reservoir: Reservoir) -> str:
    """A reservoir as the card names it: C3, bulk capacitor."""
    duty = session.board.component(reservoir.part).duty
    return f"{reservoir.part}, {duty}" if duty else reservoir.part


def drain_wait(session: JobSession, reservoir: Reservoir) -> tuple[float, str]:
    """Seconds for the board's own bleeder (5·R·C, at least 30 s) and the energy at the highest
    volts the reservoir can have on this board, in words.

    Source: RC discharge (textbook); electrical reference section 11.
    """
    is_bulk = reservoir.part == session.board.roles["bulk"][0]
    ohms = Health(session.board, ()).series_ohms("bleeder") if is_bulk else math.inf
    holds = f"It may hold {reservoir.joules:.2g} J at {engineering(reservoir.most_volts, 'V')}"
    if not math.isfinite(ohms) or not ohms:
        words = f"{holds}; nothing on this board is sure to drain it."
        return limit("drain_unsure_seconds"), words
    seconds = max(limit("drain_least_seconds"), 5 * ohms * reservoir.farads)
    minutes = math.ceil(seconds / 60)
    return (
        seconds,
        f"{holds}; the board's own bleeder needs about {minutes:.0f} min, and a bleeder can be "
        "open.",
    )


def drain_left_words(session: JobSession) -> str:
    """The drain timer: what is left since the plug was pulled, or that it is time to measure.

    The timer only says when measuring is worth while; the measured volts decide.
    """
    state = session.state
    measured = session.facts.bulk_volts is not None
    if state.board_state.plugged or not state.state_known or measured:
        return ""
    pulled = next(
        (r.at for r in reversed(session.records) if isinstance(r.event, StateConfirmed)), ""
    )
    if not pulled:
        return ""
    since = datetime.fromisoformat(session.now()) - datetime.fromisoformat(pulled)
    left = drain_wait(session, bulk_of(session.board))[0] - since.total_seconds()
    if left <= 0:
        return "measure the bulk"
    minutes, seconds = divmod(math.ceil(left), 60)
    return f"drains: {minutes}:{seconds:02d} left"


def sound_of(session: JobSession, candidate: Candidate) -> Sound:
    """What a sound board reads at a candidate."""
    assert session.engine is not None
    table = session.engine.table
    column = column_of(table, table.index(candidate.key))
    return sound_reading(session.board, candidate.probe, float(column.low[0]))


def _expectation(session: JobSession, probe: Probe, candidate: Candidate) -> tuple[str, str]:
    """Expected range in words, and for ESR the value above which a part is replaced."""
    sound = sound_of(session, candidate)
    replace = ""
    if probe.mode is MeterMode.ESR:
        above = engineering(esr_limits(sound.value)[1], "Ω", 2)
        replace = f"replace above {above}"
    return f"expect {expected_text(probe, sound)}", replace
