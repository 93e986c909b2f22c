"""Rework of the accepted part, step by step."""

from __future__ import annotations

from loose_rail.app.album import photographs
from loose_rail.app.repair import (
    action_of,
    current_step,
    done_words,
    methods_now,
    repair_steps,
)
from loose_rail.app.session import JobSession
from loose_rail.boards.part_words import job_words
from loose_rail.boards.profile import Board, Component
from loose_rail.boards.whole_board import WHOLE_BOARD, component_of
from loose_rail.diagnosis.step import asks_before_rework
from loose_rail.jobs.state import JobState
from loose_rail.judgement.rework import (
    MARK,
    OPEN,
    REMOVE,
    Action,
    Mounting,
    action_reason,
    action_words,
    actions_for,
    mounting_of,
    mounting_words,
)
from loose_rail.kernel.quantities import nominal
from loose_rail.screens.rework.state import LegView, MethodView, ReworkState, ReworkStep
from loose_rail.screens.shared.card.present import drain_wait, reservoir_title

CAN, DIODE, LEGS, CHIP, PLAIN, BOARD = "can", "diode", "legs", "chip", "plain", "board"
SHAPES = {
    "electrolytic": CAN,
    "diode": DIODE,
    "zener": DIODE,
    "tvs": DIODE,
    "mosfet_n": LEGS,
    "mosfet_p": LEGS,
    "igbt": LEGS,
    "npn": LEGS,
    "pnp": LEGS,
    "shunt_reference": LEGS,
    "regulator": LEGS,
    "bridge": LEGS,
    "optocoupler": CHIP,
    "controller": CHIP,
    "switcher": CHIP,
    "mosfet_dual": CHIP,
}
"""How a kind is drawn; what can be fitted either way round is plain."""
MARK_WORDS = {
    CAN: "stripe: minus",
    DIODE: "band: cathode, over the band on the board",
    LEGS: "Which leg is which is in the data of the new part: types of one kind differ.",
    CHIP: "Dot or notch at pin 1, over the mark on the board; pin numbers are in its data.",
    PLAIN: "either way round; note how it sits",
    BOARD: "Every plug with its pins, compared before a screw goes in.",
}
CAUTIONS = {
    CAN: "Reversed, an electrolytic vents.",
    DIODE: "Reversed, it shorts its winding or its rail at the first power.",
    LEGS: "Turned or mixed up, it shorts at the first power.",
    CHIP: "Turned by 180°, it is gone at the first power.",
    PLAIN: "",
    BOARD: "",
}
ACTION_WORDS = {
    Action.REFLOW: "Every pin under light: rings crack first at heavy pins and beside hot ones.",
    Action.TIGHTEN: "Both halves, pin by pin: brown, wide or loose ones first.",
}
MOST_LEGS = 8


def rework_state(session: JobSession) -> ReworkState:
    """Steps for the part in hand; all done, the part counts as fitted."""
    verdict = session.state.verdict
    if verdict is None:
        return ReworkState(
            title="Rework",
            part="",
            part_words="",
            steps=(),
            action="Go to the verdict",
            message="No verdict has been accepted.",
        )
    state, board = session.state, session.board
    part = component_of(board, state.part_in_hand)
    current = current_step(session)
    fitted = state.fitted_since_verdict(part.ref)
    number, count = state.to_replace.index(part.ref) + 1, len(state.to_replace)
    which = f" ({number} of {count})" if count > 1 else ""
    mounting = mounting_of(part)
    exchanged = mounting in (Mounting.BOARD, Mounting.STRIP)
    shape = SHAPES.get(part.kind, PLAIN)
    if exchanged:
        shape = BOARD if part.ref == WHOLE_BOARD else PLAIN
    action = action_of(session, part.ref)
    verb = "Exchange" if exchanged else action_words(action)[1]
    replaced = action is Action.REPLACE
    done = "is replaced" if replaced else f"is done: {done_words(session, part.ref)}"
    words = MARK_WORDS[shape]
    shape = shape if replaced else LEGS if action is Action.REFLOW else BOARD
    return ReworkState(
        title=f"{part.ref} {done}{which}" if fitted else f"{verb} {part.ref}{which}",
        part=part.ref,
        part_words=_part_words(session.state, part),
        steps=_steps(session),
        action=_action(action, number == count) if current is None else "Done, next step",
        shape=shape,
        legs=_drawn_legs(board, part, shape, exchanged),
        mark_words=ACTION_WORDS.get(action) or ("" if exchanged and shape == PLAIN else words),
        mounting=f"{_why(mounting, action)}.{_other_ways(session, part)}",
        caution=CAUTIONS[shape] if replaced else "",
        methods=_methods(session),
        safety=_safety(session) if current is not None and current.key == OPEN else "",
        asks_bulk=asks_before_rework(board, session.state, session.facts),
    )


def _why(mounting: Mounting, action: Action) -> str:
    return mounting_words(mounting) if action is Action.REPLACE else action_reason(action)


def _drawn_legs(board: Board, part: Component, shape: str, exchanged: bool) -> tuple[LegView, ...]:
    """What is drawn with it: its legs, or the pins of the plug, or of every plug of a board."""
    if shape == BOARD:
        plugs = _plugs(board)
        return tuple(one for one in plugs if one.name == part.ref) or plugs
    return () if exchanged else _legs(board, part)


def _legs(board: Board, part: Component) -> tuple[LegView, ...]:
    """Each leg and where it goes; minus of an electrolytic first, as its stripe is seen."""
    pins = list(part.pins.items())[:MOST_LEGS]
    if part.kind == "electrolytic":
        pins.sort(key=lambda pin: pin[0] == "plus")
    return tuple(LegView(name, board.net(net).where) for name, net in pins)


def _plugs(board: Board) -> tuple[LegView, ...]:
    """The plugs of a board that is exchanged, each with its pins."""
    return tuple(
        LegView(
            plug.ref,
            f"{len(plug.pins)} pins, {plug.title}",
            tuple(f"{pin.number} {pin.label}".strip() for pin in plug.pins),
        )
        for plug in board.connectors
    )


def _methods(session: JobSession) -> tuple[MethodView, ...]:
    chosen = session.state.method_for(session.state.part_in_hand)
    return tuple(
        MethodView(name, method.words, method.step, name == chosen)
        for name, method in methods_now(session).items()
    )


def _other_ways(session: JobSession, part: Component) -> str:
    """What else may be done with the part in hand, while nothing has begun."""
    ways = actions_for(mounting_of(part))
    begun = set(session.state.rework_done) - {OPEN}
    if len(ways) < 2 or begun or session.state.fitted_since_verdict(part.ref):
        return ""
    now = action_of(session, part.ref)
    others = " or ".join(action_words(way)[0] for way in ways if way is not now)
    return f" F9: {others}."


def _action(action: Action, last: bool) -> str:
    done = "Part fitted" if action is Action.REPLACE else "Work done"
    return f"{done}: go to power up" if last else f"{done}: next of the list"


def _steps(session: JobSession) -> tuple[ReworkStep, ...]:
    current, done = current_step(session), session.state.rework_done
    method = session.state.method_for(session.state.part_in_hand)
    about = f"part:{session.state.part_in_hand}"
    taken = sum(one.about == about for one in session.state.photos)
    found = []
    for step in repair_steps(session):
        status = "done" if step.key in done else "ahead"
        status = "current" if step == current else status
        how = f" ({method.replace('_', ' ')})" if step.key == REMOVE and method else ""
        if step.key == MARK:
            how = f" (Ctrl+G: {photographs(taken) if taken else 'none'} of it so far)"
        found.append(
            ReworkStep(key=step.key, text=step.text + how, caution=step.caution, status=status)
        )
    return tuple(found)


def _safety(session: JobSession) -> str:
    """What comes before the first step."""
    state = session.state
    if state.board_state.plugged:
        return "The record says it is plugged in. Pull the plug, then press U."
    if not state.state_known:
        return "The board's state was not confirmed. Pull the plug, then press U."
    charged = session.to_measure()
    if not charged:
        return ""
    what = reservoir_title(session.board, charged[0])
    wait = drain_wait(session.board, charged[0])[1]
    return f"Measure volts across {what}, at its own leads, and enter them. {wait}"


def _part_words(state: JobState, part: Component) -> str:
    words = ", ".join(filter(None, (part.ref, job_words(part))))
    new, offer = state.replacement, state.offer_for(part.ref)
    if offer is not None:
        words += f": {offer.offer}"
    elif new is not None and new.part == part.ref:
        words += f": {nominal(new.farads, 'F')} {nominal(new.volts, 'V')}, {new.celsius:g} °C"
    return words
