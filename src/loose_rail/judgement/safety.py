"""Safety as code: what must hold before a step may be offered or a reading accepted.

The rules say no; they never say that it is safe to touch: only a fresh measurement does. Local
rules and licensed practice come first.
"""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board, Side
from loose_rail.judgement.limits import limit
from loose_rail.kernel.quantities import engineering
from loose_rail.live.board_state import BoardState, Power


@dataclass(frozen=True, slots=True)
class SafetyFacts:
    """What the record says about the board on the bench now.

    `bulk_volts` is the last bulk reading since the plug was pulled, None where there is none.
    """

    state: BoardState
    bulk_volts: float | None
    primary_short_excluded: bool


@dataclass(frozen=True, slots=True)
class Refusal:
    """Why a step is refused, and what to do instead."""

    code: str
    sentence: str
    instead: str


def probe_refusals(board: Board, probe: Probe, facts: SafetyFacts) -> list[Refusal]:
    """Why this probe may not be read with the board as it is recorded; empty where it may."""
    refusals = reference_refusals(board, probe)
    if probe.mode.needs_dead_board:
        refusals += _dead_board_refusals(probe, facts)
    elif not facts.state.plugged:
        refusals.append(
            Refusal("unplugged", "The board is unplugged: it would read 0 V.", "Plug it in first.")
        )
    return refusals


def _dead_board_refusals(probe: Probe, facts: SafetyFacts) -> list[Refusal]:
    setting = probe.mode.words
    if facts.state.plugged:
        return [
            Refusal(
                "plugged_in",
                f"Never {setting} on a plugged-in board.",
                "Unplug it, wait for the drain timer and measure the bulk.",
            )
        ]
    if facts.bulk_volts is None:
        return [
            Refusal(
                "bulk_not_measured",
                f"Before {setting} the bulk capacitor must be measured, not assumed empty.",
                "Measure the volts across it and enter them.",
            )
        ]
    if abs(facts.bulk_volts) >= limit("drained_volts"):
        return [
            Refusal(
                "bulk_charged",
                f"The bulk capacitor still holds {engineering(abs(facts.bulk_volts), 'V')}.",
                f"Drain it through a resistor to below {limit('drained_volts'):.0f} V, "
                "then measure again.",
            )
        ]
    return []


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
    unlimited = target.plugged and not target.lamp_watts and not board.adapter_fed
    if unlimited and not facts.primary_short_excluded:
        refusals.append(
            Refusal(
                "no_limiter",
                "A short on the primary side is not excluded yet.",
                "Power it through the lamp first, or measure the bulk for a short.",
            )
        )
    if target.power is Power.FORCED:
        if board.wake.sense == "unknown":
            refusals.append(
                Refusal(
                    "unknown_wake",
                    "How this board is woken is not known: a wrong jumper does harm.",
                    "Find the sense of the start pin first.",
                )
            )
        if facts.state.plugged and facts.state.power is not Power.FORCED:
            refusals.append(
                Refusal(
                    "jumper_live", "A jumper is never fitted with the plug in.", "Unplug first."
                )
            )
    return refusals
