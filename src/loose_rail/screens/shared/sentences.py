"""Sentences that several screens share: titles of stages, why a probe is offered, state tokens."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.profile import Board, Side
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.posterior import suspects_of
from loose_rail.diagnosis.planning.engine import Engine, NextStep, Purpose
from loose_rail.jobs.fold import JobState
from loose_rail.judgement.limits import limit
from loose_rail.kernel.quantities import engineering, percent
from loose_rail.screens.job.state import StageDot, Token
from loose_rail.vocabulary.board_state import BoardState, Power

Floats = NDArray[np.float64]

STAGE_TITLES = {
    "take_in": "Take in",
    "strip_down": "Strip down",
    "look_over": "Look over",
    "cold_checks": "Cold checks",
    "live_checks": "Live checks",
    "verdict": "Verdict",
    "parts": "Parts",
    "rework": "Rework",
    "power_up": "Power up",
    "hand_back": "Hand back",
}


def stage_dots(state: JobState) -> tuple[StageDot, ...]:
    """The track: what lies behind the current stage counts as done."""
    keys = list(STAGE_TITLES)
    here = keys.index(state.stage)
    status = ["done" if k < here else "current" if k == here else "ahead" for k in range(10)]
    return tuple(StageDot(key, STAGE_TITLES[key], status[k]) for k, key in enumerate(keys))


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
            lamp = f"{now.lamp_watts} W lamp in line"
            tokens.append(Token(lamp if now.lamp_watts else "straight on the mains", "warn"))
        tokens.append(Token("main cable on" if now.main_cable else "main cable off", "plain"))
        if now.without:
            tokens.append(Token(f"{now.without} unplugged", "plain"))
    else:
        tokens.append(Token("unplugged", "solid"))
        tokens.append(
            Token("drained" if drained else "charge not known", "plain" if drained else "warn")
        )
    if wanted is not None and wanted != now:
        tokens.append(Token(f"next: {wanted.words}", "todo"))
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


def why_text(engine: Engine, step: NextStep, probabilities: Floats) -> str:
    """Why this probe: what an odd reading would point to, and what a sound one would."""
    table = engine.table
    column = column_of(table, step.offer.column)
    gap = np.abs(column.y - column.y[0]) / column.sigma[0]
    odd = (column.ticks != column.ticks[0]) | (column.open != column.open[0])
    odd |= column.steady & (gap > 3.0)
    wrong = _leaders(engine, np.where(odd & ~column.outside, probabilities, 0.0))
    sound = _leaders(engine, np.where(~odd & ~column.outside, probabilities, 0.0))
    if step.purpose is Purpose.AGAIN:
        return (
            "Without this one reading the leading part would not be sure: a slip there would "
            "condemn a good part. Lift the probes, look at the setting, and read it again."
        )
    if step.purpose is Purpose.CONFIRM and column.probe.live:
        return (
            "The best match can't be measured at the part itself. It reads here unlike most other "
            "suspects: a second witness before it may stand."
        )
    if step.purpose is Purpose.CONFIRM:
        part = column.probe.part
        return (
            f"{part} is the best match. This reading at {part} itself confirms it or clears it: "
            "no part is condemned without one."
        )
    if step.purpose is Purpose.COMPANION:
        return f"{column.probe.part} often fails along with what is proved. N leaves it out."
    if step.purpose is Purpose.FUSE:
        return (
            f"An open fuse is an effect. {column.probe.part} can have opened it: no new fuse and "
            "no verdict on the fuse before it was read."
        )
    if step.purpose is Purpose.OVER_VOLTAGE:
        return (
            f"{column.probe.part} sets the voltage that was too high. By itself it tells: in place "
            "a drifted divider hides behind what lies beside it."
        )
    if step.purpose is Purpose.PAIR:
        return (
            "The standby rail with the main cable off: wrong here too, it is the power board; good "
            "here, look at the main board. No board verdict without it. N leaves it out and the "
            "sheet says so."
        )
    parts = []
    if wrong:
        parts.append(f"An odd reading ({percent(step.split)} likely) points to {wrong}.")
    if sound:
        parts.append(f"A sound one leaves {sound}.")
    return " ".join(parts)


def _leaders(engine: Engine, weights: Floats) -> str:
    total = float(weights.sum())
    if total <= 0:
        return ""
    leaders: list[str] = []
    for suspect in suspects_of(engine.table, weights / total):
        if suspect.probability < 0.08 or len(leaders) == 3:
            break
        name = suspect.part or suspect.title.lower()
        if name == "MB":
            name = "the main board"
        if name not in leaders:
            leaders.append(name)
    return _joined(leaders) if leaders else "many, none of them strong"


def _joined(names: Sequence[str]) -> str:
    if len(names) < 2:
        return "".join(names)
    return ", ".join(names[:-1]) + " or " + names[-1]
