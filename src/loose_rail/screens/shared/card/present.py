"""The next-probe card: what to do with which hand, and what the entry line takes now.

The entry is held until the board's state is confirmed and, for a dead board, its reservoirs are
measured.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import datetime

from loose_rail.app.limiting import limiter_now, patterns_now
from loose_rail.app.session import JobSession
from loose_rail.boards.profile import Board
from loose_rail.boards.reservoirs import Reservoir, bulk_of, reservoirs_of
from loose_rail.diagnosis.explain.locate_words import locate_words
from loose_rail.diagnosis.explain.names import Names
from loose_rail.diagnosis.explain.step_sentences import header, way_lines, why
from loose_rail.diagnosis.explain.supply_words import (
    AT_WORK,
    GOOD_SUPPLY,
    at_work_words,
    supply_words,
)
from loose_rail.diagnosis.inference.finding import Finding, Standing
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.review import Review
from loose_rail.diagnosis.step import Task, state_to_confirm
from loose_rail.jobs.events import StateConfirmed
from loose_rail.judgement.drain import drain_seconds
from loose_rail.judgement.judge import esr_limits, expected_text
from loose_rail.judgement.limits import limit
from loose_rail.judgement.safety import BRIGHT_INSTEAD, BRIGHT_LAMP
from loose_rail.judgement.spread import asks_for_print
from loose_rail.judgement.transitions import UNPLUG, caution_at
from loose_rail.kernel.quantities import engineering, percent
from loose_rail.screens.shared.card.state import CardState
from loose_rail.vocabulary.light import Light
from loose_rail.vocabulary.meter_mode import MeterMode
from loose_rail.vocabulary.phase import Phase

TELL_WHERE = "Tell it with D: injected."
BANDS = "A good one reads no more than its bands say; what lies beside it only lowers it."
DARK = {
    MeterMode.STRIP: "Type OL where a string stays dark, else the volts that the tester shows.",
    MeterMode.TUBE: "Type OL where one stays dark, pink or late, 600 where each lights at once.",
}
"""What is typed of lamps on a tester; a tube that burns does so at some hundred volts."""
CONFIRM_FIRST = "Do what the card says, then press B."


def card_for(session: JobSession) -> CardState:
    """The card as the review says, or while there is none."""
    if session.prediction_problem:
        return without_predictions_card(session.prediction_problem)
    review = session.review
    if review is None:
        return waiting_card("The first time a board is opened this takes a quarter of a minute.")
    if not review.facts.acknowledged:
        return acknowledge_card(session.board)
    if review.task is None:
        return _finished_card(review)
    if review.phase is Phase.LAMP:
        return lamp_card(session)
    if review.phase is Phase.LIGHT:
        return light_card()
    if review.phase is Phase.RESERVOIR and review.reservoir is not None:
        return _reservoir_card(review, review.task, review.reservoir)
    return _task_card(review, review.task)


def waiting_card(words: str) -> CardState:
    """While the predictions are being worked out."""
    return CardState(
        phase=Phase.WAITING,
        header="One moment",
        title="Working out what each fault would read",
        why=words,
    )


def without_predictions_card(why: str) -> CardState:
    """The predictions failed: why, once more, or on by hand."""
    return CardState(
        phase=Phase.FAILED,
        header="The predictions failed",
        title="This board can't be computed now",
        caution=why,
        why="Enter works them out again. By hand it goes on as well: readings as notes on any "
        "page, the verdict page takes your own decision (C27 because …), parts, rework and "
        "photographs work as ever. Nothing that was entered is lost.",
        action="Work them out again",
    )


def _task_card(review: Review, task: Task) -> CardState:
    board, probe = review.table.board, task.candidate.probe
    names = Names(board)
    todo = review.pending
    waits = review.phase is Phase.STATE
    if waits and state_to_confirm(review.job, task.candidate.state) != task.candidate.state:
        todo = (UNPLUG,)
    caution = _stop_words(review) or next((step.caution for step in todo if step.caution), "")
    caution = caution or caution_at(board, probe)
    expect, replace = _expectation(review, task)
    locate = locate_words(review, names)
    texts = [step.text for step in todo if not (step.measure and waits)]
    if waits and not texts:
        texts = [_only_confirm(review)]
    return CardState(
        phase=review.phase,
        header=header(task),
        title=probe.title,
        red=f"red on {probe.plus_words}",
        black=f"black on {probe.minus_words}",
        setting=f"{_device(probe.mode)}, {probe.side} side",
        todo=_in_one_sentence(texts),
        caution=caution,
        unit=probe.unit,
        expect=expect,
        replace=replace,
        why=" ".join(
            filter(
                None,
                (
                    why(task, names),
                    BANDS if asks_for_print(board, probe) else "",
                    DARK.get(probe.mode, ""),
                    locate,
                    locate and TELL_WHERE,
                ),
            )
        ),
        action="Done, it is so" if waits else "Take reading",
        branch=tuple(way_lines(review.ways, names)),
    )


def _device(mode: MeterMode) -> str:
    """What is held to the part, and how it is set."""
    return f"meter on {mode.label}" if mode.of_a_meter else f"with {mode.spoken}"


def _only_confirm(review: Review) -> str:
    """What to do where nothing is to be changed but the state was never confirmed."""
    if review.table.board.adapter_fed:
        return "Pull the adapter's plug, look that it is out, then press B"
    return "Pull the mains plug, look that it is out, then press B"


def _stop_words(review: Review) -> str:
    """What forbids power now, empty where nothing does."""
    stop = review.facts.over_volts
    if stop is not None:
        return f"{stop.sentence} {stop.instead}"
    if review.facts.bright_lamp and review.job.board_state.plugged:
        return f"{BRIGHT_LAMP} {BRIGHT_INSTEAD}"
    return ""


def _in_one_sentence(texts: Sequence[str]) -> tuple[str, ...]:
    """All but the first begin small: they follow a semicolon."""
    return tuple(t if k == 0 else t[:1].lower() + t[1:] for k, t in enumerate(texts))


def lamp_card(session: JobSession) -> CardState:
    """Right after plugging in through lamp or resistor: what it does before the meter."""
    found, patterns = limiter_now(session), patterns_now(session)
    lamp = found is None or found.is_lamp
    keys = [f"{number}   {one.of_limiter(lamp)}" for number, one in enumerate(patterns, start=1)]
    if not lamp:
        return CardState(
            phase=Phase.LAMP,
            header="Through the resistor · hand on the plug",
            title="What does the resistor do?",
            todo=tuple(keys),
            caution="It stands on the mains and burns skin: never touch it. Hot or smelling: pull "
            "the plug at once.",
            expect="1 to 3, then Enter",
            why="It shows less than a lamp: the bulk comes next, within the second.",
            action="That is what it does",
        )
    return CardState(
        phase=Phase.LAMP,
        header="Through the lamp · watch it",
        title="What does the lamp do?",
        todo=tuple(keys),
        caution="Hand on the plug. Full bright: pull it at once.",
        expect="1 to 5, then Enter",
        why="The foot switch says 2. The lamp tells a short before any meter "
        "does: with one bridge diode shorted the bulk still reads well behind it. A lamp that "
        "glows, pulses or is bright keeps full mains refused, whatever is read.",
        action="That is what it does",
    )


def light_card() -> CardState:
    """The repaired set is switched on: eyes before the meter."""
    return CardState(
        phase=Phase.LIGHT,
        header="Switched on · look at the set",
        title="What do light and picture do?",
        todo=tuple(f"{number}   {one.label}" for number, one in enumerate(Light, start=1)),
        expect="1 to 7, then Enter",
        why="No meter tells a tube that stays dark, a strip with a dead end or a wrong picture. "
        "The foot switch says 1. What can't be seen here stays open in the level of proof.",
        action="That is what is seen",
    )


def acknowledge_card(board: Board) -> CardState:
    """Once a job, on a board that stores a deadly charge: what it is, and who may go on."""
    stored = [
        f"{one.part} up to {engineering(one.most_volts, 'V')}, {one.joules:.2g} J"
        for one in reservoirs_of(board)
    ]
    return CardState(
        phase=Phase.ACKNOWLEDGE,
        header="Before anything else on a plasma set",
        title="This board stores energy that kills",
        todo=("; ".join(stored),),
        caution="For people who are trained and allowed to do this, never alone. Local rules come "
        "first. Big glass: two people.",
        why="It stays for minutes after the plug is out, on several rails, also with a dead supply "
        "and after a forced start. Each of these reservoirs is measured at its own leads before "
        "hands, ohms, diode test or ESR go near it.",
        action="Read and understood",
    )


def failed_card(review: Review) -> CardState:
    """The repair has failed: what says so, and the way back."""
    fitted = ", ".join(review.job.fitted)
    return CardState(
        phase=Phase.NOTHING,
        header="Not repaired",
        title="The repair has failed",
        caution=" ".join(review.proof.failures),
        why=f"The diagnosis goes on from here with {fitted} as known good: what was read since the "
        "repair counts, what was read before it does not.",
        action="Back to the checks",
        alarm=True,
    )


def _finished_card(review: Review) -> CardState:
    finding = review.assessment.finding
    if finding is not None and finding.standing is not Standing.UNDECIDED:
        confirmed = finding.standing is Standing.CONFIRMED
        words = "confirmed at the part" if confirmed else "best match, not confirmed at the part"
        words = "measured bad by itself" if finding.alone else words
        words = "and the set runs with a good one in its place" if finding.exchanged else words
        return CardState(
            phase=Phase.NOTHING,
            header="Sure enough to repair",
            title=finding_title(finding),
            why=f"{percent(finding.probability)} sure, {words}. The verdict shows what speaks for "
            "it and what is still unproved.",
            action="Go to the verdict",
        )
    supply = review.assessment.supply
    if supply is not None:
        return CardState(
            phase=Phase.NOTHING,
            header="No reading here tells more",
            title=GOOD_SUPPLY,
            why=supply_words(review.table.board, supply),
            action="Go to the verdict",
        )
    if review.assessment.at_work:
        return CardState(
            phase=Phase.NOTHING,
            header="No reading here tells more",
            title=AT_WORK,
            why=at_work_words(float(review.assessment.probabilities[0])),
            action="Go to the verdict",
        )
    if review.bench.lacks >= {mode for mode in MeterMode if mode.of_a_meter}:
        return CardState(
            phase=Phase.NOTHING,
            header="This bench has no meter",
            title="Look, listen, tell what was done",
            why="Nothing can be read here, so nothing is confirmed. What is seen and heard (H), "
            "and what was done and came of it (D), still counts; a reading that somebody took "
            "can be typed with O. What the bench has is set at the meters (F6).",
            action="Go to the verdict",
        )
    return CardState(
        phase=Phase.NOTHING,
        header="No probe is left that would tell more",
        title="Several suspects remain",
        why="They read alike in place. Lift or remove the leading part and test it, or choose "
        "another probe with O. The verdict shows how they differ.",
        action="Go to the verdict",
    )


def finding_title(finding: Finding) -> str:
    """The leading fault in words, with the parts that no reading tells from it."""
    title = finding.suspects[0].title
    return f"{title}, or {' or '.join(finding.twins)}" if finding.twins else title


def _reservoir_card(review: Review, task: Task, reservoir: Reservoir) -> CardState:
    board = review.table.board
    part = board.component(reservoir.part)
    caution = _stop_words(review)
    caution = caution or next((step.caution for step in review.pending if step.caution), "")
    return CardState(
        phase=Phase.RESERVOIR,
        header=f"First: drained? · then {task.candidate.probe.title}",
        title=f"{reservoir_title(board, reservoir)}: volts across it",
        red=f"red on {part.ref} +",
        black=f"black on {part.ref} − (striped side)",
        setting=_device(MeterMode.DC_VOLTS),
        todo=(
            "Wait for the drain timer, or drain it through 2.2 kΩ, 10 W, 500 V, insulated clips",
            "then measure",
        ),
        caution=caution,
        unit="V",
        expect=f"below {limit('drained_volts'):.0f} V to go on",
        why=f"Before {task.candidate.probe.mode.spoken} it is measured at its own leads, never "
        f"assumed empty. {drain_wait(board, reservoir)[1]}",
        action="Enter volts",
    )


def reservoir_title(board: Board, reservoir: Reservoir) -> str:
    """A reservoir as the card names it: C3, bulk capacitor."""
    duty = board.component(reservoir.part).duty
    return f"{reservoir.part}, {duty}" if duty else reservoir.part


MINUTES_FROM = 90
"""Seconds from which a wait is told in minutes."""


def drain_wait(board: Board, reservoir: Reservoir) -> tuple[float, str]:
    """Seconds until measuring a reservoir is worth while, and why, with its energy, in words."""
    holds = f"It may hold {reservoir.joules:.2g} J at {engineering(reservoir.most_volts, 'V')}"
    seconds = drain_seconds(board, reservoir)
    if seconds is None:
        words = f"{holds}; nothing on this board is sure to drain it."
        return limit("drain_unsure_seconds"), words
    lasts = f"{math.ceil(seconds / 60):.0f} min" if seconds > MINUTES_FROM else f"{seconds:.0f} s"
    words = f"{holds}; the resistors across it need about {lasts}, and one can be open."
    return seconds, words


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
    left = drain_wait(session.board, bulk_of(session.board))[0] - since.total_seconds()
    if left <= 0:
        return "measure the bulk"
    minutes, seconds = divmod(math.ceil(left), 60)
    return f"drains: {minutes}:{seconds:02d} left"


def _expectation(review: Review, task: Task) -> tuple[str, str]:
    """Expected range in words, and for ESR the value above which a part is replaced."""
    column = column_of(review.table, review.table.index(task.candidate.key))
    replace = ""
    if asks_for_print(review.table.board, column.probe):
        return "with its bands: 276k of 390k", ""
    if column.probe.mode is MeterMode.ESR:
        above = engineering(esr_limits(column.expectation.value)[1], "Ω", 2)
        replace = f"replace above {above}"
    inlet = column.inlet_volts
    measured = f" at {engineering(inlet, 'V', 3)} inlet" if inlet else ""
    return f"expect {expected_text(column.probe, column.expectation)}{measured}", replace
