"""The next-probe card: what to do with which hand, and what the entry line takes now.

The entry is held until the board's state is confirmed and, for a dead board, the bulk is measured.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from loose_rail.app.session import JobSession
from loose_rail.boards.health import Health
from loose_rail.boards.probes import Probe
from loose_rail.circuit.meters import MeterMode
from loose_rail.diagnosis.engine import NextStep, Purpose
from loose_rail.diagnosis.likelihood import column_of
from loose_rail.diagnosis.predictions import Candidate
from loose_rail.diagnosis.verdict import Standing
from loose_rail.jobs.events import StateConfirmed
from loose_rail.judgement.judge import Sound, expected_text, sound_reading
from loose_rail.judgement.limits import limit
from loose_rail.kernel.quantities import engineering, minutes_text, percent
from loose_rail.presenters.reasoning import branch_words
from loose_rail.presenters.states import CardState
from loose_rail.presenters.verdict import finding_title
from loose_rail.presenters.words import why_text

READING, BULK, STATE, LAMP, NOTHING, WAITING = (
    "reading",
    "bulk",
    "state",
    "lamp",
    "nothing",
    "waiting",
)


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
    }[step.purpose]
    header = f"{lead} · {minutes_text(step.offer.minutes)}"
    why = why_text(session.engine, step, session.assessment.probabilities)
    return Task(step.offer.candidate, header, why, branch_words(session, step))


def card_for(session: JobSession, task: Task | None) -> CardState:
    """The card for a task, or for the moment when nothing is left to read."""
    if session.engine is None:
        return waiting_card("The first time a board is opened this takes a quarter of a minute.")
    if task is None:
        return _finished_card(session)
    probe, target = task.candidate.probe, task.candidate.state
    todo = session.pending(target, probe)
    phase = READING
    if not session.state.state_known or session.state.board_state != target:
        phase = STATE
    elif todo and todo[0].measure_bulk:
        phase = BULK
    caution = next((step.caution for step in todo if step.caution), "")
    setting = f"{probe.mode.words}, {probe.side} side"
    if phase == BULK:
        return _bulk_card(session, task, caution)
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
        _in_one_sentence(
            [step.text for step in todo if not (step.measure_bulk and phase == STATE)]
        ),
        caution,
        probe.unit,
        expect,
        replace,
        task.why,
        "Take reading" if phase == READING else "Done, it is so",
        branch=task.branch,
    )


def _in_one_sentence(texts: Sequence[str]) -> tuple[str, ...]:
    """All but the first begin small: they follow a semicolon."""
    return tuple(t if k == 0 else t[:1].lower() + t[1:] for k, t in enumerate(texts))


def lamp_card() -> CardState:
    """Right after the first plugging in: the lamp before the meter."""
    return CardState(
        LAMP,
        "First power · watch the lamp",
        "What does the lamp do?",
        caution="Hand on the plug. Bright or pulsing: pull it.",
        why="Answer with 1 to 5, as the buttons say: the lamp tells a short before any meter does.",
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


def _bulk_card(session: JobSession, task: Task, caution: str) -> CardState:
    part = session.board.component(session.board.roles["bulk"][0])
    seconds, words = drain_wait(session)
    return CardState(
        BULK,
        f"First: drained? · then {task.candidate.probe.title}",
        f"{part.ref}, bulk capacitor: volts across it",
        f"red on {part.ref} +",
        f"black on {part.ref} − (striped side)",
        MeterMode.DC_VOLTS.words,
        ("Wait for the drain timer, or drain it through 2.2 kΩ, 10 W", "Then measure"),
        caution,
        "V",
        f"below {limit('drained_volts'):.0f} V to go on",
        "",
        f"Before {task.candidate.probe.mode.words} the bulk is measured, never assumed empty. "
        + words,
        "Enter bulk volts",
        seconds,
        words,
    )


def drain_wait(session: JobSession) -> tuple[float, str]:
    """Seconds for the board's own bleeder (5·R·C, at least 30 s) and the energy, in words.

    Source: RC discharge (textbook); electrical reference section 11.
    """
    health = Health(session.board, ())
    farads, _ = health.capacitor("bulk")
    ohms = health.series_ohms("bleeder")
    volts = math.sqrt(2.0) * session.board.mains.volts
    joules = 0.5 * farads * volts * volts
    least = limit("drain_least_seconds")
    seconds = max(least, 5 * ohms * farads) if math.isfinite(ohms) else 600.0
    words = (
        f"It may hold {engineering(joules, 'J', 2)} at {engineering(volts, 'V')}; the board's own "
        f"bleeder needs about {math.ceil(seconds / 60):.0f} min, and a bleeder can be open."
    )
    return seconds, words


def drain_left_words(session: JobSession) -> str:
    """The drain timer: what is left since the plug was pulled, or that it is time to measure.

    The timer only says when measuring is worth while; the measured volts decide.
    """
    state = session.state
    if state.board_state.plugged or not state.state_known or state.bulk_volts is not None:
        return ""
    pulled = next(
        (r.at for r in reversed(session.records) if isinstance(r.event, StateConfirmed)), ""
    )
    if not pulled:
        return ""
    since = datetime.fromisoformat(session.now()) - datetime.fromisoformat(pulled)
    left = drain_wait(session)[0] - since.total_seconds()
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
        above = engineering(limit("esr_reject_times") * sound.value, "Ω", 2)
        replace = f"replace above {above}"
    return f"expect {expected_text(probe, sound)}", replace
