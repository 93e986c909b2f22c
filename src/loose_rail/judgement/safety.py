"""Safety as code: what must hold before a step may be offered or a reading accepted.

The rules say no; they never say that it is safe to touch: only a fresh measurement does. Local
rules and licensed practice come first.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board, Side
from loose_rail.boards.reservoirs import Reservoir, reservoirs_beside, reservoirs_of
from loose_rail.judgement.limits import limit
from loose_rail.judgement.over_voltage import OverVoltage
from loose_rail.kernel.quantities import engineering
from loose_rail.vocabulary.board_state import BoardState, Power
from loose_rail.vocabulary.roles import BoardRole

STORED_ENERGY = "stored_energy"
BRIGHT_LAMP = "The lamp was full bright: a short behind it."
BRIGHT_INSTEAD = (
    "The plug stays out until it is found on the dead board, or the bulk and each bridge diode "
    "have been read free of one."
)


@dataclass(frozen=True, slots=True)
class SafetyFacts:
    """What the record says about the board on the bench now.

    `bulk_volts` is the last bulk reading since the plug was pulled, None where there is none or it
    no longer counts; `volts` the same of other reservoirs, by part. `over_volts` is a reading that
    forbids power until what sets that voltage has been read; `bright_lamp` a lamp that was full
    bright, until the dead board has been read free of shorts; `barrier_ohms` the last reading
    between hot and cold ground, None where there is none; `pins_confirmed` is false where a jumper
    would go to pins that are known from typing alone; `has_lamp` whether this bench has one to put
    in line; `high_rail` why no other board may hang on this one now, empty where it may, and
    `high_rail_parts` what sets the volts of that rail.
    """

    state: BoardState
    bulk_volts: float | None
    primary_short_excluded: bool
    volts: Mapping[str, float] = field(default_factory=dict)
    state_known: bool = True
    acknowledged: bool = True
    over_volts: OverVoltage | None = None
    bright_lamp: bool = False
    barrier_ohms: float | None = None
    pins_confirmed: bool = True
    has_lamp: bool = True
    high_rail: str = ""
    high_rail_parts: tuple[str, ...] = ()


def jumper_pins(board: Board) -> str:
    """Both pins of the jumper by label and number: PS-ON (CN8 pin 9) and 5VSB (CN8 pin 7)."""
    wake = board.wake
    labels = {(c.ref, pin.number): pin.label for c in board.connectors for pin in c.pins}
    start = labels.get((wake.connector, wake.pin), "start")
    source = labels.get((wake.connector, wake.source_pin), "")
    other = f"{source} ({wake.connector} pin {wake.source_pin})" if source else "ground"
    if wake.sense == "low":
        grounds = [
            f"{pin.label} ({c.ref} pin {pin.number})"
            for c in board.connectors
            for pin in c.pins
            if c.ref == wake.connector and pin.net == board.cold_ground
        ]
        other = grounds[0] if grounds else "ground"
    return f"{start} ({wake.connector} pin {wake.pin}) and {other}"


@dataclass(frozen=True, slots=True)
class Refusal:
    """Why a step is refused, and what to do instead."""

    code: str
    sentence: str
    instead: str


def probe_refusals(board: Board, probe: Probe, facts: SafetyFacts) -> list[Refusal]:
    """Why this probe may not be read with the board as it is recorded; empty where it may."""
    refusals = acknowledgement_refusals(board, facts) + reference_refusals(board, probe)
    if not probe.meter:
        refusals.append(
            Refusal(
                "high_voltage",
                f"{probe.title}: no meter goes there, it can stand at kilovolts.",
                "Tell what is seen: a known good tube lights there, or nothing does.",
            )
        )
    if probe.mode.needs_dead_board:
        refusals += _dead_board_refusals(board, probe, facts)
    elif not facts.state.plugged:
        refusals.append(
            Refusal("unplugged", "The board is unplugged: it would read 0 V.", "Plug it in first.")
        )
    return refusals


def needs_acknowledgement(board: Board) -> bool:
    """Whether a set of this kind asks once for an acknowledgement: plasma sets, whose sustain
    supply holds a deadly charge on several rails."""
    return board.stage("sustain") is not None


def acknowledgement_refusals(board: Board, facts: SafetyFacts) -> list[Refusal]:
    """Nothing is done on a plasma board before its stored energy has been acknowledged."""
    if facts.acknowledged or not needs_acknowledgement(board):
        return []
    return [
        Refusal(
            "stored_energy",
            "What this plasma board stores has not been acknowledged in this job.",
            "Read the card and press B.",
        )
    ]


def _dead_board_refusals(board: Board, probe: Probe, facts: SafetyFacts) -> list[Refusal]:
    setting = probe.mode.label
    if facts.state.plugged:
        return [
            Refusal(
                "plugged_in",
                f"Never {setting} on a plugged-in board.",
                "Unplug it, wait for the drain timer and measure the bulk.",
            )
        ]
    if not facts.state_known:
        return [
            Refusal(
                "state_unknown",
                "The board's state has not been confirmed.",
                "Pull the plug and confirm it first.",
            )
        ]
    return charge_refusals(board, reservoirs_beside(board, probe.part), facts, setting)


def charge_refusals(
    board: Board, reservoirs: tuple[Reservoir, ...], facts: SafetyFacts, doing: str
) -> list[Refusal]:
    """Why `doing` something at these reservoirs has to wait: the first that was not measured, or
    still holds a charge."""
    for one in reservoirs:
        volts = volts_at(board, one, facts)
        name = reservoir_name(board, one)
        is_bulk = one.part == board.roles[BoardRole.BULK][0]
        if volts is None:
            return [
                Refusal(
                    "bulk_not_measured" if is_bulk else "reservoir_not_measured",
                    f"Before {doing} {name} must be measured, not assumed empty.",
                    "Measure the volts across it and enter them.",
                )
            ]
        if abs(volts) >= limit("drained_volts"):
            return [
                Refusal(
                    "bulk_charged" if is_bulk else "reservoir_charged",
                    f"{name[:1].upper()}{name[1:]} still holds {engineering(abs(volts), 'V')}.",
                    f"Drain it through a resistor to below {limit('drained_volts'):.0f} V, "
                    "then measure again.",
                )
            ]
    return []


def volts_at(board: Board, reservoir: Reservoir, facts: SafetyFacts) -> float | None:
    """What was measured at a reservoir since the plug was pulled, None where nothing counts."""
    if reservoir.part == board.roles[BoardRole.BULK][0]:
        return facts.bulk_volts
    return facts.volts.get(reservoir.part)


def reservoir_name(board: Board, reservoir: Reservoir) -> str:
    """A reservoir in words: the bulk capacitor, C403 (195 V reservoir)."""
    if reservoir.part == board.roles[BoardRole.BULK][0]:
        return "the bulk capacitor"
    duty = board.component(reservoir.part).duty
    return f"{reservoir.part} ({duty})" if duty else reservoir.part


def to_measure(board: Board, part: str, facts: SafetyFacts) -> tuple[Reservoir, ...]:
    """Reservoirs that must be measured empty before a hand or a dead-board reading goes to a part;
    with no part named, all of the board. On a plugged-in board that is every one of them."""
    wanted = reservoirs_beside(board, part) if part else reservoirs_of(board)
    if facts.state.plugged or not facts.state_known:
        return wanted
    return tuple(one for one in wanted if not _empty(volts_at(board, one, facts)))


def _empty(volts: float | None) -> bool:
    return volts is not None and abs(volts) < limit("drained_volts")


def reference_refusals(board: Board, probe: Probe) -> list[Refusal]:
    """Refuse a reference on the other side of the isolation barrier, the chassis above all.

    Under power only: on a dead and drained board the barrier itself is measured across.
    """
    plus, minus = board.net(probe.plus).side, board.net(probe.minus).side
    if plus is minus or not probe.live:
        return []
    wanted = "bulk minus" if plus is Side.HOT else "the output ground"
    return [
        Refusal(
            "wrong_reference",
            f"{probe.plus_words} lies on the {plus} side; {probe.minus_words} does not.",
            f"Put black on {wanted}. Chassis is never the reference for the hot side.",
        )
    ]


def state_refusals(board: Board, target: BoardState, facts: SafetyFacts) -> list[Refusal]:
    """Why the board may not be put into this state now; empty where it may.

    An external adapter limits its own current: the rule of the lamp is for the mains.
    """
    refusals: list[Refusal] = []
    if target.plugged and facts.over_volts is not None:
        stop = facts.over_volts
        refusals.append(Refusal("over_voltage", stop.sentence, stop.instead))
    if target.plugged and target.main_cable and facts.high_rail:
        refusals.append(
            Refusal(
                "high_rail",
                facts.high_rail,
                "Main cable off. Find what regulates it: divider, reference, optocoupler. A label "
                "that is wrong is corrected first.",
            )
        )
    barrier = facts.barrier_ohms
    if target.plugged and barrier is not None and barrier < limit("barrier_least_ohms"):
        refusals.append(
            Refusal(
                "barrier",
                f"Hot and cold side are joined by {engineering(barrier, 'Ω', 2)}: its outputs "
                "would be at mains.",
                "Find what bridges the barrier: Y capacitor, transformer, optocoupler, solder.",
            )
        )
    if target.lamp_watts and not facts.has_lamp:
        refusals.append(
            Refusal(
                "no_lamp",
                "This bench has no lamp to put in line.",
                "Read the dead primary free of shorts first: bulk and each bridge diode.",
            )
        )
    if target.plugged and facts.bright_lamp:
        refusals.append(Refusal("bright_lamp", BRIGHT_LAMP, BRIGHT_INSTEAD))
    unlimited = target.plugged and not target.lamp_watts and not board.adapter_fed
    if unlimited and not facts.primary_short_excluded:
        refusals.append(
            Refusal(
                "no_limiter",
                "A short on the primary side is not excluded yet.",
                "Power it through the lamp first and tell what the lamp does, or measure the bulk "
                "and each bridge diode for a short.",
            )
        )
    if target.power is Power.FORCED:
        if board.known_by == "pinout":
            refusals.append(
                Refusal(
                    "unproved_pins",
                    "This board is known by its printed pinout alone: no jumper on a guess.",
                    "Switch it on with the main board, or by the set's own key.",
                )
            )
        if not facts.pins_confirmed:
            refusals.append(
                Refusal(
                    "unconfirmed_pins",
                    f"The jumper's pins were typed, not looked at: {jumper_pins(board)}.",
                    "Look at the board, then confirm both (W).",
                )
            )
        if board.wake.sense == "unknown":
            refusals.append(
                Refusal(
                    "unknown_wake",
                    "The sense of its power-on signal (PS-ON) is not known: a wrong jumper does "
                    "harm.",
                    "Find the sense of PS-ON first (W).",
                )
            )
    forcing = {facts.state.power, target.power} & {Power.FORCED}
    if forcing and facts.state.plugged and target.plugged and facts.state.power != target.power:
        refusals.append(
            Refusal(
                "jumper_live",
                "A jumper is never fitted or taken off with the plug in.",
                "Pull the plug and confirm that first.",
            )
        )
    return refusals
