"""The frame around every stage: title, track, the board's state, the cautions that belong to it."""

from __future__ import annotations

from loose_rail.app.session import JobSession
from loose_rail.boards.profile import Board, Side
from loose_rail.diagnosis.in_line import limiter_of
from loose_rail.diagnosis.review import Review
from loose_rail.jobs.state import JobState
from loose_rail.judgement.limits import limit
from loose_rail.kernel.quantities import engineering
from loose_rail.screens.bench.present import counted
from loose_rail.screens.job.state import JobFrame, StageDot, Token
from loose_rail.vocabulary.board_state import BoardState, Power
from loose_rail.vocabulary.stage import Stage

MOST_DAMAGED = 3


def job_frame(session: JobSession) -> JobFrame:
    """The frame as it stands."""
    state, review = session.state, session.review
    task = review.task if review else None
    side = task.candidate.probe.side if task else None
    bulk_volts = session.facts.bulk_volts
    bulk = "not measured" if bulk_volts is None else engineering(bulk_volts, "V")
    wanted = task.candidate.state if task and Stage(state.stage).probes else None
    told = " ".join(one for one in (session.conflict, *state.damaged[:MOST_DAMAGED]) if one)
    return JobFrame(
        ticket=state.ticket,
        set_text=f"{state.set_name} · board {session.board.id}",
        complaint=f"“{state.complaint}”",
        right_text=_readings_and_limit(state),
        stages=stage_dots(state),
        tokens=state_tokens(session.board, state, wanted, not session.to_measure()),
        bulk_text=_bulk_under_power(state) or bulk,
        warning=_warning(session, review, side),
        save_problem=session.save_problem,
        undo_words=state.undo_words,
        redo_words=state.redo_words,
        told=told,
    )


def _readings_and_limit(state: JobState) -> str:
    """How many readings there are, and the spending limit where one was agreed."""
    words = counted(len(state.live_readings))
    return f"{words} · limit {state.spending_limit:.2f}" if state.spending_limit else words


def stage_dots(state: JobState) -> tuple[StageDot, ...]:
    """The track: what lies behind the current stage counts as done."""
    here = Stage(state.stage).position
    return tuple(
        StageDot(
            key=str(one),
            title=one.label,
            status="done" if one.position < here else "current" if one == state.stage else "ahead",
        )
        for one in Stage
    )


def _warning(session: JobSession, review: Review | None, side: Side | None) -> str:
    """The caution of the frame: an over-voltage and a failed repair before the state's own."""
    facts, state = session.facts, session.state
    if facts.over_volts is not None:
        return "over-voltage: plug out"
    if facts.bright_lamp:
        return "lamp full bright: plug out"
    if review is not None and review.repair_failed:
        return f"not repaired; {state.fitted[-1]} is known good"
    return warning_for(session.board, state, side if side is Side.HOT else None)


def _bulk_under_power(state: JobState) -> str:
    """The last bulk reading in the present plugged-in state."""
    for reading in reversed(state.live_readings):
        if reading.of_bulk and reading.state == state.board_state:
            return reading.observation.text()
    return ""


def state_tokens(
    board: Board, state: JobState, wanted: BoardState | None, drained: bool
) -> tuple[Token, ...]:
    """The board's state as tokens; what must change before the next probe is an instruction.

    `drained` says that every reservoir of the board was measured empty and still counts.
    """
    now = state.board_state
    if not state.state_known:
        return (Token("state not confirmed: unplug and measure the bulk", "todo"),)
    tokens: list[Token] = []
    if now.plugged:
        tokens.append(Token("plugged in", "solid"))
        tokens.append(Token(_power_words(now), "solid"))
        if board.adapter_fed:
            tokens.append(Token("on its adapter", "plain"))
        else:
            found = limiter_of(state, now.lamp_watts)
            tokens.append(Token(found.words if found else "directly on the mains", "warn"))
        tokens.append(Token("main cable on" if now.main_cable else "main cable off", "plain"))
        if now.without:
            tokens.append(Token(f"{now.without} unplugged", "plain"))
    else:
        tokens.append(Token("unplugged", "solid"))
        tokens.append(
            Token("drained" if drained else "charge not known", "plain" if drained else "warn")
        )
    if wanted is not None and wanted != now:
        tokens.append(Token(f"next: {wanted.label}", "todo"))
    return tuple(tokens)


def _power_words(state: BoardState) -> str:
    return {
        Power.STANDBY: "standby",
        Power.FORCED: "start signal forced",
        Power.ON: "switched on",
    }.get(state.power, "unplugged")


def warning_for(board: Board, state: JobState, side: Side | None) -> str:
    """The caution that belongs to the board's state now."""
    if state.board_state.plugged:
        if board.adapter_fed:
            return ""
        if side is Side.HOT:
            return "hot side live: black on bulk minus, not chassis"
        return "hot side live"
    for one in state.measured:
        if abs(one.volts) >= limit("hazard_volts"):
            return f"{one.part or 'the bulk'} holds {engineering(abs(one.volts), 'V')}: dangerous"
    return ""
