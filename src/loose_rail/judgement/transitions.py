"""From the board's recorded state to the one a step needs: instructions in order, with minutes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from loose_rail.boards.probes import Probe, boards_behind
from loose_rail.boards.profile import Board
from loose_rail.boards.reservoirs import Reservoir
from loose_rail.judgement.limiter import Limiter
from loose_rail.judgement.safety import jumper_pins, reservoir_name
from loose_rail.kernel.quantities import nominal
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, Power
from loose_rail.vocabulary.meter_mode import MeterMode
from loose_rail.vocabulary.roles import Job, role


@dataclass(frozen=True, slots=True)
class Instruction:
    """One thing a hand does. `measure` names a reservoir to be measured before going on."""

    text: str
    minutes: float
    caution: str = ""
    measure: str = ""


UNPLUG = Instruction("Unplug the board", 0.2)
DRAIN_MINUTES, FURTHER_MINUTES = 1.5, 0.7
"""For the first reservoir with its wait, and for each further one [E]."""


def drain_instruction(reservoir: Reservoir, name: str, first: bool = True) -> Instruction:
    """Wait, then measure a reservoir at its own leads."""
    return Instruction(
        f"Wait for the drain timer, then measure volts across {name}",
        DRAIN_MINUTES if first else FURTHER_MINUTES,
        "One hand, rated probes, insulated tool. It can hold a charge for minutes.",
        measure=reservoir.part,
    )


_CAUTIONS = {
    MeterMode.STRIP: "The tester gives up to 300 V: the lamps' plug off the board, its clips on, "
    "then switch it on. Never into the board.",
    MeterMode.TUBE: "The tester gives over a kilovolt: the tubes' plug off the inverter, its "
    "clips insulated and on, then switch it on. No hand and no meter there.",
}


def caution_at(board: Board, probe: Probe) -> str:
    """The usual caution of a reading on the dead board, by what it is read with and where; empty
    for none."""
    if probe.lifted:
        return "Hot iron. Lift the leg clear of its pad, and note which one it was."
    behind = boards_behind(board, probe)
    if behind:
        plugs = (ref for load in behind for ref in board.roles.get(role(load, Job.CONNECTOR), []))
        where = ", ".join(sorted(set(plugs)))
        return f"The boards behind this rail read along: their plugs off first ({where})."
    return _CAUTIONS.get(probe.mode, "")


def instructions(
    board: Board,
    now: BoardState,
    target: BoardState,
    charged: Sequence[Reservoir] = (),
    limiter: Limiter | None = None,
) -> tuple[Instruction, ...]:
    """What to do to go from `now` to `target`. `charged` are the reservoirs that must still be
    measured empty for the step at the end, `limiter` what stands in for the lamp of the state."""
    steps: list[Instruction] = []
    if target.power is Power.UNPLUGGED:
        if now.plugged:
            steps.append(UNPLUG)
        for number, one in enumerate(charged):
            steps.append(drain_instruction(one, reservoir_name(board, one), number == 0))
        return tuple(steps)
    if now == target:
        return ()
    if _only_switches_on(now, target):
        return (Instruction("Switch the set on with its own key or the remote", 0.3),)
    if now.plugged:
        steps.append(UNPLUG)
    steps += _rewire(board, now, target)
    steps.append(_plug_in(board, target, limiter))
    if target.power is Power.ON:
        steps.append(Instruction("Switch the set on with its own key or the remote", 0.3))
    return tuple(steps)


def _only_switches_on(now: BoardState, target: BoardState) -> bool:
    same = now.main_cable == target.main_cable and now.lamp_watts == target.lamp_watts
    same = same and now.without == target.without
    powers = {now.power, target.power}
    return same and powers == {Power.STANDBY, Power.ON}


def _rewire(board: Board, now: BoardState, target: BoardState) -> list[Instruction]:
    steps: list[Instruction] = []
    cable = board.connectors[0].ref
    if target.main_cable:
        steps.append(Instruction(f"Main cable on {cable}", 0.4))
    else:
        steps.append(Instruction(f"Main cable off {cable}, by the latch, not the wires", 0.4))
    if now.without and now.without != target.without:
        steps.append(Instruction(f"{_cable_of(board, now.without)} on again", 0.4))
    if target.without and target.without != now.without:
        where = _cable_of(board, target.without)
        steps.append(Instruction(f"{where} off, the main cable stays on", 0.5))
    jumper = jumper_words(board)
    if target.power is Power.FORCED:
        steps.append(
            Instruction(f"Fit the jumper {jumper}", 0.8, "With the plug out, pins counted twice.")
        )
    elif now.power is Power.FORCED:
        steps.append(Instruction(f"Take the jumper {jumper} off", 0.3))
    return steps


def _cable_of(board: Board, load: str) -> str:
    refs = " and ".join(board.roles.get(role(load, Job.CONNECTOR), []))
    return f"Cable {refs} to the {board.component(load).duty}"


def jumper_words(board: Board) -> str:
    """From which pin to which, by label and number, through what."""
    ohms = nominal(board.wake.series_ohms, "Ω")
    return f"{jumper_pins(board).replace(' and ', ' to ')} through {ohms}"


def _plug_in(board: Board, target: BoardState, limiter: Limiter | None) -> Instruction:
    if board.adapter_fed:
        return Instruction(
            "Plug the adapter in",
            0.3,
            "Low voltage here, mains inside the adapter: it stays closed.",
        )
    if target.lamp_watts:
        return _through(limiter or Limiter(float(target.lamp_watts)), board.mains.volts)
    return Instruction(
        "Plug in, directly on the mains",
        0.4,
        "The hot side is live: isolation transformer or residual-current device, one hand.",
    )


def _through(limiter: Limiter, mains_volts: float) -> Instruction:
    bears = limiter.bears_seconds(mains_volts)
    if bears is None:
        return Instruction(
            f"Plug in through the {limiter.words}",
            0.5,
            f"A filament lamp for {limiter.volts or mains_volts:g} V, no LED. "
            "The hot side is live: nothing touches it but the probes.",
        )
    return Instruction(
        f"Plug in through the {limiter.words} in the fuse's place, a fuse in series",
        0.5,
        f"Behind it a short takes {limiter.short_watts(mains_volts):.0f} W: it bears that for "
        f"{bears:.1f} s. It stands on the mains and passes 250 °C: never touch it. Hand on the "
        "plug.",
    )


def minutes_between(board: Board, now: BoardState, target: BoardState, charged: int = 0) -> float:
    """Bench minutes of the instructions, with so many reservoirs still to be measured."""
    minutes = sum(step.minutes for step in instructions(board, now, target))
    if target.power is Power.UNPLUGGED and charged:
        minutes += DRAIN_MINUTES + (charged - 1) * FURTHER_MINUTES
    return minutes


def by_way_of(now: BoardState, target: BoardState) -> BoardState:
    """The state to confirm on the way to another: pulling the plug comes first, and is confirmed by
    itself, where a jumper is fitted or taken off."""
    forcing = {now.power, target.power} & {Power.FORCED}
    if forcing and now.plugged and target.plugged and now.power is not target.power:
        return UNPLUGGED
    return target
